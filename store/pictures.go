package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"time"

	"github.com/jmoiron/sqlx"
)

// Picture is what was painted on a tile of a map, without its bytes.
type Picture struct {
	ID         int64     `db:"id" json:"id"`
	DocumentID int64     `db:"document_id" json:"-"`
	Map        int32     `db:"map" json:"map"`
	Tile       int       `db:"tile" json:"tile"` // from 0
	Name       string    `db:"name" json:"name"`
	SHA256     string    `db:"sha256" json:"sha256"`
	Media      string    `db:"media" json:"-"`
	Width      int       `db:"width" json:"width"`
	Height     int       `db:"height" json:"height"`
	CreatedAt  time.Time `db:"created_at" json:"-"`
}

const selectPicture = `select id, document_id, map, tile, name, sha256, media, width, height, created_at from pictures `

// KeepPicture stores what was painted in place of what was there. The same picture again changes
// nothing; fresh tells whether it is another one.
func (s *Store) KeepPicture(ctx context.Context, p Picture, data []byte) (kept Picture, err error) {
	sum := sha256.Sum256(data)
	p.SHA256 = hex.EncodeToString(sum[:])
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		was := tx.GetContext(ctx, &kept, selectPicture+`where document_id = $1 and map = $2 and tile = $3 for update`, p.DocumentID, p.Map, p.Tile)
		if was == nil && kept.SHA256 == p.SHA256 {
			return nil
		}
		if err := found(was); was != nil && err != ErrNotFound {
			return err
		}
		if _, err := tx.ExecContext(ctx, `delete from pictures where document_id = $1 and map = $2 and tile = $3`, p.DocumentID, p.Map, p.Tile); err != nil {
			return err
		}
		return tx.GetContext(ctx, &kept, `insert into pictures (document_id, map, tile, name, sha256, media, width, height, data) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
			returning id, document_id, map, tile, name, sha256, media, width, height, created_at`, p.DocumentID, p.Map, p.Tile, p.Name, p.SHA256, p.Media, p.Width, p.Height, data)
	})
	return kept, err
}

// Pictures lists what was painted on a map, by tile.
func (s *Store) Pictures(ctx context.Context, document int64, of int32) ([]Picture, error) {
	out := []Picture{}
	err := s.db.SelectContext(ctx, &out, selectPicture+`where document_id = $1 and map = $2 order by tile`, document, of)
	return out, err
}

// AllPictures lists what was painted on all maps of a document.
func (s *Store) AllPictures(ctx context.Context, document int64) ([]Picture, error) {
	out := []Picture{}
	err := s.db.SelectContext(ctx, &out, selectPicture+`where document_id = $1 order by map, tile`, document)
	return out, err
}

// Picture returns one with its bytes.
func (s *Store) Picture(ctx context.Context, id int64) (p Picture, data []byte, err error) {
	if err := s.db.GetContext(ctx, &p, selectPicture+`where id = $1`, id); err != nil {
		return p, nil, found(err)
	}
	err = s.db.GetContext(ctx, &data, `select data from pictures where id = $1`, id)
	return p, data, found(err)
}

// DropPicture takes what was painted away.
func (s *Store) DropPicture(ctx context.Context, document, id int64) error {
	return s.one(ctx, `delete from pictures where document_id = $1 and id = $2`, document, id)
}

// CopyPictures gives a map what was painted on another one.
func (s *Store) CopyPictures(ctx context.Context, from int64, fromMap int32, to int64, toMap int32) error {
	_, err := s.db.ExecContext(ctx, `insert into pictures (document_id, map, tile, name, sha256, media, width, height, data)
		select $3, $4, tile, name, sha256, media, width, height, data from pictures where document_id = $1 and map = $2
		on conflict (document_id, map, tile) do nothing`, from, fromMap, to, toMap)
	return err
}
