package store

import (
	"context"

	"github.com/jmoiron/sqlx"
)

// Cloth is a picture that is laid on models of a project to look at them, without its bytes.
type Cloth struct {
	ID     int64  `db:"id" json:"id"`
	Name   string `db:"name" json:"name"`
	Media  string `db:"media" json:"-"`
	Width  int    `db:"width" json:"width"`
	Height int    `db:"height" json:"height"`
}

// Cloths lists those of a project by name.
func (s *Store) Cloths(ctx context.Context, project int64) ([]Cloth, error) {
	out := []Cloth{}
	err := s.db.SelectContext(ctx, &out, `select id, name, media, width, height from cloths where project_id = $1 order by name`, project)
	return out, err
}

// KeepCloth stores a picture under its name, in place of one that had it.
func (s *Store) KeepCloth(ctx context.Context, project int64, c Cloth, data []byte) (Cloth, error) {
	var kept Cloth
	err := s.inTx(ctx, func(tx *sqlx.Tx) error { // with another number, since a picture of a number never changes
		if _, err := tx.ExecContext(ctx, `delete from cloths where project_id = $1 and name = $2`, project, c.Name); err != nil {
			return err
		}
		return tx.GetContext(ctx, &kept, `insert into cloths (project_id, name, media, width, height, data) values ($1, $2, $3, $4, $5, $6)
			returning id, name, media, width, height`, project, c.Name, c.Media, c.Width, c.Height, data)
	})
	return kept, err
}

// Cloth returns one with its bytes.
func (s *Store) Cloth(ctx context.Context, id int64) (c Cloth, data []byte, err error) {
	if err := s.db.GetContext(ctx, &c, `select id, name, media, width, height from cloths where id = $1`, id); err != nil {
		return c, nil, found(err)
	}
	err = s.db.GetContext(ctx, &data, `select data from cloths where id = $1`, id)
	return c, data, found(err)
}

// DropCloth forgets one of a project; ErrNotFound if there is none.
func (s *Store) DropCloth(ctx context.Context, project, id int64) error {
	return s.one(ctx, `delete from cloths where project_id = $1 and id = $2`, project, id)
}
