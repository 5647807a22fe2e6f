package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"
)

// Delivery is something that was handed over, without its bytes.
type Delivery struct {
	ID         int64           `db:"id"`
	DocumentID int64           `db:"document_id"`
	WorkID     *int64          `db:"work_id"`
	Revision   int64           `db:"revision"`
	FileName   string          `db:"file_name"`
	Asked      json.RawMessage `db:"asked"`
	Files      json.RawMessage `db:"files"`
	Bytes      int             `db:"bytes"`
	CreatedAt  time.Time       `db:"created_at"`
}

// keepDeliveries is how many are kept of a document.
const keepDeliveries = 12

// KeepDelivery stores what a work made, once, and drops the oldest of many.
func (s *Store) KeepDelivery(ctx context.Context, d Delivery, data []byte) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `insert into deliveries (document_id, work_id, revision, file_name, asked, files, bytes, data) values ($1, $2, $3, $4, $5, $6, $7, $8)
			on conflict (work_id) do nothing`, d.DocumentID, d.WorkID, d.Revision, d.FileName, string(d.Asked), string(d.Files), len(data), data); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `delete from deliveries where document_id = $1 and id not in
			(select id from deliveries where document_id = $1 order by id desc limit $2)`, d.DocumentID, keepDeliveries)
		return err
	})
}

const selectDelivery = `select id, document_id, work_id, revision, file_name, asked, files, bytes, created_at from deliveries `

// Deliveries lists those of a document, the newest first.
func (s *Store) Deliveries(ctx context.Context, document int64) ([]Delivery, error) {
	var out []Delivery
	err := s.db.SelectContext(ctx, &out, selectDelivery+`where document_id = $1 order by id desc`, document)
	return out, err
}

// Delivery returns one with its bytes.
func (s *Store) Delivery(ctx context.Context, id int64) (d Delivery, data []byte, err error) {
	if err := s.db.GetContext(ctx, &d, selectDelivery+`where id = $1`, id); err != nil {
		return d, nil, found(err)
	}
	err = s.db.GetContext(ctx, &data, `select data from deliveries where id = $1`, id)
	return d, data, found(err)
}

// DeliveryOf returns the one that a work made, without its bytes.
func (s *Store) DeliveryOf(ctx context.Context, work int64) (d Delivery, err error) {
	err = s.db.GetContext(ctx, &d, selectDelivery+`where work_id = $1`, work)
	return d, found(err)
}
