package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// EndHistory forgets the worklog of a document for good: what was done can neither be undone nor looked at any
// more. It stays as it is, state, and states that have a name stay. ErrStale if base has passed, ErrBusy while long
// work is under way, which may need the worklog, ErrNothing if there is none.
func (s *Store) EndHistory(ctx context.Context, id, base int64, who string, state []byte) (Document, error) {
	return s.changing(ctx, id, base, func(tx *sqlx.Tx, _ position) (now change, err error) {
		var busy bool
		if err := tx.GetContext(ctx, &busy, `select exists (select from works where document_id = $1 and `+active+`)`, id); err != nil {
			return now, err
		}
		if busy {
			return now, ErrBusy
		}
		res, err := tx.ExecContext(ctx, `delete from edits where document_id = $1`, id)
		if err != nil {
			return now, err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return now, ErrNothing
		}
		if _, err := tx.ExecContext(ctx, `update moments set seq = null where document_id = $1`, id); err != nil {
			return now, err
		}
		_, err = tx.ExecContext(ctx, `update documents set snapshot = $2, snapshot_seq = 0 where id = $1`, id, s.pack(state))
		return change{who: who, says: "forgets what was done before"}, err
	})
}
