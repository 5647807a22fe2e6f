// Package workspace keeps open documents in memory: rebuilt from the store, held
// as long as they are in use, and never trusted over the database.
package workspace

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"sync/atomic"

	"golang.org/x/sync/singleflight"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/parallel"
	"morvek/store"
)

// Documents is the cache.
type Documents struct {
	store *store.Store

	mu    sync.Mutex
	open  map[int64]*Opened
	order []int64 // least recently used first
	past  []past  // the newest last

	budget  int64 // bytes of documents held
	loading singleflight.Group
	loads   chan struct{} // holds those that are read at a time

	watching watchers
	working  working
	covering chan struct{} // holds whoever draws a cover

	behind   parallel.Group
	snapping atomic.Bool
}

// Usual is how many bytes of documents are held as a rule.
const Usual = 2 << 30

// New returns an empty cache over a store, that holds about so many bytes of documents, 0 for Usual.
func New(s *store.Store, budget int64) *Documents {
	if budget <= 0 {
		budget = Usual
	}
	return &Documents{store: s, budget: budget, open: map[int64]*Opened{}, covering: make(chan struct{}, 1), loads: make(chan struct{}, 2),
		working: working{ask: s.Work}}
}

// Ref is a document and the map it is seen through, 0 for its first.
type Ref struct {
	Document int64
	Map      document.MapID
}

// Ref is which document this is, and the map it is seen through.
func (o *Opened) Ref() Ref { return Ref{o.Row.ID, o.Doc.State.Shown.ID} }

// First is a document seen through its first map.
func First(id int64) Ref { return Ref{Document: id} }

// Through returns a document at the revision the database has now, seen through a map.
func (d *Documents) Through(ctx context.Context, ref Ref) (*Opened, error) {
	o, err := d.Get(ctx, ref.Document)
	if err != nil {
		return nil, err
	}
	return o.Through(ref.Map)
}

// last is a document as it was seen last, nil if it is not held: it may have changed meanwhile.
func (d *Documents) last(id int64) *Opened {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.open[id]
}

// Faces is how many faces the model of a document has, or had when it was seen last.
func (d *Documents) Faces(ctx context.Context, id int64) (int, error) {
	if o := d.last(id); o != nil {
		return o.Row.Faces, nil
	}
	return d.store.Faces(ctx, id)
}

// Held tells whether a document is held at a revision, which may have passed.
func (d *Documents) Held(id, revision int64) bool {
	o := d.last(id)
	return o != nil && o.Row.Revision == revision
}

// at returns a document at a revision, seen through a map, or at the one the database has now: that a
// revision has passed is found out by who stores what comes after it.
func (d *Documents) at(ctx context.Context, ref Ref, revision int64) (*Opened, error) {
	if o := d.last(ref.Document); o != nil && o.Row.Revision == revision {
		return o.Through(ref.Map)
	}
	return d.Through(ctx, ref)
}

// Get returns a document at the revision the database has now, seen through its first map.
func (d *Documents) Get(ctx context.Context, id int64) (*Opened, error) {
	row, err := d.store.Document(ctx, id)
	if err != nil {
		return nil, err
	}
	o := d.last(id)
	if o != nil && o.Row.Revision == row.Revision {
		return o.Through(0)
	}
	var known *mesh.Mesh
	if o != nil && o.Row.ModelHash == row.ModelHash {
		known = o.Doc.Source
	}
	return d.once(ctx, id, row.Revision, known)
}

// once reads a document, once for all who ask for it meanwhile, and few at a time: reading takes several
// times the room of what is read. It goes on for the others when one of them goes away.
func (d *Documents) once(ctx context.Context, id, revision int64, known *mesh.Mesh) (*Opened, error) {
	read := d.loading.DoChan(fmt.Sprintf("%d at %d", id, revision), func() (any, error) {
		ctx := context.WithoutCancel(ctx)
		d.loads <- struct{}{}
		defer func() { <-d.loads }()
		var o *Opened
		err := parallel.Catch(func() (err error) {
			o, err = d.load(ctx, id, known)
			return err
		})
		return o, err
	})
	select {
	case r := <-read:
		if r.Err != nil {
			return nil, r.Err
		}
		return r.Val.(*Opened), nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

func (d *Documents) load(ctx context.Context, id int64, m *mesh.Mesh) (*Opened, error) {
	st, err := d.store.Load(ctx, id)
	if err != nil {
		return nil, err
	}
	if m == nil {
		if m, err = d.model(ctx, st.Document); err != nil {
			return nil, err
		}
	}
	doc, err := rebuilt(m, st)
	if err != nil {
		return nil, err
	}
	o := opened(st.Document, doc)
	if _, _, err := d.Exposure(ctx, o); err != nil { // suggestions ask for it
		return nil, err
	}
	return d.keep(o).Through(0)
}

// rebuilt is a document in the state that is stored of it.
func rebuilt(m *mesh.Mesh, st store.Stored) (*document.Document, error) {
	doc, err := document.Restore(m, st.Snapshot)
	if err != nil {
		return nil, err
	}
	for _, b := range st.Deltas {
		state, err := step(doc.State, b, st.Back)
		if err != nil {
			return nil, err
		}
		state.Settle()
		doc = doc.With(state)
	}
	return doc, nil
}

// step makes a stored change of a state, or takes it back; the state is seen through the map
// of the change then.
func step(s *document.State, stored []byte, back bool) (*document.State, error) {
	var delta document.Delta
	if err := delta.UnmarshalBinary(stored); err != nil {
		return nil, err
	}
	if back {
		return delta.Undo(s)
	}
	return delta.Redo(s)
}

func (d *Documents) keep(o *Opened) *Opened {
	d.mu.Lock()
	defer d.mu.Unlock()
	id := o.Row.ID
	if old := d.open[id]; old != nil && old.Row.Revision > o.Row.Revision {
		return o // somebody was faster; do not put the older one back
	}
	for i, k := range d.order {
		if k == id {
			d.order = append(d.order[:i], d.order[i+1:]...)
			break
		}
	}
	d.order = append(d.order, id)
	d.open[id] = o
	var total int64
	for _, k := range d.order {
		total += size(d.open[k])
	}
	for total > d.budget && len(d.order) > 1 {
		total -= size(d.open[d.order[0]])
		delete(d.open, d.order[0])
		d.order = d.order[1:]
	}
	return o
}

// What an open document takes, in bytes per face: its mesh with what is measured of it, its first map and what
// is drawn of that; each further map. Measured on the station mast (250,000 faces, the whole job done: 247 MB).
const perFace, perMap = 1000, 250

// size is what a document takes of the budget.
func size(o *Opened) int64 {
	return int64(o.Doc.Source.NumFaces()) * int64(perFace+perMap*(len(o.Doc.State.Maps())-1))
}

// Apply applies an edit to a document at a revision, seen through a map, and stores it. One with the key of an
// edit that was made already is not made again: whoever sends it has lost the answer.
func (d *Documents) Apply(ctx context.Context, to Ref, base int64, by store.By, e edit.Edit) (*Opened, error) {
	o, err := d.apply(ctx, to, base, by, e)
	if errors.Is(err, store.ErrStale) { // perhaps because of this very edit
		if made, err := d.store.Made(ctx, to.Document, by.Key); err == nil && made {
			return d.Through(ctx, to)
		}
	}
	return o, err
}

func (d *Documents) apply(ctx context.Context, to Ref, base int64, by store.By, e edit.Edit) (*Opened, error) {
	o, err := d.at(ctx, to, base)
	if err != nil {
		return nil, err
	}
	if o.Row.Revision != base {
		return nil, store.ErrStale
	}
	next, err := edit.Apply(ctx, o.Doc, e, nil)
	if err != nil {
		return nil, err
	}
	return d.append(ctx, o, []edit.Edit{e}, []*document.State{next}, by)
}

// append stores edits whose states are known, after the revision of o.
func (d *Documents) append(ctx context.Context, o *Opened, edits []edit.Edit, states []*document.State, by store.By) (*Opened, error) {
	rows, delta, err := changes(o.Doc.State, edits, states)
	if err != nil {
		return nil, err
	}
	for i := range rows {
		rows[i].Who = by.Who
	}
	rows[len(rows)-1].Key = by.Key
	last := states[len(states)-1]
	if len(states) > 1 {
		delta = document.Diff(o.Doc.State, last)
	}
	now, err := d.put(ctx, o, rows, last, delta)
	if err != nil {
		return nil, err
	}
	for _, s := range states[:len(states)-1] {
		s.Settle()
	}
	return now, nil
}

// put stores rows of the worklog after the revision of o, which lead to a state by a delta.
func (d *Documents) put(ctx context.Context, o *Opened, rows []store.Edit, to *document.State, by document.Delta) (*Opened, error) {
	row, err := d.store.Append(ctx, o.Row.ID, o.Row.Revision, rows, to.MarshalBinary)
	if err != nil {
		return nil, err
	}
	now := o.next(row, to, by)
	to.Settle()
	d.snapshot(now)
	return d.keep(now), nil
}

// snapshot stores a document whole now and then, while nobody waits for it.
func (d *Documents) snapshot(o *Opened) {
	if !o.Row.WantsSnapshot() || !d.snapping.CompareAndSwap(false, true) {
		return
	}
	d.behind.Do(func() {
		defer d.snapping.Store(false)
		if b, err := o.Doc.State.MarshalBinary(); err == nil {
			_ = d.store.KeepSnapshot(context.Background(), o.Row, b) // the next edit tries again
		}
	})
}

// Close waits for what goes on behind.
func (d *Documents) Close() { _ = d.behind.Wait() }

// Rows are edits as the store keeps them, each with what it changes; before is the
// state before the first and states are those after each. A state with a number that
// is none is an error.
func Rows(before *document.State, edits []edit.Edit, states []*document.State) ([]store.Edit, error) {
	rows, _, err := changes(before, edits, states)
	return rows, err
}

// changes are the rows of edits, and what the last of them changes.
func changes(before *document.State, edits []edit.Edit, states []*document.State) (rows []store.Edit, last document.Delta, err error) {
	rows = make([]store.Edit, len(edits))
	for i, e := range edits {
		last = document.Diff(before, states[i])
		if err := last.Finite(); err != nil {
			return nil, last, fmt.Errorf("%s: %w", e.Kind(), err)
		}
		b, err := last.MarshalBinary()
		if err != nil {
			return nil, last, err
		}
		params, err := edit.Encode(e)
		if err != nil {
			return nil, last, err
		}
		rows[i] = store.Edit{Kind: e.Kind(), Params: params, Map: int32(last.At), Label: e.Describe(), Delta: b}
		before = states[i]
	}
	return rows, last, nil
}

// Step undoes (back) or redoes one edit, as somebody does. The document is seen through the map of the edit then.
func (d *Documents) Step(ctx context.Context, id, base int64, who string, back bool) (*Opened, error) {
	o, err := d.at(ctx, First(id), base)
	if err != nil {
		return nil, err
	}
	if o.Row.Revision != base { // what the edit changes is known for that state only
		return nil, store.ErrStale
	}
	move := d.store.Redo
	if back {
		move = d.store.Undo
	}
	e, row, err := move(ctx, id, base, who)
	if err != nil {
		return nil, err
	}
	if o, err = o.Through(document.MapID(e.Map)); err != nil {
		return nil, err
	}
	next, err := step(o.Doc.State, e.Delta, back)
	if err != nil {
		return nil, err
	}
	now := o.next(row, next, document.Diff(o.Doc.State, next))
	next.Settle()
	return d.keep(now), nil
}

// Words says an error the way a user should read it.
func Words(err error) string {
	var bad *meshio.Error
	switch {
	case errors.Is(err, store.ErrStale):
		return "the document was changed elsewhere meanwhile; the newer state is shown"
	case errors.Is(err, store.ErrBusy):
		return "other long work on this document is under way; wait for it or cancel it"
	case errors.Is(err, store.ErrNothing):
		return "there is nothing to undo or redo"
	case errors.Is(err, ErrNoMap):
		return "this map is no longer there; another one is shown"
	case errors.Is(err, store.ErrNotFound):
		return "this document is no longer there"
	case errors.Is(err, document.ErrRefused):
		return document.Plainly(err)
	case errors.As(err, &bad):
		return bad.Error()
	case errors.Is(err, store.ErrLastOwner):
		return store.ErrLastOwner.Error()
	case store.Full(err):
		return "the database is full; nothing was changed and nothing more is kept until whoever runs it makes room"
	case store.Away(err):
		return "the database does not answer at the moment; nothing was changed, try again"
	}
	return "something went wrong on the server; nothing was changed"
}
