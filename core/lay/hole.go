package lay

import (
	"context"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/unroll"
)

// around returns the shell that most of the border of faces touches over edges that are
// not cut.
func around(s *document.State, m *mesh.Mesh, faces []mesh.FaceID, of []int32) (shell int32) {
	in := ids.Set(faces)
	length := map[int32]float64{}
	shell = mesh.None
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None || in[m.FaceOf(t)] || s.Map.IsCut(m.Edge(h)) {
				continue
			}
			if k := of[m.FaceOf(t)]; k != mesh.None {
				length[k] += m.EdgeLength(m.Edge(h))
				if shell == mesh.None || length[k] > length[shell]*(1+1e-9) {
					shell = k
				}
			}
		}
	}
	return shell
}

// besides are the shells of all faces but some.
func besides(s *document.State, faces []mesh.FaceID) (of []int32) {
	rest := s.Map.Draft()
	for _, f := range faces {
		rest.SetMapped(f, false)
	}
	_, of = rest.Shells()
	return of
}

// IntoHole flattens faces that hang together into the hole that they leave in what lies around them, which
// keeps its place to the last bit. of tells which faces lie as one, None where they lie nowhere; nil stands
// for shells. It is refused where they do not fit.
func IntoHole(ctx context.Context, s *document.Tx, faces []mesh.FaceID, of []int32) error {
	m := s.Map.Mesh()
	if of == nil {
		of = besides(s.State, faces)
	}
	shell := around(s.State, m, faces, of)
	if shell == mesh.None {
		return document.Refuse("there is no hole to fill: nothing that is mapped lies beside these %d faces; flatten them as a shell", len(faces))
	}
	in := ids.Set(faces)
	p := s.Map.Patch(faces)
	place := map[int32]r2.Vec{} // exactly, on the sheet
	for c, h := range p.Corner {
		t := m.Twin(h)
		if t == mesh.None || in[m.FaceOf(t)] || s.Map.IsCut(m.Edge(h)) {
			continue
		}
		if of[m.FaceOf(t)] != shell {
			if of[m.FaceOf(t)] != mesh.None { // it lies elsewhere: a seam
				s.Map.SetCut(m.Edge(h), true)
			}
			continue
		}
		a, b := p.Ends(int32(c))
		place[a], place[b] = s.Map.At(m.Next(t)), s.Map.At(t)
	}
	var shellFaces []mesh.FaceID
	for f, k := range of {
		if k == shell {
			shellFaces = append(shellFaces, mesh.FaceID(f))
		}
	}
	density := s.Map.Density(shellFaces)
	if !(density > 0) {
		return document.Refuse("the shell around these faces has no size on the sheet; flatten it first")
	}
	keep := flatten.Constraints{}
	for v := range p.Pos {
		if q, ok := place[int32(v)]; ok {
			keep.Pins = append(keep.Pins, flatten.Pin{Vertex: int32(v), At: r2.Scale(1/density, q)})
		}
	}
	uv, err := intoHole(ctx, p, keep)
	if err != nil {
		return err
	}
	if n := flatten.Flips(p, uv); n > 0 {
		return document.Refuse("these faces do not fit into their hole: %d would turn over; pick some faces around them as well", n)
	}
	atlas.Scale(uv, density)
	for v, q := range place {
		uv[v] = q
	}
	s.Map.Set(p, uv)
	union := slices.Concat(shellFaces, faces)
	slices.Sort(union)
	if q := s.Map.Patch(union); unroll.Tangled(q, s.Map.Get(q)) {
		return document.Refuse("these faces do not fit into their hole: they would lie on faces around it; pick some of those as well")
	}
	return nil
}

// intoHole flattens a patch between pins: from its own flat map where it is a disk, from
// one stretched between the pins otherwise or where that turns over less.
func intoHole(ctx context.Context, p *mesh.Patch, keep flatten.Constraints) ([]r2.Vec, error) {
	set := flatten.Settings{Method: flatten.Even, Keep: keep}
	var best []r2.Vec
	flips := 0
	if p.IsDisk() {
		r, err := flatten.Flatten(ctx, p, set)
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err == nil {
			best, flips = r.UV, r.Flips
		}
	}
	if best != nil && flips == 0 {
		return best, nil
	}
	start, err := flatten.Between(ctx, p, keep)
	if err != nil {
		return nil, err
	}
	r, err := flatten.Improve(ctx, p, start, set)
	if err != nil {
		return nil, err
	}
	if best == nil || r.Flips < flips {
		best = r.UV
	}
	return best, nil
}
