package unroll

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// slit is a flat sheet of 4 by 4 cut from the rim to its middle; by is how far the points
// of one bank are pushed over the other.
func slit(t *testing.T, by float64) (*mesh.Patch, []r2.Vec) {
	m := meshtest.Grid(t, 4, 4, func(u, v float64) r3.Vec { return r3.Vec{X: 4 * u, Y: 4 * v} })
	p := mesh.NewPatch(m, meshtest.All(m), func(e mesh.EdgeID) bool {
		h := m.EdgeHalf(e)
		a, b := m.Points[m.From(h)], m.Points[m.To(h)]
		return a.Y == 2 && b.Y == 2 && a.X < 2.5 && b.X < 2.5
	})
	uv := make([]r2.Vec, len(p.Pos))
	for i, f := range p.Faces {
		for _, v := range p.CornerVert[p.FaceStart[i]:p.FaceStart[i+1]] {
			uv[v] = r2.Vec{X: p.Pos[v].X, Y: p.Pos[v].Y}
			if m.FaceCentre(f).Y < 2 && p.Pos[v].Y == 2 && p.Pos[v].X < 1.5 {
				uv[v].Y += by
			}
		}
	}
	return p, uv
}

// Banks that overlap by rounding part, without anybody noticing; by more they do not.
func TestLoosen(t *testing.T) {
	p, uv := slit(t, 2e-5)
	if !Tangled(p, uv) {
		t.Fatal("the banks should overlap")
	}
	was := append([]r2.Vec(nil), uv...)
	if !Loosen(p, uv) || Tangled(p, uv) {
		t.Error("the banks still overlap")
	}
	for v := range uv {
		if d := r2.Norm(r2.Sub(uv[v], was[v])); d > 1e-3 {
			t.Errorf("a point was moved by %g", d)
		}
	}
	if l2, angular := p.Stretch(uv); math.Abs(l2-1) > 1e-3 || angular > 1.001 {
		t.Errorf("L² %g, angular %g", l2, angular)
	}
	p, uv = slit(t, 0.2)
	was = append(was[:0], uv...)
	if Loosen(p, uv) {
		t.Error("banks that overlap by a fifth are no rounding")
	}
	for v := range uv {
		if uv[v] != was[v] {
			t.Error("and must be left alone")
			break
		}
	}
	p, uv = slit(t, 0)
	if !Loosen(p, uv) {
		t.Error("nothing overlaps here")
	}
}
