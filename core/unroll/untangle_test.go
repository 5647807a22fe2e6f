package unroll

import (
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// detour is a wall of two bands, the upper of which goes round a pocket that the lower one passes straight; it
// is cut where the pocket ends, and laid flat from there. Lengths are those of the sheet.
func detour(t *testing.T) (*mesh.Patch, []r2.Vec, func(mesh.EdgeID) bool) {
	w := meshtest.NewWelder()
	at := func(x, y, z float64) mesh.PointID { return w.Point(r3.Vec{X: x, Y: y, Z: z}) }
	var left []float64 // of each face on the sheet
	quad := func(x0, y0, x1, y1, z, s float64) {
		w.Face(at(x0, y0, z), at(x1, y1, z), at(x1, y1, z+1), at(x0, y0, z+1))
		left = append(left, s)
	}
	for x := range 9 {
		quad(float64(x), 0, float64(x+1), 0, 0, float64(x))
	}
	s := 0.
	for _, way := range [][4]float64{{0, 0, 1, 0}, {1, 0, 2, 0}, {2, 0, 3, 0}, {3, 0, 3, 1}, {3, 1, 3, 2}, {3, 2, 4, 2}, {4, 2, 5, 2}, {5, 2, 6, 2}, {6, 2, 6, 1}, {6, 1, 6, 0}} {
		quad(way[0], way[1], way[2], way[3], 1, s)
		s++
	}
	for x := 6; x < 9; x++ {
		quad(float64(x), 0, float64(x+1), 0, 1, float64(x))
	}
	m := w.Mesh(t)
	cut := func(e mesh.EdgeID) bool {
		h := m.EdgeHalf(e)
		a, b := m.Points[m.From(h)], m.Points[m.To(h)]
		return a.X == 6 && b.X == 6 && a.Y == 0 && b.Y == 0 && a.Z+b.Z == 3
	}
	p := mesh.NewPatch(m, meshtest.All(m), cut)
	uv := make([]r2.Vec, len(p.Pos))
	for i := range p.Faces {
		for k, v := range p.CornerVert[p.FaceStart[i]:p.FaceStart[i+1]] {
			uv[v] = r2.Vec{X: left[i] + []float64{0, 1, 1, 0}[k], Y: p.Pos[v].Z}
		}
	}
	return p, uv, cut
}

// A wall that lands on itself at one place comes apart there, and nowhere else.
func TestUntangleCutsOnlyWhereSomethingOverlaps(t *testing.T) {
	p, uv, cut := detour(t)
	if l2, _ := p.Stretch(uv); l2 > 1+1e-9 || !Tangled(p, uv) {
		t.Fatalf("the wall should land on itself without stretch, L² %g", l2)
	}
	all := slices.DeleteFunc(p.Mesh.EdgesWithin(p.Faces), cut)
	chain := Untangle(p, uv, all, cut)
	groups := p.Mesh.Connected(p.Faces, mesh.AlsoCut(cut, chain))
	if len(groups) > 3 || len(chain) > 4 {
		t.Errorf("%d shells by %d cuts, of %d edges", len(groups), len(chain), len(all))
	}
	for _, g := range groups {
		q := mesh.NewPatch(p.Mesh, g, mesh.AlsoCut(cut, chain))
		of := map[mesh.HalfedgeID]r2.Vec{}
		for c, h := range p.Corner {
			of[h] = uv[p.CornerVert[c]]
		}
		some := make([]r2.Vec, len(q.Pos))
		for c, h := range q.Corner {
			some[q.CornerVert[c]] = of[h]
		}
		if Tangled(q, some) {
			t.Errorf("%d faces still land on each other", len(g))
		}
	}
	if again := Untangle(p, uv, all, cut); !slices.Equal(again, chain) {
		t.Error("another time it is cut elsewhere")
	}
}

// Where the borders that there are do not separate what overlaps, all of them are taken.
func TestUntangleWithoutHelp(t *testing.T) {
	p, uv, cut := detour(t)
	chain := slices.DeleteFunc(p.Mesh.EdgesWithin(p.Faces), func(e mesh.EdgeID) bool {
		a, b := p.Mesh.EdgeFaces(e)
		return a == mesh.None || b == mesh.None || max(a, b) != 1 // between the first two faces alone
	})
	if got := Untangle(p, uv, chain, cut); !slices.Equal(got, chain) {
		t.Errorf("%v of %v", got, chain)
	}
}
