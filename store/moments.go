package store

import (
	"context"
	"errors"
	"time"
)

// Moment is a state of a document that has a name.
type Moment struct {
	ID   int64     `db:"id"`
	Name string    `db:"name"`
	Seq  *int      `db:"seq"` // of the edit after which it was; nil: that is gone
	Map  int32     `db:"map"`
	Who  string    `db:"who"`
	At   time.Time `db:"at"`
}

// ErrTaken is returned for a name that another has.
var ErrTaken = errors.New("the name is taken")

// KeepMoment gives a state of a document a name; seq is the edit after which it was, and state all of
// it. ErrTaken if another has it.
func (s *Store) KeepMoment(ctx context.Context, document int64, m Moment, state []byte) (id int64, err error) {
	err = s.db.GetContext(ctx, &id, `insert into moments (document_id, name, seq, map, who, state) values ($1, $2, $3, $4, $5, $6) returning id`, document, m.Name, m.Seq, m.Map, m.Who, s.pack(state))
	if taken(err) {
		return 0, ErrTaken
	}
	return id, err
}

// Moments lists the states of a document that have a name, the newest first.
func (s *Store) Moments(ctx context.Context, document int64) ([]Moment, error) {
	var out []Moment
	err := s.db.SelectContext(ctx, &out, `select id, name, seq, map, who, at from moments where document_id = $1 order by id desc`, document)
	return out, err
}

// Moment returns one of them and the state it is of.
func (s *Store) Moment(ctx context.Context, document, id int64) (m Moment, state []byte, err error) {
	var row struct {
		Moment
		State []byte `db:"state"`
	}
	if err := s.db.GetContext(ctx, &row, `select id, name, seq, map, who, at, state from moments where document_id = $1 and id = $2`, document, id); err != nil {
		return m, nil, found(err)
	}
	state, err = s.unpack(row.State)
	return row.Moment, state, err
}

// MomentName is what one of them is called.
func (s *Store) MomentName(ctx context.Context, document, id int64) (name string, err error) {
	err = s.db.GetContext(ctx, &name, `select name from moments where document_id = $1 and id = $2`, document, id)
	return name, found(err)
}

// ForgetMoment takes a name away, and the state with it.
func (s *Store) ForgetMoment(ctx context.Context, document, id int64) error {
	return s.one(ctx, `delete from moments where document_id = $1 and id = $2`, document, id)
}
