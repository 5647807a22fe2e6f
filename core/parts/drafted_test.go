package parts

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// corner is one of an outline, with the radius it is rounded by.
type corner struct{ x, y, r float64 }

// ring is how far within its outline a drafted body is at a height, and what it is from the ring before: the
// number of a floor or wall, or filletMark.
type ring struct {
	in, up float64
	what   int
}

const filletMark = -1

// outline rounds the corners of a polygon, counter-clockwise; ways are the outward normals of its points.
func outline(corners []corner) (points, ways []r2.Vec) {
	n := len(corners)
	for k, c := range corners {
		p := r2.Vec{X: c.x, Y: c.y}
		before, after := corners[(k+n-1)%n], corners[(k+1)%n]
		u := r2.Unit(r2.Sub(p, r2.Vec{X: before.x, Y: before.y}))
		v := r2.Unit(r2.Sub(r2.Vec{X: after.x, Y: after.y}, p))
		turn := math.Atan2(r2.Cross(u, v), r2.Dot(u, v))
		way := r2.Vec{X: u.Y, Y: -u.X}
		r := math.Copysign(c.r, turn)
		middle := r2.Sub(r2.Sub(p, r2.Scale(c.r*math.Tan(math.Abs(turn)/2), u)), r2.Scale(r, way))
		const steps = 6
		for s := range steps + 1 {
			w := r2.Rotate(way, turn*float64(s)/steps, r2.Vec{})
			points, ways = append(points, r2.Add(middle, r2.Scale(r, w))), append(ways, w)
		}
	}
	return points, ways
}

// body builds a drafted body from its outline and rings, closed by a polygon at both ends; what tells for each
// face the floor or wall it is of, or filletMark.
func body(t *testing.T, corners []corner, rings []ring, last int, triangles bool, at func(r3.Vec) r3.Vec) (m *mesh.Mesh, what []int) {
	points, ways := outline(corners)
	w := meshtest.NewWelder()
	rows := make([][]mesh.PointID, len(rings))
	for k, r := range rings {
		for i, p := range points {
			q := r2.Sub(p, r2.Scale(r.in, ways[i]))
			rows[k] = append(rows[k], w.Point(at(r3.Vec{X: q.X, Y: q.Y, Z: r.up})))
		}
	}
	face := func(as int, p ...mesh.PointID) {
		w.Face(p...)
		what = append(what, as)
	}
	n := len(points)
	base := make([]mesh.PointID, n)
	for i, p := range rows[0] {
		base[n-1-i] = p
	}
	face(rings[0].what, base...)
	for k := 1; k < len(rows); k++ {
		for i := range n {
			j := (i + 1) % n
			a, b, c, d := rows[k-1][i], rows[k-1][j], rows[k][j], rows[k][i]
			switch {
			case !triangles || rings[k].what == filletMark:
				face(rings[k].what, a, b, c, d)
			case (i+k)%2 == 0:
				face(rings[k].what, a, b, c)
				face(rings[k].what, a, c, d)
			default:
				face(rings[k].what, a, b, d)
				face(rings[k].what, b, c, d)
			}
		}
	}
	face(last, rows[len(rows)-1]...)
	return w.Mesh(t), what
}

// fillet lists rings of a quarter turn from one place to another; flat tells whether it begins along a floor.
func fillet(from, to ring, flat bool) (out []ring) {
	const rows = 4
	for k := 1; k <= rows; k++ {
		s, c := math.Sincos(math.Pi / 2 * float64(k) / rows)
		x, y := 1-c, s
		if flat {
			x, y = s, 1-c
		}
		out = append(out, ring{from.in + x*(to.in-from.in), from.up + y*(to.up-from.up), filletMark})
	}
	return out
}

// Bodies with rounded outlines come apart into their floors and walls, each fillet whole with one of them,
// whatever the outline, the draft and the mesh.
func TestDraftedBodies(t *testing.T) {
	slab := func(x, y, r float64) []corner { return []corner{{-x, -y, r}, {x, -y, r}, {x, y, r}, {-x, y, r}} }
	straight := func(in, high, r float64) []ring { // floor, fillet, wall, fillet, floor
		out := append([]ring{{in + r, 0, 0}}, fillet(ring{in + r, 0, 0}, ring{in, r, 0}, true)...)
		out = append(out, ring{in, high - r, 1})
		return append(out, fillet(ring{in, high - r, 0}, ring{in + r, high, 0}, false)...)
	}
	tray := append([]ring{{10, 0, 0}, {0, 20, 1}}, fillet(ring{0, 20, 0}, ring{1, 21, 0}, false)...)
	tray = append(tray, ring{2.5, 21, 2})
	tray = append(tray, fillet(ring{2.5, 21, 0}, ring{3.5, 20, 0}, true)...)
	tray = append(tray, ring{9, 5, 3})
	tray = append(tray, fillet(ring{9, 5, 0}, ring{11, 2, 0}, false)...)
	key := append([]ring{{0, 0, 0}, {3, 7, 1}}, fillet(ring{3, 7, 0}, ring{3.8, 7.8, 0}, false)...)
	for name, c := range map[string]struct {
		corners []corner
		rings   []ring
		last    int
		parts   int
	}{
		"case":     {slab(35, 75, 9), straight(0, 8, 1.5), 2, 3},
		"flat":     {slab(24, 80, 12), straight(0, 16, 3.5), 2, 3},
		"angle":    {[]corner{{0, 0, 6}, {60, 0, 6}, {60, 20, 6}, {22, 20, 5}, {22, 50, 6}, {0, 50, 6}}, straight(0, 12, 2), 2, 3},
		"triangle": {[]corner{{0, -30, 8}, {40, 30, 14}, {-35, 22, 5}}, straight(0, 9, 2), 2, 3},
		"tray":     {slab(60, 40, 14), tray, 4, 5},
		"key":      {slab(13, 9, 4.2), key, 2, 3},
	} {
		for _, triangles := range []bool{false, true} {
			odd := r3.NewRotation(0.7, r3.Vec{X: 0.3, Y: 1, Z: -0.4})
			m, what := body(t, c.corners, c.rings, c.last, triangles, func(p r3.Vec) r3.Vec { return r3.Scale(1.7, odd.Rotate(p)) })
			parts, err := Recognise(context.Background(), m, Default(), nil)
			if err != nil {
				t.Fatal(err)
			}
			if len(parts) != c.parts {
				t.Errorf("%s (triangles: %v): %d parts, want %d", name, triangles, len(parts), c.parts)
			}
			of := map[int]int{}
			for k, p := range parts {
				for _, f := range p.Faces {
					if was, ok := of[what[f]]; ok && was != k && what[f] != filletMark {
						t.Errorf("%s (triangles: %v): floor or wall %d is in two parts", name, triangles, what[f])
					}
					of[what[f]] = k
				}
			}
			for _, p := range parts {
				count := 0
				for _, f := range p.Faces {
					if what[f] == filletMark {
						count++
					}
				}
				points, _ := outline(c.corners)
				if count%(4*len(points)) != 0 {
					t.Errorf("%s (triangles: %v): a part has %d faces of fillets, not all of one", name, triangles, count)
				}
			}
		}
	}
}

// What is round about an axis is read by its profile, and what has no floor or no wall all round is no drafted body.
func TestDraftedOnly(t *testing.T) {
	circle := []corner{{-9, -9, 9}, {9, -9, 9}, {9, 9, 9}, {-9, 9, 9}}
	rings := append([]ring{{1, 0, 0}}, fillet(ring{1, 0, 0}, ring{0, 1, 0}, true)...)
	rings = append(rings, ring{0, 12, 1})
	m, _ := body(t, circle, rings, 2, false, func(p r3.Vec) r3.Vec { return p })
	parts, err := Recognise(context.Background(), m, Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	walls := 0
	for _, p := range parts {
		if p.Fit.Kind == shape.Cylinder || p.Fit.Kind == shape.Turned {
			walls++
		}
	}
	if walls != 1 {
		t.Errorf("a can has %d round walls", walls)
	}
}
