package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"
)

// Edit is one entry of the worklog.
type Edit struct {
	Seq    int             `db:"seq"`
	Kind   string          `db:"kind"`
	Params json.RawMessage `db:"params"`
	Label  string          `db:"label"`
	At     time.Time       `db:"at"`
	Delta  []byte          `db:"delta"`
}

// Stored is a document's state as kept: a snapshot and the deltas between it
// and the head, in the order they have to be applied.
type Stored struct {
	Document
	Snapshot []byte
	Deltas   [][]byte
	Back     bool // the deltas lead backwards: undo them
}

// snapshotEvery bounds how many deltas opening a document has to apply.
const snapshotEvery = 24

// Load returns what is needed to rebuild the state of a document.
func (s *Store) Load(ctx context.Context, id int64) (Stored, error) {
	var out Stored
	err := s.inTx(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `set transaction isolation level repeatable read`); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &out.Document, selectDocument+`where d.id = $1`, id); err != nil {
			return found(err)
		}
		var row struct {
			Snapshot []byte `db:"snapshot"`
			Seq      int    `db:"snapshot_seq"`
		}
		if err := tx.GetContext(ctx, &row, `select snapshot, snapshot_seq from documents where id = $1`, id); err != nil {
			return err
		}
		var err error
		if out.Snapshot, err = s.unpack(row.Snapshot); err != nil {
			return err
		}
		lo, hi, order := row.Seq, out.Head, "asc"
		if out.Back = hi < lo; out.Back {
			lo, hi, order = hi, lo, "desc"
		}
		var deltas [][]byte
		if err := tx.SelectContext(ctx, &deltas, `select delta from edits where document_id = $1 and seq > $2 and seq <= $3 order by seq `+order, id, lo, hi); err != nil {
			return err
		}
		for _, d := range deltas {
			b, err := s.unpack(d)
			if err != nil {
				return err
			}
			out.Deltas = append(out.Deltas, b)
		}
		return nil
	})
	return out, err
}

// Append adds edits after the head in one transaction and drops what could be
// redone. base is the revision the edits were made on; ErrStale if it has
// passed. snapshot is the state after the edits; it is stored now and then.
func (s *Store) Append(ctx context.Context, id, base int64, edits []Edit, snapshot func() ([]byte, error)) (revision int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		var row struct {
			Revision int64 `db:"revision"`
			Head     int   `db:"head"`
			Snap     int   `db:"snapshot_seq"`
		}
		if err := tx.GetContext(ctx, &row, `select revision, head, snapshot_seq from documents where id = $1 for update`, id); err != nil {
			return found(err)
		}
		if row.Revision != base {
			return ErrStale
		}
		if _, err := tx.ExecContext(ctx, `delete from edits where document_id = $1 and seq > $2`, id, row.Head); err != nil {
			return err
		}
		for i, e := range edits {
			if _, err := tx.ExecContext(ctx, `insert into edits (document_id, seq, kind, params, label, delta) values ($1, $2, $3, $4, $5, $6)`,
				id, row.Head+1+i, e.Kind, string(e.Params), e.Label, s.pack(e.Delta)); err != nil {
				return err
			}
		}
		head := row.Head + len(edits)
		revision = row.Revision + 1
		if row.Snap > row.Head || head-row.Snap >= snapshotEvery {
			b, err := snapshot()
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `update documents set snapshot = $2, snapshot_seq = $3 where id = $1`, id, s.pack(b), head); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `update documents set revision = $2, head = $3, changed_at = now() where id = $1`, id, revision, head)
		return err
	})
	return revision, err
}

// Undo moves the head one edit back and returns that edit; Redo one forward.
func (s *Store) Undo(ctx context.Context, id, base int64) (Edit, int64, error) {
	return s.step(ctx, id, base, -1)
}

// Redo moves the head one edit forward and returns that edit.
func (s *Store) Redo(ctx context.Context, id, base int64) (Edit, int64, error) {
	return s.step(ctx, id, base, 1)
}

func (s *Store) step(ctx context.Context, id, base int64, dir int) (e Edit, revision int64, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		var row struct {
			Revision int64 `db:"revision"`
			Head     int   `db:"head"`
		}
		if err := tx.GetContext(ctx, &row, `select revision, head from documents where id = $1 for update`, id); err != nil {
			return found(err)
		}
		if row.Revision != base {
			return ErrStale
		}
		seq := row.Head
		if dir > 0 {
			seq++
		}
		if err := tx.GetContext(ctx, &e, `select seq, kind, params, label, at, delta from edits where document_id = $1 and seq = $2`, id, seq); err != nil {
			if found(err) == ErrNotFound {
				return ErrNothing
			}
			return err
		}
		if e.Delta, err = s.unpack(e.Delta); err != nil {
			return err
		}
		revision = row.Revision + 1
		_, err := tx.ExecContext(ctx, `update documents set revision = $2, head = $3, changed_at = now() where id = $1`, id, revision, row.Head+dir)
		return err
	})
	return e, revision, err
}

// Worklog lists the edits of a document, the newest first, those that can be
// redone included (seq > head).
func (s *Store) Worklog(ctx context.Context, id int64) ([]Edit, error) {
	var out []Edit
	err := s.db.SelectContext(ctx, &out, `select seq, kind, params, label, at from edits where document_id = $1 order by seq desc limit 500`, id)
	return out, err
}
