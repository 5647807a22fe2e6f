package document

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/mesh"
)

// GrainFor is the grain of a part that has no wish of its own: that of its material, as
// far as the part can have it, or what suits its shape.
func (s *State) GrainFor(m *mesh.Mesh, faces []mesh.FaceID, p *Part) flow.Grain {
	material := MaterialOf(m, faces)
	for _, w := range s.Wishes.Grains {
		if w.Material != material {
			continue
		}
		if g, err := w.Grain(m, faces, p); err == nil {
			return g
		}
	}
	return flow.DefaultGrain(m, faces, p.Fit)
}

// followNeighbours gives walls that are about as long around as along the grain of what
// goes on smoothly from them: a straight of a bent pipe takes that of the pipe.
func (s *Tx) followNeighbours(m *mesh.Mesh, fresh func(PartID) bool) {
	const smooth = 20 * math.Pi / 180
	all := s.PartFaces()
	balanced := make([]bool, len(all))
	for p, faces := range all {
		balanced[p] = flow.Balanced(m, faces, s.Parts[p].Fit)
	}
	for p, faces := range all {
		part := s.Parts[p]
		wished := slices.ContainsFunc(s.Wishes.Grains, func(w MaterialGrain) bool { return w.Material == MaterialOf(m, faces) })
		if !balanced[p] || !fresh(PartID(p)) || part.GrainOwn || wished {
			continue
		}
		along := 0.0 // length of border with what runs along, less that with what runs around
		for _, f := range faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t == mesh.None || s.PartOf(m.FaceOf(t)) == PartID(p) || math.Abs(m.Dihedral(m.Edge(h))) > smooth {
					continue
				}
				if q := s.PartOf(m.FaceOf(t)); q >= 0 && !balanced[q] {
					along += m.EdgeLength(m.Edge(h)) * s.Parts[q].runsAlong(part.Fit.Axis)
				}
			}
		}
		switch {
		case along > 0:
			s.Part(PartID(p)).Grain, _ = flow.AxisGrain(part.Fit, flow.Along)
		case along < 0:
			s.Part(PartID(p)).Grain, _ = flow.AxisGrain(part.Fit, flow.Around)
		}
	}
}

// MaterialOf is the material most of the area of faces has.
func MaterialOf(m *mesh.Mesh, faces []mesh.FaceID) (name string) {
	area := map[string]float64{}
	for _, f := range faces {
		n := m.MaterialName(f)
		area[n] += m.FaceAreas()[f]
		if area[n] > area[name]*(1+1e-9) {
			name = n
		}
	}
	return name
}

// PartsOfMaterials are the parts mostly of some materials that have no grain of their own.
func (s *State) PartsOfMaterials(m *mesh.Mesh, faces [][]mesh.FaceID, names []string) map[PartID]bool {
	out := map[PartID]bool{}
	for p := range s.Parts {
		if !s.Parts[p].GrainOwn && slices.Contains(names, MaterialOf(m, faces[p])) {
			out[PartID(p)] = true
		}
	}
	return out
}

// Grain is what a wish comes to for a part, or a refusal that says why it cannot have it.
func (w *GrainWish) Grain(m *mesh.Mesh, faces []mesh.FaceID, p *Part) (g flow.Grain, err error) {
	switch w.Of {
	case GrainNone:
		return flow.Grain{}, nil
	case GrainAlong, GrainAround:
		mode, ok := flow.Along, false
		if w.Of == GrainAround {
			mode = flow.Around
		}
		if g, ok = flow.AxisGrain(p.Fit, mode); !ok {
			return g, Refuse("%s reads as %s and has no axis to run along or around; draw a stroke on it instead", p.Name, p.Fit.Kind)
		}
	case GrainLoops:
		if g = flow.LoopGrain(m, faces, p.Fit); g.Mode == flow.None {
			return g, Refuse("the loops of %s have no common direction; draw a stroke on it instead", p.Name)
		}
	case GrainToward:
		l := r3.Norm(w.Direction)
		if !(l > 1e-12 && l < 1e12) {
			return g, Refuse("this stroke has no direction")
		}
		g = flow.Grain{Mode: flow.Toward, Axis: r3.Scale(1/l, w.Direction)}
	case GrainChain:
		if err := CheckEdges(m, w.Edges); err != nil {
			return g, err
		}
		g = flow.ChainGrain(m, w.Edges)
	default:
		return g, Refuse("there is no grain %q", w.Of)
	}
	g.Sense = w.Sense
	return g, nil
}

// EachWish visits the triangles of a patch whose part wishes a direction, by their face in it.
func (s *State) EachWish(p *mesh.Patch, uv []r2.Vec, visit func(face int32, g flow.Grain, d mesh.Differential, wish, normal r3.Vec)) {
	d, ok := p.Differentials(uv)
	for i := range d {
		if !ok[i] {
			continue
		}
		f := p.Faces[p.TriFace[i]]
		g, n := s.Grain(int(s.PartOf(f))), p.Mesh.FaceNormals()[f]
		if w, has := g.At(p.Mesh.FaceCentre(f), n); has {
			visit(p.TriFace[i], g, d[i], w, n)
		}
	}
}
