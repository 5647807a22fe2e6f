package seam

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// torus is a closed quad torus of n × k faces.
func torus(t testing.TB, n, k int) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	for i := range n {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		for j := range k {
			sj, cj := math.Sincos(2 * math.Pi * float64(j) / float64(k))
			r := 3 + cj
			b.Point(r3.Vec{X: r * s, Y: sj, Z: r * c})
		}
	}
	id := func(i, j int) mesh.PointID { return mesh.PointID((i%n)*k + j%k) }
	for i := range n {
		for j := range k {
			b.Face(id(i, j), id(i+1, j), id(i+1, j+1), id(i, j+1))
		}
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// ball is a closed cube of 6 n × n faces blown up to a sphere.
func ball(t testing.TB) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	for _, p := range []r3.Vec{{X: -1, Y: -1, Z: -1}, {X: 1, Y: -1, Z: -1}, {X: 1, Y: 1, Z: -1}, {X: -1, Y: 1, Z: -1}, {X: -1, Y: -1, Z: 1}, {X: 1, Y: -1, Z: 1}, {X: 1, Y: 1, Z: 1}, {X: -1, Y: 1, Z: 1}} {
		b.Point(p)
	}
	for _, f := range [][4]mesh.PointID{{0, 3, 2, 1}, {4, 5, 6, 7}, {0, 1, 5, 4}, {2, 3, 7, 6}, {1, 2, 6, 5}, {0, 4, 7, 3}} {
		b.Face(f[:]...)
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func faces(m *mesh.Mesh) []mesh.FaceID {
	out := make([]mesh.FaceID, m.NumFaces())
	for i := range out {
		out[i] = mesh.FaceID(i)
	}
	return out
}

func TestOpeningsMakeDisks(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{"torus": torus(t, 16, 8), "ball": ball(t)} {
		never := func(mesh.EdgeID) bool { return false }
		chain, err := Openings(context.Background(), m, faces(m), never, shape.Fit{Kind: shape.Free}, func(mesh.EdgeID) float64 { return 1 }, func(*mesh.Patch) bool { return false })
		if err != nil {
			t.Fatal(err)
		}
		cut := map[mesh.EdgeID]bool{}
		for _, e := range chain {
			cut[e] = true
		}
		if p := mesh.NewPatch(m, faces(m), func(e mesh.EdgeID) bool { return cut[e] }); !p.IsDisk() {
			t.Errorf("%s: Euler %d, %d borders after %d cuts", name, p.Euler(), len(p.Borders()), len(chain))
		}
	}
}

func TestDivideMakesTwoConnectedHalves(t *testing.T) {
	m := torus(t, 24, 6)
	p := mesh.NewPatch(m, faces(m), func(mesh.EdgeID) bool { return false })
	cut := map[mesh.EdgeID]bool{}
	for _, e := range Divide(p) {
		cut[e] = true
	}
	region, n := m.Regions(func(e mesh.EdgeID) bool { return cut[e] })
	if n != 2 {
		t.Fatalf("%d pieces", n)
	}
	size := [2]int{}
	for _, r := range region {
		size[r]++
	}
	if size[0] < m.NumFaces()/3 || size[1] < m.NumFaces()/3 {
		t.Errorf("halves of %d and %d faces", size[0], size[1])
	}
}

func TestExposureOfATorus(t *testing.T) {
	m := torus(t, 24, 12)
	x := NewExposure(m, UpY, DefaultSides())
	if err := x.Prepare(context.Background(), faces(m), nil); err != nil {
		t.Fatal(err)
	}
	var top, below, inside float64
	for _, f := range faces(m) {
		v, n := x.Face(f), m.FaceNormals()[f]
		if v < 0 || v > 1+1e-9 {
			t.Fatalf("exposure %g", v)
		}
		c := m.FaceCentre(f)
		switch {
		case n.Y > 0.9:
			top = max(top, v)
		case n.Y < -0.9:
			below = max(below, v)
		case n.X*c.X+n.Z*c.Z < -2:
			inside = max(inside, v)
		}
	}
	// Faces turned down by 15° still see a little of the horizon.
	if !(below < top/3 && inside < below) {
		t.Errorf("top %g, below %g, inside %g", top, below, inside)
	}
}
