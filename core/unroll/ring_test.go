package unroll_test

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// rimmed is the profile of a wall with a round of so many rows at its lower rim.
func rimmed(round float64, rows int) (profile []r2.Vec) {
	for k := range rows + 1 {
		s, c := math.Sincos(math.Pi / 2 * (1 - float64(k)/float64(rows)))
		profile = append(profile, r2.Vec{X: round * (c - 1), Y: round * (1 - s)})
	}
	return append(profile, r2.Vec{Y: 6})
}

// opened is a mesh cut along the ruling that it is said to be opened at.
func opened(t *testing.T, m *mesh.Mesh) *mesh.Patch {
	t.Helper()
	chain := unroll.Straightens(meshtest.Whole(m))
	if chain == nil {
		t.Fatal("it does not lie straight as a ring")
	}
	return mesh.NewPatch(m, meshtest.All(m), mesh.AlsoCut(func(mesh.EdgeID) bool { return false }, chain))
}

// A band round a body that is not round lies as a rectangle, its loops straight, of quads and of triangles alike.
func TestBandsLieStraight(t *testing.T) {
	bead := []r2.Vec{{}, {X: 0.2, Y: 0.4}, {X: 0.2, Y: 0.8}, {Y: 1.2}}
	for name, m := range map[string]*mesh.Mesh{
		"a bead":              meshtest.Hoop(t, 14, 6, 3, 5, bead...),
		"a bead of triangles": meshtest.Alternating(t, meshtest.Hoop(t, 14, 6, 3, 5, bead...)),
	} {
		p := opened(t, m)
		r, err := unroll.Unroll(context.Background(), p, shape.Fit{Kind: shape.Swept}, flatten.Settings{})
		if err != nil {
			t.Fatal(err)
		}
		levels := map[float64]bool{}
		for _, q := range r.UV {
			levels[math.Round(q.X*1e9)] = true
		}
		across := map[float64]bool{}
		for _, q := range r.UV {
			across[math.Round(q.Y*1e9)] = true
		}
		if n := min(len(levels), len(across)); n != len(bead) {
			t.Errorf("%s lies on %d lines, want %d", name, n, len(bead))
		}
		if flips := flatten.Flips(p, r.UV); flips > 0 {
			t.Errorf("%s: %d flips", name, flips)
		}
	}
}

// What is wide keeps its lengths, and a bevel round it gives way.
func TestBevelsOfABandGiveWay(t *testing.T) {
	m := meshtest.Hoop(t, 10, 4, 2, 5, rimmed(0.5, 3)...)
	p := opened(t, m)
	uv, ok := unroll.Ring(p)
	if !ok {
		t.Fatal("it is no ring")
	}
	var wall []mesh.FaceID
	for _, f := range p.Faces {
		if math.Abs(m.FaceNormals()[f].Y) < 1e-9 {
			wall = append(wall, f)
		}
	}
	of := map[mesh.HalfedgeID]r2.Vec{}
	for c, h := range p.Corner {
		of[h] = uv[p.CornerVert[c]]
	}
	for _, f := range wall {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			flat, long := r2.Norm(r2.Sub(of[m.Next(h)], of[h])), m.EdgeLength(m.Edge(h))
			if math.Abs(flat/long-1) > 2e-3 {
				t.Errorf("an edge of the wall is %g times as long", flat/long)
			}
		}
	}
}

// Bands that would stretch too much, cones, disks and tubes with a handle stay as they are.
func TestNotEverythingIsARing(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{
		"a funnel": meshtest.Hoop(t, 14, 6, 3, 5, r2.Vec{X: -2}, r2.Vec{X: 3, Y: 1}, r2.Vec{X: 9, Y: 2}),
		"a board":  meshtest.Prism(t, 1, meshtest.Circle(3, 12)...),
	} {
		if chain := unroll.Straightens(meshtest.Whole(m)); chain != nil {
			t.Errorf("%s lies straight", name)
		}
	}
	p := meshtest.Whole(meshtest.Hoop(t, 14, 6, 3, 5, r2.Vec{}, r2.Vec{Y: 1}))
	if _, ok := unroll.Ring(p); ok {
		t.Error("what is not opened lies as a ring")
	}
}
