package document

import (
	"context"
	"math"
	"reflect"
	"time"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/proof"
	"morvek/core/seam"
	"morvek/core/shape"
)

// Document is a mesh with the state of its map. A document is not changed by
// edits: they give a new state.
type Document struct {
	Mesh  *mesh.Mesh // what is worked on
	State *State

	Source  *mesh.Mesh    // what came in; the same as Mesh unless some of it is carried along
	Reduced *mesh.Reduced // how the two belong together

	shared *shared
}

// New returns the document of a mesh as it was brought in: one part for each
// connected piece, cut where the map that came along is torn. Faces that only stand in
// the way of connection are carried along (see mesh.Reduce).
func New(source *mesh.Mesh, s Settings) *Document {
	r := reduced(source, s)
	return newDocument(source, r, asItCame(r.Mesh, s))
}

// Restore returns the document of a mesh in a state that was stored, or ErrCorrupt if they do
// not belong together.
func Restore(source *mesh.Mesh, state []byte) (*Document, error) {
	stored, err := decodeState(state)
	if err != nil {
		return nil, err
	}
	r := reduced(source, stored.Settings)
	s, err := stored.on(r.Mesh)
	if err != nil {
		r = &mesh.Reduced{Mesh: source} // stored before faces were carried along
		if s, err = stored.on(source); err != nil {
			return nil, err
		}
	}
	return newDocument(source, r, s), nil
}

// reduced is what is worked on of a source.
func reduced(source *mesh.Mesh, s Settings) *mesh.Reduced {
	r := mesh.Reduce(source)
	if s.Merged {
		r = r.Then(mesh.Merge(r.Mesh))
	}
	return r
}

func newDocument(source *mesh.Mesh, r *mesh.Reduced, s *State) *Document {
	return &Document{Mesh: r.Mesh, Source: source, Reduced: r, State: s, shared: &shared{exposure: map[viewing]*seam.Exposure{}}}
}

// asItCame is the state of a mesh as it was brought in.
func asItCame(m *mesh.Mesh, s Settings) *State {
	st := &State{Settings: s, partOf: make([]PartID, m.NumFaces()), groups: &groups{}, Map: atlas.FromSource(m, s.Sheet.TileWidth()).Freeze(), Shown: firstMap}
	for k, l := range m.Layers[:min(len(m.Layers), mostMaps-1)] {
		head := AwayHead{MapHead{ID: MapID(k + 2), Name: l.Name, Purpose: Unique}, s.OnSheet}
		st.others = append(st.others, &away{AwayHead: head, Map: atlas.FromLayer(m, k, s.Sheet.TileWidth()).Freeze(), Lays: []Lay{}})
	}
	piece, n := m.Components()
	for f, p := range piece {
		st.partOf[f] = PartID(p)
		if int(p) == len(st.Parts) { // pieces are numbered by their first face
			st.Parts = append(st.Parts, &Part{Name: pieceName(m, mesh.FaceID(f), int(p), n), Fit: shape.Fit{Kind: shape.Free}})
		}
	}
	return st
}

// With returns the document of the same mesh in another state.
func (d *Document) With(s *State) *Document {
	return &Document{Mesh: d.Mesh, Source: d.Source, Reduced: d.Reduced, State: s, shared: d.shared}
}

// Exposure returns the exposure of the mesh, shared by all states.
func (d *Document) Exposure() *seam.Exposure {
	d.shared.mu.Lock()
	defer d.shared.mu.Unlock()
	v := viewing{d.State.Settings.Up, d.State.Settings.Viewed()}
	x, ok := d.shared.exposure[v]
	if !ok {
		x = seam.NewExposure(d.Mesh, v.up, v.sides)
		d.shared.exposure[v] = x
	}
	return x
}

// Measured measures the map of this document, which differs by a delta from one that was
// measured; both are seen through the map of the delta. It gives what proof.Measure gives, in time that follows the change.
func (d *Document) Measured(before proof.Report, by Delta) proof.Report {
	in := d.ProofInput()
	if by.Settings != nil || by.Shown != nil {
		return proof.Measure(in)
	}
	touched := by.Map.Touched(d.Mesh)
	for _, c := range by.PartOf {
		touched = append(touched, c.Face)
	}
	touched = append(touched, d.State.Map.ShellsOf(by.Wishes.Marks.touched())...)
	wish := map[PartID]bool{} // parts that wish otherwise than before
	for _, c := range by.Parts {
		if c.Old == nil || c.New == nil || !reflect.DeepEqual(c.Old.Grain, c.New.Grain) || c.Old.Weight != c.New.Weight {
			wish[c.Part] = true
		}
	}
	if len(wish) > 0 {
		for f, p := range d.State.partOf {
			if wish[p] {
				touched = append(touched, mesh.FaceID(f))
			}
		}
	}
	if len(touched) == 0 && by.Wishes.Rest == nil && by.Wishes.Marks.Rest == nil { // names, locks and the like
		return before
	}
	return proof.Again(in, before, touched)
}

// ProofInput returns what proof measures of this document.
func (d *Document) ProofInput() proof.Input {
	s := d.State
	in := proof.Input{
		Mesh: d.Mesh, Map: s.Map,
		Part:  func(f mesh.FaceID) int { return int(s.PartOf(f)) },
		Grain: func(p int) flow.Grain { return s.Grain(p) },
		Flow:  s.Settings.Flow(), Sheet: s.Settings.Sheet,
		Stack: s.Stacks().Lying, Weight: s.Weights(),
		Exposure: d.Exposure(), Labels: s.Wishes.Labels, Accepted: s.Wishes.Accepted, Marked: s.Wishes.Marked, Tiling: s.Shown.Purpose == Tiling,
	}
	return in
}

// Density returns the scale new shells get, sheet units per model unit: that of
// the map as it is, or one at which everything would fill about half the sheet.
func (d *Document) Density() float64 {
	var area, mapped, onSheet float64
	t := d.Mesh.Triangles()
	for f, a := range d.Mesh.FaceAreas() {
		area += a
		if !d.State.Map.IsMapped(mesh.FaceID(f)) {
			continue
		}
		mapped += a
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			c := t.Corner[k]
			a, b, c2 := d.State.Map.At(c[0]), d.State.Map.At(c[1]), d.State.Map.At(c[2])
			onSheet += math.Abs((b.X-a.X)*(c2.Y-a.Y)-(c2.X-a.X)*(b.Y-a.Y)) / 2
		}
	}
	switch {
	case mapped > 0 && onSheet > 0:
		return math.Sqrt(onSheet / mapped)
	case area > 0:
		return math.Sqrt(0.5 / area)
	}
	return 1
}

// Mirror returns the plane in which the mesh is its own image, found once.
func (d *Document) Mirror() (parts.Mirror, bool) {
	d.shared.mirrorOnce.Do(func() { d.shared.mirror, d.shared.mirrored = parts.FindMirror(d.Mesh) })
	return d.shared.mirror, d.shared.mirrored
}

// MirrorWithin is Mirror for somebody who waits no longer than that: known is false where it is still being
// looked for then, which goes on.
func (d *Document) MirrorWithin(ctx context.Context, wait time.Duration) (m parts.Mirror, ok, known bool) {
	found := make(chan struct{})
	go func() {
		defer close(found)
		_, _ = d.Mirror()
	}()
	select {
	case <-found:
		m, ok = d.Mirror()
		return m, ok, true
	case <-time.After(wait):
	case <-ctx.Done():
	}
	return parts.Mirror{}, false, false
}

// Images tells which faces and edges are each other's image in the plane of the model; ok is false where
// there is no such plane.
func (d *Document) Images() (im parts.Images, ok bool) {
	plane, ok := d.Mirror()
	if ok {
		d.shared.imagesOnce.Do(func() { d.shared.images = plane.Images(d.Mesh) })
	}
	return d.shared.images, ok
}

// Begin begins to change the state of a document.
func (d *Document) Begin() *Tx { return d.State.Begin() }
