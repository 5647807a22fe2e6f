package parts

import (
	"context"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// loft builds a grid of faces between sections, each closed if around; ends are faces too if ends.
func loft(t *testing.T, around, ends bool, sections ...[]r3.Vec) *mesh.Mesh {
	w := meshtest.NewWelder()
	points := func(section []r3.Vec) (out []mesh.PointID) {
		for _, p := range section {
			out = append(out, w.Point(p))
		}
		return out
	}
	for k := 1; k < len(sections); k++ {
		a, b := points(sections[k-1]), points(sections[k])
		n := len(a)
		if !around {
			n--
		}
		for i := range n {
			j := (i + 1) % len(a)
			w.Face(a[i], a[j], b[j], b[i])
		}
	}
	if ends {
		first, last := points(sections[0]), points(sections[len(sections)-1])
		slices.Reverse(first)
		w.Face(first...)
		w.Face(last...)
	}
	return w.Mesh(t)
}

// oval is a section across z.
func oval(n int, wide, thick, z float64, at func(r3.Vec) r3.Vec) (out []r3.Vec) {
	for k := range n {
		s, c := math.Sincos(2 * math.Pi * float64(k) / float64(n))
		out = append(out, at(r3.Vec{X: wide * c, Y: thick * s, Z: z}))
	}
	return out
}

// counted reads a mesh as it is and with its faces split, and wants so many parts, as many faces in the largest of a kind.
func counted(t *testing.T, name string, m *mesh.Mesh, parts, faces int, kind shape.Kind) {
	t.Helper()
	for split, m := range []*mesh.Mesh{m, meshtest.Alternating(t, m)} {
		found, err := Recognise(context.Background(), m, Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		most := 0
		for _, p := range found {
			if p.Fit.Kind == kind {
				most = max(most, len(p.Faces))
			}
		}
		if want := faces * (1 + split); len(found) != parts || most != want {
			t.Errorf("%s, each face in %d: %d parts, want %d; %d faces in the largest %s, want %d", name, 1+split, len(found), parts, most, kind, want)
		}
	}
}

// Spokes, levers and oval rings are one part although their narrow sides bend by more than a crease; a wing, which is
// sharp behind, keeps its two sides, and an octagonal bar its flats.
func TestOvals(t *testing.T) {
	same := func(p r3.Vec) r3.Vec { return p }
	var spoke, lever, ring, wing, octagon [][]r3.Vec
	for k := range 9 {
		z := float64(k)
		spoke = append(spoke, oval(14, 1.9-0.06*z, 1.1-0.03*z, 1.6*z, same))
		lever = append(lever, oval(14, 0.7+0.05*z, 0.45-0.025*z, 0, func(p r3.Vec) r3.Vec {
			return r3.Vec{X: p.X, Y: p.Y + 0.03*z*z, Z: z}
		}))
		octagon = append(octagon, oval(8, 1, 1, z, same))
		var foil []r3.Vec
		for _, x := range []float64{1, 0.8, 0.55, 0.3, 0.1, 0.02, 0.02, 0.1, 0.3, 0.55, 0.8} {
			foil = append(foil, r3.Vec{X: 4 * x, Y: 0.5 * math.Sqrt(x) * (1 - x) * 4, Z: 2 * z})
			if len(foil) > 6 {
				foil[len(foil)-1].Y *= -1
			}
		}
		wing = append(wing, foil)
	}
	for k := range 41 {
		s, c := math.Sincos(2 * math.Pi * float64(k%40) / 40)
		ring = append(ring, oval(10, 0.42, 0.3, 0, func(p r3.Vec) r3.Vec {
			return r3.Vec{X: (1.7 + p.X) * c, Y: (2.6 + p.X) * s, Z: p.Y}
		}))
	}
	counted(t, "spoke", loft(t, true, true, spoke...), 3, 8*14, shape.Swept)
	counted(t, "lever", loft(t, true, true, lever...), 3, 8*14, shape.Swept)
	counted(t, "ring", loft(t, true, false, ring...), 1, 40*10, shape.Swept)
	counted(t, "octagonal bar", loft(t, true, true, octagon...), 10, 0, shape.Swept)
	found, err := Recognise(context.Background(), loft(t, true, true, wing...), Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range found {
		if len(p.Faces) > 8*6 {
			t.Errorf("wing: a part of %d faces goes round its edges", len(p.Faces))
		}
	}
}

// A baluster is one turned part though each row of its belly is some cone; the lid of a kettle's bottom is none of it.
func TestVases(t *testing.T) {
	profile := []r2.Vec{{X: 1.3}, {X: 1.3, Y: 8}}
	for k := 1; k < 7; k++ {
		profile = append(profile, r2.Vec{X: 1.3 + 0.9*math.Sin(math.Pi*float64(k)/6), Y: 8 + 10*float64(k)/6})
	}
	profile = append(profile, r2.Vec{X: 0.9, Y: 60})
	counted(t, "baluster", meshtest.Lathe(t, 10, profile...), 1, 80, shape.Turned)

	kettle := []r2.Vec{{}, {X: 8}}
	for k := 1; k < 4; k++ {
		s, c := math.Sincos(math.Pi / 6 * float64(k))
		kettle = append(kettle, r2.Vec{X: 8 + 0.8*s, Y: 0.8 - 0.8*c})
	}
	for k := 1; k < 9; k++ {
		u := float64(k) / 8
		kettle = append(kettle, r2.Vec{X: 8.8 - 3.2*math.Pow(u, 1.6), Y: 0.8 + 11*u})
	}
	found, err := Recognise(context.Background(), meshtest.Lathe(t, 40, kettle...), Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(found) != 2 || found[0].Fit.Kind != shape.Turned || found[1].Fit.Kind != shape.Plane {
		t.Errorf("kettle: %d parts, the first a %s", len(found), found[0].Fit.Kind)
	}
}

// The top of a handrail is one bent part from end to end.
func TestGutters(t *testing.T) {
	section := []r2.Vec{{X: -2.2, Y: 1.4}, {X: -1.2, Y: 2.1}, {Y: 2.3}, {X: 1.2, Y: 2.1}, {X: 2.2, Y: 1.4}}
	var rows [][]r3.Vec
	for k, x := range []float64{0, 20, 24, 28, 50, 80, 120} {
		up := max(0, x-24) * 0.7
		if k == 3 {
			up *= 0.8
		}
		var row []r3.Vec
		for _, p := range section {
			row = append(row, r3.Vec{X: x - 0.3*p.Y*up/max(up, 1), Y: p.X, Z: up + p.Y})
		}
		rows = append(rows, row)
	}
	counted(t, "handrail", loft(t, false, false, rows...), 1, 24, shape.Swept)
}

// A bar bent more than half round is a bar, not a wall about the middle of its bend.
func TestBarBentFarRound(t *testing.T) {
	var sections [][]r3.Vec
	for k := range 22 {
		s, c := math.Sincos(-0.15 + (math.Pi+0.3)*float64(k)/21)
		sections = append(sections, oval(12, 0.8, 0.5, 0, func(p r3.Vec) r3.Vec {
			return r3.Vec{X: (7.4 + p.Y) * c, Y: p.X, Z: (7.4 + p.Y) * s}
		}))
	}
	counted(t, "handle", loft(t, true, false, sections...), 1, 21*12, shape.Swept)
}

// A twisted blade is no extrusion.
func TestTwistedBlade(t *testing.T) {
	var rows [][]r3.Vec
	for k := range 7 {
		turn, chord := 0.5+0.125*float64(k), 5+0.25*float64(k)
		s, c := math.Sincos(turn)
		var row []r3.Vec
		for i := range 11 {
			x := 0.5 * (1 - math.Cos(math.Pi*float64(i)/10))
			p := r2.Scale(chord, r2.Vec{X: x - 0.4, Y: 0.25*x*(1-x) + 0.1*math.Sqrt(x)*(1-x)})
			row = append(row, r3.Vec{X: 6 + 2*float64(k), Y: p.X*c - p.Y*s, Z: p.X*s + p.Y*c})
		}
		rows = append(rows, row)
	}
	found, err := Recognise(context.Background(), loft(t, false, false, rows...), Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range found {
		if p.Fit.Kind == shape.Extruded && len(p.Faces) > 12 {
			t.Errorf("%d faces are an extrusion", len(p.Faces))
		}
	}
}
