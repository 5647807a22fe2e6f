package store

import (
	"context"
	"database/sql/driver"
	"encoding/json"

	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
)

// Change tells that a document is another than before.
type Change struct {
	Document int64  `json:"document"`
	Revision int64  `json:"revision"` // it has now
	Who      string `json:"who"`      // "" where nobody said
	Says     string `json:"says"`
}

// channel is where changes are told, to every server on the database.
const channel = "morvek_changes"

// longestSaid bounds what is told of a change, in letters: PostgreSQL carries 8000 bytes.
const longestSaid = 300

// tell tells of a change once its transaction is through.
func tell(ctx context.Context, tx *sqlx.Tx, c Change) error {
	if r := []rune(c.Says); len(r) > longestSaid {
		c.Says = string(r[:longestSaid]) + " …"
	}
	b, err := json.Marshal(c)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `select pg_notify($1, $2)`, channel, string(b))
	return err
}

// Listen hears of the changes of all documents until the connection breaks or ctx ends; it always
// returns an error. begun is called when it begins to hear: what was before is not told.
func (s *Store) Listen(ctx context.Context, begun func(), heard func(Change)) error {
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return err
	}
	defer conn.Close() //nolint:errcheck // it is of no use to anybody after this
	var ended error
	err = conn.Raw(func(c any) error {
		pg := c.(*stdlib.Conn).Conn()
		if _, ended = pg.Exec(ctx, "listen "+channel); ended != nil {
			return driver.ErrBadConn
		}
		begun()
		for {
			n, err := pg.WaitForNotification(ctx)
			if err != nil {
				ended = err
				return driver.ErrBadConn // it goes on listening: nobody else may have it
			}
			var told Change
			if json.Unmarshal([]byte(n.Payload), &told) == nil {
				heard(told)
			}
		}
	})
	if ended != nil {
		return ended
	}
	return err
}
