package unroll

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// upper is the plate of a chain link with the bevels beside it.
func upper(t *testing.T, rows int) (p *mesh.Patch, plate func(f mesh.FaceID) bool) {
	m := meshtest.Link(t, 12, rows)
	var faces []mesh.FaceID
	for f, n := range m.FaceNormals() {
		if n.Z > 0.1 {
			faces = append(faces, mesh.FaceID(f))
		}
	}
	return mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false }), func(f mesh.FaceID) bool { return m.FaceNormals()[f].Z > 0.999 }
}

// The plate keeps every length; what does not fit round its ends is in the bevels alone.
func TestBevelsGiveWay(t *testing.T) {
	for _, rows := range []int{1, 2, 4} {
		p, plate := upper(t, rows)
		uv, _, ok := Rigid(p)
		if !ok || flatten.Flips(p, uv) > 0 {
			t.Fatalf("%d rows: lies flat %v, %d triangles turned over", rows, ok, flatten.Flips(p, uv))
		}
		d, known := p.Differentials(uv)
		worst := 1.0
		for i := range d {
			if !known[i] {
				continue
			}
			s1, s2 := d[i].Stretch()
			if plate(p.Faces[p.TriFace[i]]) {
				if math.Abs(s1-1) > 1e-9 || math.Abs(s2-1) > 1e-9 {
					t.Fatalf("%d rows: the plate is stretched by %g, %g", rows, s1, s2)
				}
				continue
			}
			worst = max(worst, s1/s2)
		}
		if worst < 1.02 || worst > 1.6 {
			t.Errorf("%d rows: the bevels stretch up to %g", rows, worst)
		}
	}
}

// What bulges is no wall with bevels.
func TestRigidRefusesADome(t *testing.T) {
	m := meshtest.Grid(t, 8, 8, func(u, v float64) r3.Vec {
		x, y := 2*u-1, 2*v-1
		return r3.Vec{X: x, Y: y, Z: 1 - 0.4*(x*x+y*y)}
	})
	if _, gap, ok := Rigid(meshtest.Whole(m)); ok || gap == 0 {
		t.Errorf("a dome lies flat, gap %g", gap)
	}
}
