package layout

import (
	"context"
	"errors"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/unroll"
)

// Pin holds points of the sheet where they are when their shell is flattened or
// relaxed, or lets them go. A point is named by one of its corners.
type Pin struct {
	Corners []mesh.HalfedgeID `json:"corners"`
	Pinned  bool              `json:"pinned"`
}

// Kind implements Edit.
func (*Pin) Kind() string { return "pin" }

// Describe implements Edit.
func (e *Pin) Describe() string {
	if e.Pinned {
		return "pin " + pointCount(len(e.Corners))
	}
	return "let " + pointCount(len(e.Corners)) + " go"
}

func checkCorners(m *mesh.Mesh, corners []mesh.HalfedgeID) error {
	for _, c := range corners {
		if c < 0 || int(c) >= m.NumCorners() {
			return refuse("there is no corner %d; the mesh has %d", c, m.NumCorners())
		}
	}
	return nil
}

// Apply implements Edit.
func (e *Pin) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkCorners(d.Mesh, e.Corners); err != nil {
		return nil, err
	}
	if len(e.Corners) == 0 {
		return nil, refuse("no points are picked")
	}
	s := d.Begin()
	for _, c := range e.Corners {
		f := d.Mesh.FaceOf(c)
		if !s.Map.IsMapped(f) {
			return nil, refuse("a point of face %d does not lie on the sheet yet; flatten it first", f)
		}
		// All corners of the point on this shell count as one: the lowest names it.
		at := s.Map.PointAt(c)
		s.Wishes.Pins = without(s.Wishes.Pins, at)
		if e.Pinned {
			s.Wishes.Pins = with(s.Wishes.Pins, at[:1])
		}
	}
	return s.Done(), nil
}

// pinsOf returns the pins of a patch in model units.
func (s *State) pinsOf(p *mesh.Patch, density float64) (out []flatten.Pin) {
	if len(s.Wishes.Pins) == 0 {
		return nil
	}
	pinned := set(s.Wishes.Pins)
	seen := map[int32]bool{}
	for i, h := range p.Corner {
		if v := p.CornerVert[i]; pinned[h] && !seen[v] && s.Map.IsMapped(p.Mesh.FaceOf(h)) {
			seen[v] = true
			out = append(out, flatten.Pin{Vertex: v, At: r2.Scale(1/density, s.Map.At(h))})
		}
	}
	return out
}

// setPins puts pinned points of a patch back to the last bit.
func (s *Tx) setPins(p *mesh.Patch, was *atlas.Map) {
	at := map[int32]r2.Vec{}
	pinned := set(s.Wishes.Pins)
	for i, h := range p.Corner {
		// Shells that were joined may bring two pins for one point: the first counts, as in pinsOf.
		if _, ok := at[p.CornerVert[i]]; pinned[h] && !ok && was.IsMapped(p.Mesh.FaceOf(h)) {
			at[p.CornerVert[i]] = was.At(h)
		}
	}
	for i, h := range p.Corner {
		if q, ok := at[p.CornerVert[i]]; ok {
			s.Map.Put(h, q)
		}
	}
}

// pinned flattens a patch with pins: one keeps it in place, more hold its turn and size.
func (l *layer) pinned(ctx context.Context, p *mesh.Patch, pins []flatten.Pin, r piece) error {
	name := "this shell"
	if r.part >= 0 {
		name = l.state.Parts[r.part].Name
	}
	keep := flatten.Constraints{}
	if len(pins) > 1 {
		keep.Pins = pins
	}
	out, err := l.solve(ctx, p, l.state.fit(r.part), keep)
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case errors.Is(err, flatten.ErrConflict):
		return refuse("the pins of %s contradict each other; let some of them go", name)
	case err != nil:
		return err
	}
	if n := flatten.Flips(p, out.UV); n > 0 {
		return refuse("with these pins %d faces of %s would turn over; let some of them go or move them", n, name)
	}
	if unroll.Tangled(p, out.UV) {
		return refuse("with these pins %s would land on itself; let some of them go or move them", name)
	}
	if len(pins) == 1 {
		flatten.TrueScale(p, out.UV)
		l.state.orient(p, out.UV, r.part)
		shift := r2.Sub(pins[0].At, out.UV[pins[0].Vertex])
		for i := range out.UV {
			out.UV[i] = r2.Add(out.UV[i], shift)
		}
	}
	l.out = append(l.out, flatShell{patch: p, uv: out.UV, method: out.Method + ", pinned", placed: true})
	return nil
}
