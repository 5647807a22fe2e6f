package parts_test

import (
	"fmt"
	"math"
	"strconv"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// exported is a mesh as a modeling program for solids writes it: of triangles, the
// coordinates cut off after six digits.
func exported(t *testing.T, m *mesh.Mesh) *mesh.Mesh {
	t.Helper()
	round := func(x float64) float64 {
		x, err := strconv.ParseFloat(fmt.Sprintf("%.6g", x), 64)
		if err != nil {
			t.Fatal(err)
		}
		return x
	}
	b := mesh.NewBuilder()
	for _, p := range m.Points {
		b.Point(r3.Vec{X: round(p.X), Y: round(p.Y), Z: round(p.Z)})
	}
	tris := m.Triangles()
	for _, c := range tris.Corner {
		b.Face(m.CornerPoint[c[0]], m.CornerPoint[c[1]], m.CornerPoint[c[2]])
	}
	out, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// A cone whose triangles all meet at its tip is a cone, flat or steep.
func TestConesThatMeetAtTheirTip(t *testing.T) {
	for _, n := range []int{12, 24, 30, 64} {
		for _, high := range []float64{0.3, 1, 2, 10} {
			m := meshtest.Lathe(t, n, r2.Vec{}, r2.Vec{X: 1}, r2.Vec{Y: high})
			found := recognise(t, exported(t, m))
			wantKinds(t, fmt.Sprintf("cone of %d, %g high", n, high), found, map[shape.Kind]int{shape.Cone: 1, shape.Plane: 1})
			for _, p := range found {
				if want := math.Atan(1 / high); p.Fit.Kind == shape.Cone && math.Abs(p.Fit.HalfAngle-want) > 0.3*math.Pi/180 {
					t.Errorf("cone of %d, %g high: half angle %.2f°, want %.2f°", n, high, p.Fit.HalfAngle*180/math.Pi, want*180/math.Pi)
				}
			}
		}
	}
}

// ball is rings of a sphere, n round, from an angle above the equator up, with the points at
// which a plane cuts the facets below; open at the top.
func ball(t *testing.T, n int, cut float64) *mesh.Mesh {
	t.Helper()
	step := 2 * math.Pi / float64(n)
	var profile []r2.Vec
	for a := -math.Pi/2 + step/2; a < math.Pi/2; a += step {
		s, c := math.Sincos(a)
		p := r2.Vec{X: 5 * c, Y: 5 * s}
		if p.Y <= cut {
			profile = []r2.Vec{p}
			continue
		}
		if len(profile) == 1 && profile[0].Y <= cut {
			q := profile[0]
			u := (cut - q.Y) / (p.Y - q.Y)
			profile = []r2.Vec{{}, r2.Add(q, r2.Scale(u, r2.Sub(p, q)))}
			profile[0].Y = cut
		}
		profile = append(profile, p)
	}
	return meshtest.Lathe(t, n, profile...)
}

// A ball cut anywhere is a sphere and a flat.
func TestCutBallsAreSpheres(t *testing.T) {
	for _, n := range []int{24, 40} {
		for _, cut := range []float64{-3, -0.2, 0, 1.1, 2.4} {
			wantKinds(t, fmt.Sprintf("ball of %d cut at %g", n, cut), recognise(t, exported(t, ball(t, n, cut))),
				map[shape.Kind]int{shape.Sphere: 1, shape.Plane: 1})
		}
	}
}

// Long facets of triangles beside each other are rows round the axis, not columns along it,
// though their diagonals nearly run on as the bends above and below do.
func TestLongTrianglesRoundAnAxis(t *testing.T) {
	m := meshtest.Lathe(t, 48, r2.Vec{X: 5}, r2.Vec{X: 6, Y: 2}, r2.Vec{X: 5.5, Y: 5}, r2.Vec{X: 3, Y: 10}, r2.Vec{X: 3.5, Y: 12})
	wantKinds(t, "vase", recognise(t, exported(t, m)), map[shape.Kind]int{shape.Cone: 2, shape.Turned: 1})
}

// However wide the chamfers of a box are, they and its corners are flats: no ring of walls.
func TestWideChamfersAreFlat(t *testing.T) {
	for _, b := range []float64{0.5, 0.8, 1, 1.6} {
		found := recognise(t, exported(t, bevelled(t, 20, 10, 6, b)))
		if n := kindsOf(found)[shape.Plane]; n != len(found) || n < 6 {
			t.Errorf("chamfers of %g: %d of %d parts are flat", b, n, len(found))
		}
	}
}

// A drum whose lids go over smoothly into its wall is a wall and two lids, of quads and of
// triangles: what looks along it is not one thing.
func TestDrumWithSoftRims(t *testing.T) {
	profile := []r2.Vec{{}, {X: 4}}
	for _, rim := range []struct{ y, from float64 }{{0.5, -90}, {9.5, 0}} {
		for k := range 4 {
			s, c := math.Sincos((rim.from + 30*float64(k)) * math.Pi / 180)
			profile = append(profile, r2.Vec{X: 4.5 + 0.5*c, Y: rim.y + 0.5*s})
		}
		if rim.from < 0 {
			profile = append(profile, r2.Vec{X: 5, Y: 1}, r2.Vec{X: 5, Y: 9})
		}
	}
	m := meshtest.Lathe(t, 32, append(profile, r2.Vec{X: 4, Y: 10}, r2.Vec{Y: 10})...)
	want := map[shape.Kind]int{shape.Turned: 1, shape.Plane: 2}
	wantKinds(t, "drum", recognise(t, m), want)
	wantKinds(t, "drum of triangles", recognise(t, exported(t, m)), want)
}
