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
	Map    int32           `db:"map"` // it was made of
	Delta  []byte          `db:"delta"`
	Who    string          `db:"who"` // made it, "" where nobody said
	Key    string          `db:"-"`   // what whoever made it calls it, none: it is not sent again
}

// By is whose an edit is, and what they call it: sent again with the same key it is made once.
type By struct{ Key, Who string }

// Stored is a document's state as kept: a snapshot and the deltas between it
// and the head, in the order they have to be applied.
type Stored struct {
	Document
	Snapshot []byte
	Deltas   [][]byte
	Back     bool // the deltas lead backwards: undo them
}

// snapshotEvery is after how many edits the state is stored whole, snapshotMost how many
// deltas opening a document may have to apply.
const (
	snapshotEvery = 48
	snapshotMost  = 96
)

// WantsSnapshot tells whether KeepSnapshot should be called.
func (d Document) WantsSnapshot() bool { return d.Head-d.Snapshot >= snapshotEvery }

// KeepSnapshot stores the state of a document whole, if it is still at the given revision: it
// saves whoever opens it the deltas so far.
func (s *Store) KeepSnapshot(ctx context.Context, d Document, state []byte) error {
	_, err := s.db.ExecContext(ctx, `update documents set snapshot = $3, snapshot_seq = head where id = $1 and revision = $2`, d.ID, d.Revision, s.pack(state))
	return err
}

// Now is the head of a worklog, wherever that is.
const Now = -1

// Load returns what is needed to rebuild the state of a document as it is.
func (s *Store) Load(ctx context.Context, id int64) (Stored, error) { return s.LoadAt(ctx, id, Now) }

// LoadAt returns what is needed to rebuild the state of a document as it was after the first seq edits
// of its worklog; ErrNotFound for more than there are.
func (s *Store) LoadAt(ctx context.Context, id int64, seq int) (Stored, error) {
	var out Stored
	err := s.inTx(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `set transaction isolation level repeatable read`); err != nil {
			return err
		}
		if err := tx.GetContext(ctx, &out.Document, selectDocument+`where d.id = $1`, id); err != nil {
			return found(err)
		}
		if seq == Now {
			seq = out.Head
		}
		if seq < 0 || seq > out.Head {
			return ErrNotFound
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
		lo, hi, order := row.Seq, seq, "asc"
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

// position is where a document stands, locked for a change.
type position struct {
	Revision int64 `db:"revision"`
	Head     int   `db:"head"`
	Snap     int   `db:"snapshot_seq"`
	Undone   bool  `db:"undone"` // there is something to redo
}

// change is what became of a document: the head of its worklog, and what is told of it.
type change struct {
	head      int
	who, says string
}

// changing calls do with the locked row of a document if its revision is still base,
// otherwise it returns ErrStale. It returns the document as that transaction left it, and tells
// whoever listens.
func (s *Store) changing(ctx context.Context, id, base int64, do func(tx *sqlx.Tx, at position) (change, error)) (d Document, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		var at position
		if err := tx.GetContext(ctx, &at, `select revision, head, snapshot_seq, exists (select from edits e where e.document_id = d.id and e.seq > d.head) as undone
			from documents d where id = $1 for update`, id); err != nil {
			return found(err)
		}
		if at.Revision != base {
			return ErrStale
		}
		now, err := do(tx, at)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `update documents set revision = revision + 1, head = $2, changed_at = now() where id = $1`, id, now.head); err != nil {
			return err
		}
		if err := tell(ctx, tx, Change{Document: id, Revision: base + 1, Who: now.who, Says: now.says}); err != nil {
			return err
		}
		return tx.GetContext(ctx, &d, selectDocument+`where d.id = $1`, id)
	})
	return d, err
}

// Append adds edits after the head in one transaction and drops what could be
// redone. base is the revision the edits were made on; ErrStale if it has
// passed. snapshot is the state after the edits; it is stored where opening would take too long
// otherwise, see WantsSnapshot.
// It returns the document as that transaction left it.
func (s *Store) Append(ctx context.Context, id, base int64, edits []Edit, snapshot func() ([]byte, error)) (Document, error) {
	return s.changing(ctx, id, base, func(tx *sqlx.Tx, at position) (now change, err error) {
		if at.Undone {
			if _, err := tx.ExecContext(ctx, `delete from edits where document_id = $1 and seq > $2`, id, at.Head); err != nil {
				return now, err
			}
			if _, err := tx.ExecContext(ctx, `update moments set seq = null where document_id = $1 and seq > $2`, id, at.Head); err != nil {
				return now, err
			}
		}
		if err := s.insertEdits(ctx, tx, id, at.Head, edits); err != nil {
			return now, err
		}
		last := edits[len(edits)-1]
		head := at.Head + len(edits)
		if at.Snap > at.Head || head-at.Snap >= snapshotMost {
			b, err := snapshot()
			if err != nil {
				return now, err
			}
			if _, err := tx.ExecContext(ctx, `update documents set snapshot = $2, snapshot_seq = $3 where id = $1`, id, s.pack(b), head); err != nil {
				return now, err
			}
		}
		return change{head, last.Who, last.Label}, nil
	})
}

func (s *Store) insertEdits(ctx context.Context, tx *sqlx.Tx, id int64, after int, edits []Edit) error {
	for i, e := range edits {
		if _, err := tx.ExecContext(ctx, `insert into edits (document_id, seq, kind, params, label, delta, key, map, who) values ($1, $2, $3, $4, $5, $6, nullif($7, ''), $8, $9)`,
			id, after+1+i, e.Kind, string(e.Params), e.Label, s.pack(e.Delta), e.Key, e.Map, e.Who); err != nil {
			return err
		}
	}
	return nil
}

// Made tells whether an edit with a key is in the worklog of a document.
func (s *Store) Made(ctx context.Context, id int64, key string) (is bool, err error) {
	if key == "" {
		return false, nil
	}
	err = s.db.GetContext(ctx, &is, `select exists (select from edits where document_id = $1 and key = $2)`, id, key)
	return is, err
}

// Undo moves the head one edit back and returns that edit and the document after it;
// Redo one forward. who does it is told to whoever listens.
func (s *Store) Undo(ctx context.Context, id, base int64, who string) (Edit, Document, error) {
	return s.step(ctx, id, base, who, -1)
}

// Redo moves the head one edit forward and returns that edit and the document after it.
func (s *Store) Redo(ctx context.Context, id, base int64, who string) (Edit, Document, error) {
	return s.step(ctx, id, base, who, 1)
}

func (s *Store) step(ctx context.Context, id, base int64, who string, dir int) (e Edit, d Document, err error) {
	d, err = s.changing(ctx, id, base, func(tx *sqlx.Tx, at position) (now change, err error) {
		seq, did := at.Head, "took back: "
		if dir > 0 {
			seq, did = seq+1, "did again: "
		}
		if err := tx.GetContext(ctx, &e, `select seq, kind, params, label, at, map, who, delta from edits where document_id = $1 and seq = $2`, id, seq); err != nil {
			if found(err) == ErrNotFound {
				return now, ErrNothing
			}
			return now, err
		}
		e.Delta, err = s.unpack(e.Delta)
		return change{at.Head + dir, who, did + e.Label}, err
	})
	return e, d, err
}

// Label is what an edit of the worklog of a document is called.
func (s *Store) Label(ctx context.Context, id int64, seq int) (label string, err error) {
	err = s.db.GetContext(ctx, &label, `select label from edits where document_id = $1 and seq = $2`, id, seq)
	return label, found(err)
}

// Worklog lists the edits of a document, the newest first, those that can be
// redone included (seq > head).
func (s *Store) Worklog(ctx context.Context, id int64) ([]Edit, error) {
	var out []Edit
	err := s.db.SelectContext(ctx, &out, `select seq, kind, params, label, at, map, who from edits where document_id = $1 order by seq desc limit 500`, id)
	return out, err
}
