package lay

import (
	"context"
	"errors"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/unroll"
)

// PinsOf returns the pins of a patch in model units.
func PinsOf(s *document.State, p *mesh.Patch, density float64) (out []flatten.Pin) {
	if len(s.Wishes.Pins) == 0 {
		return nil
	}
	pinned := ids.Set(s.Wishes.Pins)
	seen := map[int32]bool{}
	for i, h := range p.Corner {
		if v := p.CornerVert[i]; pinned[h] && !seen[v] && s.Map.IsMapped(p.Mesh.FaceOf(h)) {
			seen[v] = true
			out = append(out, flatten.Pin{Vertex: v, At: r2.Scale(1/density, s.Map.At(h))})
		}
	}
	return out
}

// SetPins puts pinned points of a patch back to the last bit.
func SetPins(s *document.Tx, p *mesh.Patch, was *atlas.Map) {
	at := map[int32]r2.Vec{}
	pinned := ids.Set(s.Wishes.Pins)
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
func (l *layer) pinned(ctx context.Context, p *mesh.Patch, pins []flatten.Pin, r Piece) error {
	name := "this shell"
	if r.Part >= 0 {
		name = l.state.Parts[r.Part].Name
	}
	keep := flatten.Constraints{}
	if len(pins) > 1 {
		keep.Pins = pins
	}
	out, err := l.solve(ctx, p, l.state.Fit(r.Part), keep)
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case errors.Is(err, flatten.ErrConflict):
		return document.Refuse("the pins of %s contradict each other; let some of them go", name)
	case err != nil:
		return err
	}
	if n := flatten.Flips(p, out.UV); n > 0 {
		return document.Refuse("with these pins %d faces of %s would turn over; let some of them go or move them", n, name)
	}
	if unroll.Tangled(p, out.UV) {
		return document.Refuse("with these pins %s would land on itself; let some of them go or move them", name)
	}
	if len(pins) == 1 {
		flatten.TrueScale(p, out.UV)
		Orient(l.state, p, out.UV, r.Part)
		shift := r2.Sub(pins[0].At, out.UV[pins[0].Vertex])
		for i := range out.UV {
			out.UV[i] = r2.Add(out.UV[i], shift)
		}
	}
	l.out = append(l.out, FlatShell{Patch: p, Uv: out.UV, method: out.Method + ", pinned", placed: true})
	return nil
}
