package layout

import (
	"context"
	"slices"
	"sync"

	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/parts"
)

// Reading says how a mesh is read; the zero value is what is usual.
type Reading struct {
	CreaseDeg float64  `json:"crease_deg,omitempty"` // 0: that of the document
	Tolerance float64  `json:"tolerance,omitempty"`  // share of the diagonal, 0: measured
	Detail    *float64 `json:"detail,omitempty"`     // 0 few parts … 1 primitives, none: that of the document
}

// options returns what recognition is asked for, or why that cannot be.
func (r Reading) options(d *Document) (o parts.Options, err error) {
	o = parts.Default()
	o.Exposure = d.Exposure().Face
	if o.CreaseDeg = r.CreaseDeg; o.CreaseDeg == 0 {
		o.CreaseDeg = d.State.Settings.CreaseDeg
	}
	if o.Detail = d.State.Settings.Detail(); r.Detail != nil {
		o.Detail = *r.Detail
	}
	o.Tolerance = r.Tolerance
	if !(o.Detail >= 0 && o.Detail <= 1) || !(o.Tolerance >= 0 && o.Tolerance <= 0.05) || !(o.CreaseDeg > 0 && o.CreaseDeg < 180) {
		return o, refuse("detail goes from 0 to 1, tolerance from 0 to 0.05, the crease from 0° to 180°")
	}
	return o, nil
}

// Detail is the detail at which parts are cut out of the reading.
func (s Settings) Detail() float64 { return parts.Default().Detail + s.Finer }

// readings keeps the last tree that was read of a mesh.
type readings struct {
	mu   sync.Mutex // held while reading: who waits for it wants the same
	of   treeKey
	tree parts.Tree
}

// treeKey is what a tree depends on besides the mesh.
type treeKey struct {
	crease, tolerance float64
	viewing           viewing
}

// tree returns the whole reading of a mesh.
func (d *Document) tree(ctx context.Context, o parts.Options, progress func(float64)) (parts.Tree, error) {
	r := &d.shared.readings
	r.mu.Lock()
	defer r.mu.Unlock()
	key := treeKey{o.CreaseDeg, o.Tolerance, viewing{d.State.Settings.Up, d.State.Settings.Viewed()}}
	if r.tree != nil && r.of == key {
		return r.tree, ctx.Err()
	}
	o.Detail, o.Faces = 0, nil
	t, err := d.read(ctx, o, progress)
	if err == nil {
		r.of, r.tree = key, t
	}
	return t, err
}

// read reads a mesh, or the faces that are asked for.
func (d *Document) read(ctx context.Context, o parts.Options, progress func(float64)) (parts.Tree, error) {
	var rays parallel.Group
	rays.Do(func() { d.Mesh.BVH() }) // chamfers will ask for rays; their tree grows beside the facets
	t, err := parts.Read(ctx, d.Mesh, o, progress)
	_ = rays.Wait()
	return t, err
}

// regroup makes parts of what was found and leaves all others as they are. Shells end
// where parts now border on each other, and no longer where they did so before; the map
// and other seams stay. Parts that were the same already stay as they were.
func (s *Tx) regroup(m *mesh.Mesh, found []parts.Part) {
	was := slices.Clone(s.partOf)
	size := make([]int, len(s.Parts))
	for _, p := range was {
		if p >= 0 {
			size[p]++
		}
	}
	var fresh []*Part
	var first, changed []mesh.FaceID
	for _, p := range found {
		if same := was[p.Faces[0]]; same >= 0 && size[same] == len(p.Faces) && all(p.Faces, func(f mesh.FaceID) bool { return was[f] == same }) {
			continue
		}
		part := &Part{Fit: p.Fit, Note: p.Note, Pieces: pieces(p.Pieces)}
		part.Grain = s.grainFor(m, p.Faces, part)
		for _, f := range p.Faces {
			s.SetPart(f, PartID(len(s.Parts)+len(fresh)))
		}
		fresh, first, changed = append(fresh, part), append(first, p.Faces[0]), append(changed, p.Faces...)
	}
	if len(fresh) == 0 {
		return
	}
	old := PartID(len(s.Parts))
	s.Parts = append(s.Parts, fresh...)
	s.followNeighbours(m, func(p PartID) bool { return p >= old })
	for _, f := range changed {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None {
				g := m.FaceOf(t)
				if now := s.PartOf(f) != s.PartOf(g); now != (was[f] != was[g]) {
					s.Map.SetCut(m.Edge(h), now)
				}
			}
		}
	}
	s.dropEmptyParts()
	stay := len(s.Parts) - len(fresh)
	nameParts(m, s.Parts[stay:], first, s.Parts[:stay])
	s.findRepeats(m)
	s.heed(m, changed)
}

func all(list []mesh.FaceID, is func(mesh.FaceID) bool) bool {
	for _, f := range list {
		if !is(f) {
			return false
		}
	}
	return true
}
