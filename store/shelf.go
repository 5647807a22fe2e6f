package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"
)

// Keep is how long what was deleted can be brought back.
const Keep = 30 * 24 * time.Hour

// Stand is where something stands: in use, put away, or deleted.
type Stand string

// The stands.
const (
	InUse   Stand = "in use"
	PutAway Stand = "archived"
	Gone    Stand = "deleted"
)

const stand = `case when deleted_at is not null then 'deleted' when archived_at is not null then 'archived' else 'in use' end`

func (s Stand) set() string {
	switch s {
	case PutAway:
		return `archived_at = now(), deleted_at = null`
	case Gone:
		return `deleted_at = now()`
	}
	return `archived_at = null, deleted_at = null`
}

// RenameProject gives a project another title.
func (s *Store) RenameProject(ctx context.Context, id int64, title string) error {
	return s.one(ctx, `update projects set title = $2 where id = $1`, id, title)
}

// PlaceProject puts a project away, deletes it with all its documents, or takes it back.
func (s *Store) PlaceProject(ctx context.Context, id int64, to Stand) error {
	return s.one(ctx, `update projects set `+to.set()+` where id = $1`, id)
}

// RenameDocument gives a document another title.
func (s *Store) RenameDocument(ctx context.Context, id int64, title string) error {
	return s.one(ctx, `update documents set title = $2 where id = $1`, id, title)
}

// PlaceDocument puts a document away, deletes it, or takes it back.
func (s *Store) PlaceDocument(ctx context.Context, id int64, to Stand) error {
	return s.one(ctx, `update documents set `+to.set()+` where id = $1`, id)
}

// MoveDocument moves a document to another project; ErrNotFound if one of them is not there.
func (s *Store) MoveDocument(ctx context.Context, id, project int64) error {
	return s.one(ctx, `update documents set project_id = $2 where id = $1 and exists (select from projects where id = $2 and deleted_at is null)`, id, project)
}

// DuplicateDocument makes a document that is what another is now, with its worklog, its named states
// and what was painted on it.
func (s *Store) DuplicateDocument(ctx context.Context, id int64, title string) (copy int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `set transaction isolation level repeatable read`); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &copy, `insert into documents (project_id, model_hash, file_name, title, about, revision, head, snapshot, snapshot_seq)
			select project_id, model_hash, file_name, $2, about, revision, head, snapshot, snapshot_seq from documents where id = $1 and deleted_at is null returning id`, id, title); err != nil {
			return found(err)
		}
		for _, q := range []string{
			`insert into edits (document_id, seq, kind, params, label, delta, at, key, map, who) select $2, seq, kind, params, label, delta, at, key, map, who from edits where document_id = $1`,
			`insert into moments (document_id, name, seq, map, who, state, at) select $2, name, seq, map, who, state, at from moments where document_id = $1`,
			`insert into pictures (document_id, map, tile, name, sha256, media, width, height, data, created_at) select $2, map, tile, name, sha256, media, width, height, data, created_at from pictures where document_id = $1`,
			`insert into covers (document_id, revision, model, sheet, parts, shells, findings, open, coverage) select $2, revision, model, sheet, parts, shells, findings, open, coverage from covers where document_id = $1`,
		} {
			if _, err := tx.ExecContext(ctx, q, id, copy); err != nil {
				return err
			}
		}
		return nil
	})
	return copy, err
}

// Shelved is a document as it stands on the shelf.
type Shelved struct {
	Document
	Stand     Stand      `db:"stand"`
	DeletedAt *time.Time `db:"deleted_at"`
	Bytes     int64      `db:"bytes"` // of its file, as it is kept
	Cover     *int64     `db:"cover"` // the revision that its cover is of; nil: there is none
	Parts     int        `db:"parts"`
	Shells    int        `db:"shells"`
	Findings  int        `db:"findings"`
	Open      int        `db:"open"`
	Coverage  float64    `db:"coverage"`
}

// Until is when a document that was deleted cannot be brought back any more.
func (d Shelved) Until() time.Time {
	if d.DeletedAt == nil {
		return time.Time{}
	}
	return d.DeletedAt.Add(Keep)
}

// Fresh tells whether its cover is that of the document as it is.
func (d Shelved) Fresh() bool { return d.Cover != nil && *d.Cover == d.Revision }

// Shelf lists the documents of a project, those put away and deleted included, in order of their making.
func (s *Store) Shelf(ctx context.Context, project int64) ([]Shelved, error) {
	var out []Shelved
	err := s.db.SelectContext(ctx, &out, `select q.*, c.revision as cover, coalesce(c.parts, 0) as parts, coalesce(c.shells, 0) as shells, coalesce(c.findings, 0) as findings, coalesce(c.open, 0) as open, coalesce(c.coverage, 0) as coverage
		from (`+documentColumns+`, `+stand+` as stand, d.deleted_at, coalesce(octet_length(m.source), 0) as bytes from documents d join models m on m.hash = d.model_hash where d.project_id = $1) q
		left join covers c on c.document_id = q.id order by q.id`, project)
	return out, err
}

// Standing is what a document is called and where it stands, deleted or not.
func (s *Store) Standing(ctx context.Context, id int64) (title string, at Stand, err error) {
	var row struct {
		Title string `db:"title"`
		Stand Stand  `db:"stand"`
	}
	err = s.db.GetContext(ctx, &row, `select title, `+stand+` as stand from documents where id = $1`, id)
	return row.Title, row.Stand, found(err)
}

// Purge forgets for good what was deleted longer ago than after, as a rule Keep, and models as old that
// nothing is made of.
func (s *Store) Purge(ctx context.Context, after time.Duration) error {
	for _, q := range []string{
		`delete from projects where deleted_at < now() - make_interval(secs => $1)`,
		`delete from documents where deleted_at < now() - make_interval(secs => $1)`,
		`delete from models m where created_at < now() - make_interval(secs => $1) and not exists (select from documents where model_hash = m.hash) and not exists (select from models o where o.repaired_from = m.hash)`,
	} {
		if _, err := s.db.ExecContext(ctx, q, after.Seconds()); err != nil {
			return err
		}
	}
	_, err := s.db.ExecContext(ctx, `delete from sessions where expiry < now()`)
	return err
}
