package store

import (
	"context"
	"time"
)

// Work is long work on a document: who waits for it can see how far it is.
type Work struct {
	ID         int64      `db:"id" json:"id"`
	DocumentID int64      `db:"document_id" json:"document"`
	JobID      *int64     `db:"job_id" json:"-"`
	Kind       string     `db:"kind" json:"kind"`
	State      string     `db:"state" json:"state"`
	Station    string     `db:"station" json:"station"`
	Progress   float64    `db:"progress" json:"progress"`
	Message    string     `db:"message" json:"message"`
	CreatedAt  time.Time  `db:"created_at" json:"created_at"`
	FinishedAt *time.Time `db:"finished_at" json:"finished_at"`
}

// Over tells whether nothing will change any more.
func (w Work) Over() bool { return w.State != "waiting" && w.State != "running" }

// CreateWork notes work that is about to be queued.
func (s *Store) CreateWork(ctx context.Context, document int64, kind string) (id int64, err error) {
	err = s.db.GetContext(ctx, &id, `insert into works (document_id, kind) values ($1, $2) returning id`, document, kind)
	return id, err
}

// SetJob notes the queue's number of a work.
func (s *Store) SetJob(ctx context.Context, id, job int64) error {
	_, err := s.db.ExecContext(ctx, `update works set job_id = $2 where id = $1`, id, job)
	return err
}

// Work returns one work.
func (s *Store) Work(ctx context.Context, id int64) (Work, error) {
	var w Work
	err := s.db.GetContext(ctx, &w, `select * from works where id = $1`, id)
	return w, found(err)
}

// RunningWork returns the newest work of some kinds under way on a document, of any
// kind if none is named; ErrNotFound if there is none.
func (s *Store) RunningWork(ctx context.Context, document int64, kinds ...string) (Work, error) {
	var w Work
	err := s.db.GetContext(ctx, &w, `select * from works where document_id = $1 and state in ('waiting', 'running')
		and (cardinality($2::text[]) = 0 or kind = any($2)) order by id desc limit 1`, document, append([]string{}, kinds...))
	return w, found(err)
}

// Advance notes how far a work is. It never brings finished work back.
func (s *Store) Advance(ctx context.Context, id int64, station string, progress float64) error {
	_, err := s.db.ExecContext(ctx, `update works set state = 'running', station = $2, progress = $3 where id = $1 and state in ('waiting', 'running')`, id, station, progress)
	return err
}

// Finish ends a work as done, failed or cancelled. The first end stands.
func (s *Store) Finish(ctx context.Context, id int64, state, message string) error {
	_, err := s.db.ExecContext(ctx, `update works set state = $2, message = $3, finished_at = now(),
		progress = case when $2 = 'done' then 1 else progress end where id = $1 and state in ('waiting', 'running')`, id, state, message)
	return err
}
