package parts_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/models/modeltest"
)

// funnel is the outside of a chute: a straight tube of four walls with bevelled corners,
// a tapered one below it and a narrow straight one, n faces along each wall.
func funnel(t *testing.T, n int, turn func(r3.Vec) r3.Vec) *mesh.Mesh {
	t.Helper()
	w := meshtest.NewWelder()
	section := func(x, z, bevel, y float64) []r3.Vec { // eight corners, counter-clockwise from above
		return []r3.Vec{{X: x, Y: y, Z: bevel - z}, {X: x, Y: y, Z: z - bevel}, {X: x - bevel, Y: y, Z: z}, {X: bevel - x, Y: y, Z: z},
			{X: -x, Y: y, Z: z - bevel}, {X: -x, Y: y, Z: bevel - z}, {X: bevel - x, Y: y, Z: -z}, {X: x - bevel, Y: y, Z: -z}}
	}
	levels := [][]r3.Vec{section(3, 2, 0.06, 5), section(3, 2, 0.06, 3.6), section(1, 0.8, 0.05, 1), section(1, 0.8, 0.05, 0)}
	for l := 0; l+1 < len(levels); l++ {
		a, b := levels[l], levels[l+1]
		for i := range a {
			j := (i + 1) % len(a)
			at := func(u, v float64) mesh.PointID {
				up := r3.Add(r3.Scale(1-u, a[i]), r3.Scale(u, a[j]))
				down := r3.Add(r3.Scale(1-u, b[i]), r3.Scale(u, b[j]))
				return w.Point(turn(r3.Add(r3.Scale(1-v, up), r3.Scale(v, down))))
			}
			across := n
			if i%2 == 1 {
				across = 1 // a bevel
			}
			for x := range across {
				for y := range n {
					u0, u1, v0, v1 := float64(x)/float64(across), float64(x+1)/float64(across), float64(y)/float64(n), float64(y+1)/float64(n)
					w.Face(at(u0, v0), at(u0, v1), at(u1, v1), at(u1, v0))
				}
			}
		}
	}
	return w.Mesh(t)
}

// Walls that close round over bevels are one part each section, made of four planes,
// however the funnel lies.
func TestFunnelIsThreeRingsOfFourPlanes(t *testing.T) {
	s, c := math.Sincos(0.7)
	const n = 6
	for name, turn := range map[string]func(r3.Vec) r3.Vec{
		"upright": func(v r3.Vec) r3.Vec { return v },
		"turned and scaled": func(v r3.Vec) r3.Vec {
			return r3.Scale(300, r3.Vec{X: c*v.X - s*v.Y, Y: s*v.X + c*v.Y, Z: v.Z + 7})
		},
	} {
		found := recognise(t, funnel(t, n, turn))
		wantKinds(t, name, found, map[shape.Kind]int{shape.Extruded: 2, shape.Free: 1})
		for _, p := range found {
			walls := 0
			for _, q := range p.Pieces {
				if q.Fit.Kind != shape.Plane {
					t.Errorf("%s: a piece is %s", name, q.Fit.Kind)
				}
				if len(q.Faces) > n { // a bevel is one face wide
					walls++
				}
			}
			if walls != 4 || len(p.Pieces) != 8 {
				t.Errorf("%s: a %s of %d walls and %d pieces, want 4 and a bevel between any two", name, p.Fit.Kind, walls, len(p.Pieces))
			}
		}
	}
}

// A plate with bevelled rims closes round too, over its round side, but cannot lie flat so.
func TestPlatesWithBevelledRimsAreNoRing(t *testing.T) {
	m := modeltest.Mesh(t, "line-winch")
	for _, p := range recognise(t, m) {
		if p.Fit.Kind == shape.Free && len(p.Pieces) > 0 {
			t.Errorf("%d faces are a free form of %d pieces", len(p.Faces), len(p.Pieces))
		}
	}
}

// Bevels go whole with a wall or a plate, all round the link: a host that took only some of
// them would leave steps in the seam.
func TestBevelsGoWhole(t *testing.T) {
	const n = 12
	for _, rows := range []int{1, 2} {
		m := meshtest.Link(t, n, rows)
		found := recognise(t, m)
		if len(found) != 4 {
			t.Errorf("%d rows: %d parts %v, want two plates and two walls", rows, len(found), kindsOf(found))
		}
		ring := 2 * (n + 1) // faces round the link
		for _, p := range found {
			if len(p.Faces)%ring != 0 {
				t.Errorf("%d rows: a %s has %d faces, not whole rows of %d", rows, p.Fit.Kind, len(p.Faces), ring)
			}
		}
	}
}

// Many walls in one direction are a toothed wheel only if they reach from end to end.
func TestWallsOfAHouseAreNoTeeth(t *testing.T) {
	w := meshtest.NewWelder()
	steps := []r2.Vec{}
	for i := range 8 { // a ground plan with many corners
		a, b := float64(i), float64(i)+0.6
		steps = append(steps, r2.Vec{X: a, Y: 0}, r2.Vec{X: a, Y: -3}, r2.Vec{X: b, Y: -3}, r2.Vec{X: b, Y: 0})
	}
	steps = append(steps, r2.Vec{X: 8, Y: 0}, r2.Vec{X: 8, Y: 2}, r2.Vec{X: 0, Y: 2})
	raise := func(height func(i int) float64) *mesh.Mesh {
		for i, p := range steps {
			q := steps[(i+1)%len(steps)]
			h := height(i)
			w.Face(w.Point(r3.Vec{X: p.X, Z: p.Y}), w.Point(r3.Vec{X: p.X, Y: h, Z: p.Y}), w.Point(r3.Vec{X: q.X, Y: h, Z: q.Y}), w.Point(r3.Vec{X: q.X, Z: q.Y}))
		}
		return w.Mesh(t)
	}
	house := recognise(t, raise(func(i int) float64 { return 2 + float64(i%5) }))
	for _, p := range house {
		if p.Fit.Kind != shape.Plane {
			t.Fatalf("a wall of the house is %s of %d faces", p.Fit.Kind, len(p.Faces))
		}
	}
	w = meshtest.NewWelder()
	comb := recognise(t, raise(func(int) float64 { return 1 }))
	var whole *parts.Part
	for i := range comb {
		if comb[i].Fit.Kind == shape.Extruded {
			whole = &comb[i]
		}
	}
	if whole == nil || len(whole.Pieces) < 30 {
		t.Errorf("the comb is %v, want one extrusion that names its flats", kindsOf(comb))
	}
}
