package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"

	"github.com/jmoiron/sqlx"
)

// Work is long work on a document, or on a file that is to become one: who waits for it can see how far it is.
type Work struct {
	ID         int64           `db:"id" json:"id"`
	DocumentID *int64          `db:"document_id" json:"document,omitempty"` // what it is on
	UploadID   *int64          `db:"upload_id" json:"upload,omitempty"`     // or the file it reads
	JobID      *int64          `db:"job_id" json:"-"`
	Kind       string          `db:"kind" json:"kind"`
	State      string          `db:"state" json:"state"`
	Station    string          `db:"station" json:"station"`
	Progress   float64         `db:"progress" json:"progress"`
	Message    string          `db:"message" json:"message"`
	CreatedAt  time.Time       `db:"created_at" json:"created_at"`
	FinishedAt *time.Time      `db:"finished_at" json:"finished_at"`
	Args       json.RawMessage `db:"args" json:"-"`
	Attempt    int             `db:"attempt" json:"-"`
	BeatAt     *time.Time      `db:"beat_at" json:"-"`
}

// Over tells whether nothing will change any more.
func (w Work) Over() bool { return w.State != "waiting" && w.State != "running" }

const active = `state in ('waiting', 'running')`

// Enqueue puts a work into the queue, in the transaction that notes it, and returns the
// queue's number of it.
type Enqueue func(tx *sql.Tx, w Work) (job int64, err error)

// CreateWork notes and queues work on a document. If other work stands in its way it
// returns that one and ErrBusy.
func (s *Store) CreateWork(ctx context.Context, document int64, kind string, args json.RawMessage, put Enqueue) (w Work, err error) {
	for range 3 {
		err = s.inTx(ctx, func(tx *sqlx.Tx) error {
			if err := tx.GetContext(ctx, &w, `insert into works (document_id, kind, args) values ($1, $2, $3) returning *`, document, kind, string(args)); err != nil {
				return err
			}
			return enqueue(ctx, tx, &w, put)
		})
		if !taken(err) {
			return w, err
		}
		err = s.db.GetContext(ctx, &w, `select * from works where document_id = $1 and (case when kind in ('look', 'deliver') then kind else '' end) = (case when $2 in ('look', 'deliver') then $2 else '' end) and `+active, document, kind)
		if err == nil {
			return w, ErrBusy
		}
		if err = found(err); err != ErrNotFound { // not there: it ended just now
			return w, err
		}
	}
	return w, ErrBusy
}

func enqueue(ctx context.Context, tx *sqlx.Tx, w *Work, put Enqueue) error {
	job, err := put(tx.Tx, *w)
	if err != nil {
		return err
	}
	w.JobID = &job
	_, err = tx.ExecContext(ctx, `update works set job_id = $2 where id = $1`, w.ID, job)
	return err
}

// Work returns one work.
func (s *Store) Work(ctx context.Context, id int64) (Work, error) {
	var w Work
	err := s.db.GetContext(ctx, &w, `select * from works where id = $1`, id)
	return w, found(err)
}

// RunningWork returns the newest work under way on a document; ErrNotFound if there is
// none.
func (s *Store) RunningWork(ctx context.Context, document int64) (Work, error) {
	var w Work
	err := s.db.GetContext(ctx, &w, `select * from works where document_id = $1 and `+active+` order by id desc limit 1`, document)
	return w, found(err)
}

// CountWorks counts the works under way, by their state.
func (s *Store) CountWorks(ctx context.Context) (map[string]int, error) {
	var rows []struct {
		State string `db:"state"`
		N     int    `db:"n"`
	}
	err := s.db.SelectContext(ctx, &rows, `select state, count(*) as n from works where `+active+` group by state`)
	out := map[string]int{}
	for _, r := range rows {
		out[r.State] = r.N
	}
	return out, err
}

// BeginWork claims a work for a job of the queue; ErrNotFound if it is over or belongs
// to another job by now.
func (s *Store) BeginWork(ctx context.Context, id, job int64) (Work, error) {
	var w Work
	err := s.db.GetContext(ctx, &w, `update works set state = 'running', beat_at = now(), attempt = attempt + 1
		where id = $1 and job_id = $2 and `+active+` returning *`, id, job)
	return w, found(err)
}

// Beat notes that a work is still being done; ErrNotFound if it is over or belongs to
// another job by now.
func (s *Store) Beat(ctx context.Context, id, job int64) error {
	return s.one(ctx, `update works set beat_at = now() where id = $1 and job_id = $2 and state = 'running'`, id, job)
}

// HandBack lets somebody else do a work that was begun; it does not count as an attempt.
func (s *Store) HandBack(ctx context.Context, id, job int64) error {
	return s.one(ctx, `update works set state = 'waiting', beat_at = null, attempt = attempt - 1 where id = $1 and job_id = $2 and state = 'running'`, id, job)
}

// Requeue queues the works anew that nobody does any more: those whose process has not
// been heard of for some time, and those the queue has lost. It returns how many.
func (s *Store) Requeue(ctx context.Context, silent time.Duration, put Enqueue) (n int, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		var lost []Work
		if err := tx.SelectContext(ctx, &lost, `select w.* from works w left join river_job j on j.id = w.job_id where w.`+active+`
			and (j.id is null or j.state in ('completed', 'cancelled', 'discarded')
				or j.state = 'running' and coalesce(w.beat_at, j.attempted_at) < now() - make_interval(secs => $1))
			for update of w skip locked`, silent.Seconds()); err != nil {
			return err
		}
		for _, w := range lost {
			if _, err := tx.ExecContext(ctx, `update works set state = 'waiting', beat_at = null where id = $1`, w.ID); err != nil {
				return err
			}
			if err := enqueue(ctx, tx, &w, put); err != nil {
				return err
			}
		}
		n = len(lost)
		return nil
	})
	return n, err
}

// Advance notes how far a work is. It never brings finished work back.
func (s *Store) Advance(ctx context.Context, id int64, station string, progress float64) error {
	_, err := s.db.ExecContext(ctx, `update works set station = $2, progress = $3 where id = $1 and state = 'running'`, id, station, progress)
	return err
}

// Finish ends a work as done, failed or cancelled. The first end stands.
func (s *Store) Finish(ctx context.Context, id int64, state, message string) error {
	_, err := s.db.ExecContext(ctx, `with over as (update works set state = $2, message = $3, finished_at = now(),
		progress = case when $2 = 'done' then 1 else progress end where id = $1 and `+active+` returning upload_id)
		update uploads set source = null where id in (select upload_id from over)`, id, state, message)
	return err
}
