package workspace

import (
	"context"
	"sync"
	"time"

	"morvek/store"
)

// pollWork is how often it is looked how far a work is, while anybody watches it.
const pollWork = 200 * time.Millisecond

// working are those who watch long work: each work is looked at once for all of them.
type working struct {
	ask func(context.Context, int64) (store.Work, error) // of the store
	mu  sync.Mutex
	of  map[int64]*watched
}

// watched is a work that somebody watches.
type watched struct {
	news chan struct{} // closed when there is something to see, then another one
	now  store.Work
	err  error
	n    int // who watch it
	stop context.CancelFunc
}

// WatchWork calls see with how far a work is, at first and whenever it is further, until it is over, see
// returns false or ctx ends. It returns an error where the work cannot be looked at.
func (d *Documents) WatchWork(ctx context.Context, id int64, see func(store.Work) bool) error {
	w := d.working.join(id)
	defer d.working.leave(id)
	for {
		d.working.mu.Lock()
		news, now, err := w.news, w.now, w.err
		d.working.mu.Unlock()
		switch {
		case err != nil:
			return err
		case now.ID != 0:
			if !see(now) || now.Over() {
				return nil
			}
		}
		select {
		case <-news:
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

func (k *working) join(id int64) *watched {
	k.mu.Lock()
	defer k.mu.Unlock()
	w := k.of[id]
	if w == nil {
		ctx, stop := context.WithCancel(context.Background())
		w = &watched{news: make(chan struct{}), stop: stop}
		if k.of == nil {
			k.of = map[int64]*watched{}
		}
		k.of[id] = w
		go k.look(ctx, id, w)
	}
	w.n++
	return w
}

func (k *working) leave(id int64) {
	k.mu.Lock()
	defer k.mu.Unlock()
	w := k.of[id]
	if w.n--; w.n == 0 {
		w.stop()
		delete(k.of, id)
	}
}

// further tells whether a work is at another place than it was.
func further(was, now store.Work) bool {
	return was.ID != now.ID || was.State != now.State || was.Station != now.Station || was.Progress != now.Progress || was.Message != now.Message
}

// look looks at a work until nobody watches it any more.
func (k *working) look(ctx context.Context, id int64, w *watched) {
	for ctx.Err() == nil {
		now, err := k.ask(ctx, id)
		if ctx.Err() != nil {
			return
		}
		if store.Away(err) { // it comes back
			err, now = nil, w.now
		}
		if err != nil || further(w.now, now) {
			k.mu.Lock()
			w.now, w.err = now, err
			close(w.news)
			w.news = make(chan struct{})
			k.mu.Unlock()
		}
		if err != nil || now.Over() {
			return
		}
		select {
		case <-ctx.Done():
		case <-time.After(pollWork):
		}
	}
}
