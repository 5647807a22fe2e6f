package workspace

import (
	"context"
	"sync"
	"time"

	"morvek/store"
)

// watchers are those who want to hear when a document changes, whoever changes it on whichever server.
type watchers struct {
	mu sync.Mutex
	of map[int64]map[chan store.Change]struct{}
}

// unheard is how many changes wait for somebody who does not listen, before he is let go.
const unheard = 32

// Watch tells of the changes of a document until end is called. The channel is closed when changes may
// have been missed: look how it is now, and watch again.
func (d *Documents) Watch(document int64) (changes <-chan store.Change, end func()) {
	w, c := &d.watching, make(chan store.Change, unheard)
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.of == nil {
		w.of = map[int64]map[chan store.Change]struct{}{}
	}
	if w.of[document] == nil {
		w.of[document] = map[chan store.Change]struct{}{}
	}
	w.of[document][c] = struct{}{}
	return c, func() {
		w.mu.Lock()
		defer w.mu.Unlock()
		w.drop(document, c)
	}
}

func (w *watchers) drop(document int64, c chan store.Change) {
	if _, there := w.of[document][c]; !there {
		return
	}
	close(c)
	if delete(w.of[document], c); len(w.of[document]) == 0 {
		delete(w.of, document)
	}
}

func (w *watchers) tell(c store.Change) {
	w.mu.Lock()
	defer w.mu.Unlock()
	for to := range w.of[c.Document] {
		select {
		case to <- c:
		default:
			w.drop(c.Document, to)
		}
	}
}

// dropAll lets all go: nobody knows what they missed.
func (w *watchers) dropAll() {
	w.mu.Lock()
	defer w.mu.Unlock()
	for document, all := range w.of {
		for c := range all {
			w.drop(document, c)
		}
	}
}

// Listen hears what is changed in the database until ctx ends, for those who watch.
func (d *Documents) Listen(ctx context.Context) {
	for ctx.Err() == nil {
		_ = d.store.Listen(ctx, d.watching.dropAll, d.watching.tell) // the line broke; there is another
		select {
		case <-ctx.Done():
		case <-time.After(500 * time.Millisecond):
		}
	}
}
