package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// planar looks along the axis: v up, u to the right of a reader the axis points at. A
// patch that looks away is read from behind where the two sides are apart.
func (f *frame) planar(p *mesh.Patch, apart bool) []r2.Vec {
	right := r3.Cross(f.v, f.axis)
	if apart && r3.Dot(meanNormal(p.Mesh, p.Faces), f.axis) < 0 {
		right = r3.Scale(-1, right)
	}
	return seen(p, f.o, right, f.v)
}

func seen(p *mesh.Patch, o, right, up r3.Vec) []r2.Vec {
	uv := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		d := r3.Sub(q, o)
		uv[i] = r2.Vec{X: r3.Dot(d, right), Y: r3.Dot(d, up)}
	}
	return uv
}

func meanNormal(m *mesh.Mesh, faces []mesh.FaceID) (n r3.Vec) {
	for _, f := range faces {
		n = r3.Add(n, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f]))
	}
	return n
}

// Away returns the faces that a planar projection would turn over, those that lie edge
// on aside: they land on those in front of them.
func (pr *Projection) Away(m *mesh.Mesh, faces []mesh.FaceID) (out []mesh.FaceID) {
	if pr.Kind != Flat || pr.Apart {
		return nil
	}
	axis := mesh.Unit(pr.Axis)
	for _, f := range faces {
		if r3.Dot(m.FaceNormals()[f], axis) < -1e-6 {
			out = append(out, f)
		}
	}
	if len(out) == len(faces) {
		return nil // all of it is seen from behind: it is mirrored, not doubled
	}
	return out
}

// side numbers the six sides of a box: the axis, twice its number and one more if it
// looks the other way.
type side int8

func (f *frame) normal(s side) r3.Vec {
	n := [3]r3.Vec{f.axis, f.v, f.u}[s/2]
	if s%2 == 1 {
		return r3.Scale(-1, n)
	}
	return n
}

// lean is the largest angle by which a face may lean away from the side it is given to
// against its own, for the sake of its neighbours.
const lean = 60 * math.Pi / 180

// boxSides gives each face to the side it looks to most, then lets faces that are
// surrounded by another side go along with it, so that no single ones flicker.
func boxSides(m *mesh.Mesh, faces []mesh.FaceID, f *frame) map[mesh.FaceID]side {
	of := make(map[mesh.FaceID]side, len(faces))
	n := m.FaceNormals()
	for _, g := range faces {
		best := math.Inf(-1)
		for s := range side(6) {
			if d := r3.Dot(n[g], f.normal(s)); d > best+1e-9 {
				best, of[g] = d, s
			}
		}
	}
	for range 12 {
		changed := false
		for _, g := range faces {
			var border [6]float64
			var all float64
			lo, hi := m.Corners(g)
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t == mesh.None {
					continue
				}
				if s, ok := of[m.FaceOf(t)]; ok {
					l := m.EdgeLength(m.Edge(h))
					border[s] += l
					all += l
				}
			}
			for s := range side(6) {
				if s != of[g] && border[s] > 0.5*all*(1+1e-9) && r3.Dot(n[g], f.normal(s)) > math.Cos(lean) {
					of[g], changed = s, true
					break
				}
			}
		}
		if !changed {
			break
		}
	}
	return of
}

// boxed looks at a patch from the side most of it looks to, up where up is.
func (f *frame) boxed(p *mesh.Patch, up r3.Vec) []r2.Vec {
	mean := meanNormal(p.Mesh, p.Faces)
	best := side(0)
	for s := range side(6) {
		if r3.Dot(mean, f.normal(s)) > r3.Dot(mean, f.normal(best))+1e-9*r3.Norm(mean) {
			best = s
		}
	}
	n := f.normal(best)
	v := f.axis
	if best/2 == 0 { // seen along the axis
		v = f.v
	}
	return seen(p, f.o, r3.Cross(v, n), v)
}
