package parts

import (
	"context"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// cage is the surface of what lies inside something, of quads, with lines of its grid close to its edges, which
// round when it is subdivided.
func cage(t *testing.T, marks [3][]float64, near float64, inside func(x, y, z float64) bool) *mesh.Mesh {
	var lines [3][]float64
	for axis, at := range marks {
		for k, x := range at {
			if k > 0 {
				lines[axis] = append(lines[axis], x-near)
			}
			lines[axis] = append(lines[axis], x)
			if k+1 < len(at) {
				lines[axis] = append(lines[axis], x+near)
			}
		}
	}
	return cells(t, lines, inside)
}

// cells is the surface of the cells of a grid that lie inside something, of quads.
func cells(t *testing.T, lines [3][]float64, inside func(x, y, z float64) bool) *mesh.Mesh {
	full := func(c [3]int) bool {
		var at [3]float64
		for axis, i := range c {
			if i < 0 || i+1 >= len(lines[axis]) {
				return false
			}
			at[axis] = (lines[axis][i] + lines[axis][i+1]) / 2
		}
		return inside(at[0], at[1], at[2])
	}
	w := meshtest.NewWelder()
	side := func(c [3]int, axis, end int) {
		u, v := (axis+1)%3, (axis+2)%3
		var q [4]mesh.PointID
		for k, d := range [4][2]int{{0, 0}, {1, 0}, {1, 1}, {0, 1}} {
			at := c
			at[axis], at[u], at[v] = c[axis]+end, c[u]+d[0], c[v]+d[1]
			q[k] = w.Point(r3.Vec{X: lines[0][at[0]], Y: lines[1][at[1]], Z: lines[2][at[2]]})
		}
		if end == 0 {
			q[1], q[3] = q[3], q[1]
		}
		w.Face(q[:]...)
	}
	for i := range lines[0] {
		for j := range lines[1] {
			for k := range lines[2] {
				c := [3]int{i, j, k}
				for axis := range 3 {
					for end := range 2 {
						beside := c
						beside[axis] += 2*end - 1
						if full(c) && !full(beside) {
							side(c, axis, end)
						}
					}
				}
			}
		}
	}
	return w.Mesh(t)
}

// subdivided is a closed mesh after one step of Catmull & Clark (1978).
func subdivided(t *testing.T, m *mesh.Mesh) *mesh.Mesh {
	w := meshtest.NewWelder()
	mean := func(list []r3.Vec) (c r3.Vec) {
		for _, p := range list {
			c = r3.Add(c, r3.Scale(1/float64(len(list)), p))
		}
		return c
	}
	middle := func(f mesh.FaceID) r3.Vec {
		var at []r3.Vec
		for _, p := range m.FacePoints(f) {
			at = append(at, m.Points[p])
		}
		return mean(at)
	}
	faces := make([][]r3.Vec, len(m.Points)) // middles of the faces at each point
	edges := make([][]r3.Vec, len(m.Points)) // and of the edges
	onEdge := make([]r3.Vec, m.NumEdges())
	for e := range m.NumEdges() {
		a, b := m.EdgeEnds(mesh.EdgeID(e))
		half := r3.Scale(0.5, r3.Add(m.Points[a], m.Points[b]))
		f, g := m.EdgeFaces(mesh.EdgeID(e))
		onEdge[e] = r3.Scale(0.5, r3.Add(half, r3.Scale(0.5, r3.Add(middle(f), middle(g)))))
		edges[a], edges[b] = append(edges[a], half), append(edges[b], half)
	}
	for f := range m.NumFaces() {
		for _, p := range m.FacePoints(mesh.FaceID(f)) {
			faces[p] = append(faces[p], middle(mesh.FaceID(f)))
		}
	}
	moved := make([]mesh.PointID, len(m.Points))
	for p := range m.Points {
		n := float64(len(faces[p]))
		sum := r3.Add(mean(faces[p]), r3.Add(r3.Scale(2, mean(edges[p])), r3.Scale(n-3, m.Points[p])))
		moved[p] = w.Point(r3.Scale(1/n, sum))
	}
	for f := range m.NumFaces() {
		lo, hi := m.Corners(mesh.FaceID(f))
		centre := w.Point(middle(mesh.FaceID(f)))
		for h := lo; h < hi; h++ {
			before := h - 1
			if h == lo {
				before = hi - 1
			}
			w.Face(moved[m.From(h)], w.Point(onEdge[m.Edge(h)]), centre, w.Point(onEdge[m.Edge(before)]))
		}
	}
	return w.Mesh(t)
}

// cages are the cages of some machine parts, with how many flats each has.
var cages = map[string]struct {
	marks  [3][]float64
	near   float64
	inside func(x, y, z float64) bool
	flats  int
}{
	"box":   {[3][]float64{{0, 20, 40, 60}, {0, 14, 26, 40}, {0, 10, 20, 30}}, 1.5, func(x, y, z float64) bool { return true }, 6},
	"angle": {[3][]float64{{0, 10, 50}, {0, 40}, {0, 8, 45}}, 1.2, func(x, y, z float64) bool { return x < 10 || z < 8 }, 8},
	"stair": {[3][]float64{{0, 15, 30, 45}, {0, 30}, {0, 10, 20, 30}}, 1.2, func(x, y, z float64) bool { return z < 30-10*math.Floor(x/15) }, 10},
	"frame": {[3][]float64{{0, 12, 48, 60}, {0, 12, 30, 42}, {0, 7}}, 1.2, func(x, y, z float64) bool { return x < 12 || x > 48 || y < 12 || y > 30 }, 10},
	"boss":  {[3][]float64{{0, 12, 28, 40}, {0, 10, 25, 35}, {0, 8, 18}}, 1.2, func(x, y, z float64) bool { return z < 8 || x > 12 && x < 28 && y > 10 && y < 25 }, 11},
	"tray":  {[3][]float64{{0, 5, 55, 60}, {0, 5, 35, 40}, {0, 5, 20}}, 1, func(x, y, z float64) bool { return z < 5 || x < 5 || x > 55 || y < 5 || y > 35 }, 11},
	"pierced": {[3][]float64{{0, 8, 20, 40, 50}, {0, 12, 28, 40}, {0, 8, 20, 35, 45}}, 1.2, func(x, y, z float64) bool {
		window := y > 12 && y < 28
		return x < 8 && !(window && z > 20 && z < 35) || z < 8 && !(window && x > 20 && x < 40)
	}, 16},
}

// plane is what tells the faces of a cage apart: which way they face, and how far out.
func plane(m *mesh.Mesh, f mesh.FaceID) [4]int {
	n := m.FaceNormals()[f]
	return [4]int{int(math.Round(n.X)), int(math.Round(n.Y)), int(math.Round(n.Z)), int(math.Round(100 * r3.Dot(n, m.FaceCentre(f))))}
}

// A subdivided cage comes apart as the cage would: each of its flats is a part with half of each round
// beside it, whatever windows, ledges and corners there are, of quads and of triangles.
func TestCages(t *testing.T) {
	for name, c := range cages {
		first := cage(t, c.marks, c.near, c.inside)
		m := subdivided(t, subdivided(t, first))
		for _, kind := range []string{"quads", "triangles"} {
			per := 16 // faces for one of the cage
			if kind == "triangles" {
				m, per = meshtest.Alternating(t, m), 32
			}
			parts, err := Recognise(context.Background(), m, Default(), nil)
			if err != nil {
				t.Fatal(err)
			}
			if len(parts) != c.flats {
				t.Errorf("%s of %s: %d parts, want %d", name, kind, len(parts), c.flats)
			}
			for _, p := range parts {
				of := map[[4]int]int{}
				for _, f := range p.Faces {
					of[plane(first, f/mesh.FaceID(per))]++
				}
				if len(of) != 1 || !p.Fit.Soft() || p.Fit.Reads() != shape.Plane || len(p.Pieces) < 2 {
					t.Errorf("%s of %s: a part %v of %d pieces goes over flats %v", name, kind, p.Fit.Kind, len(p.Pieces), of)
				}
			}
		}
	}
}

// rounded moves the points of a cage so that the square of a half width round a middle becomes a circle; none moves
// from a distance on.
func rounded(t *testing.T, m *mesh.Mesh, x, y, half, still float64) *mesh.Mesh {
	w := meshtest.NewWelder()
	for f := range m.NumFaces() {
		var to []mesh.PointID
		for _, p := range m.FacePoints(mesh.FaceID(f)) {
			q := m.Points[p]
			dx, dy := q.X-x, q.Y-y
			far, long := max(math.Abs(dx), math.Abs(dy)), math.Hypot(dx, dy)
			if long > 0 && far < still {
				k := far / long
				if begins := 1.35 * half; far > begins {
					k = 1 + (k-1)*(still-far)/(still-begins)
				}
				q.X, q.Y = x+k*dx, y+k*dy
			}
			to = append(to, w.Point(q))
		}
		w.Face(to...)
	}
	return w.Mesh(t)
}

// Round walls of a cage stay whole, and the rims between them and the flats run along rows of the mesh.
func TestCagesWithRoundWalls(t *testing.T) {
	five := []float64{0, 10, 20, 30, 40}
	for name, c := range map[string]struct {
		z      []float64
		inside func(x, y, z float64) bool
		parts  int
	}{
		"eye":  {[]float64{0, 8}, func(x, y, _ float64) bool { return x < 10 || x > 30 || y < 10 || y > 30 }, 7},
		"post": {[]float64{0, 6, 30}, func(x, y, z float64) bool { return z < 6 || x > 10 && x < 30 && y > 10 && y < 30 }, 8},
	} {
		m := rounded(t, cage(t, [3][]float64{five, five, c.z}, 1, c.inside), 20, 20, 10, 20)
		m = subdivided(t, subdivided(t, m))
		parts, err := Recognise(context.Background(), m, Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		walls := 0
		for _, p := range parts {
			up := false
			for _, f := range p.Faces {
				up = up || math.Abs(m.FaceNormals()[f].Z) > 0.99
			}
			if isBand(m, p.Faces) && !up {
				walls++
			}
		}
		if len(parts) != c.parts || walls != 1 {
			t.Errorf("%s: %d parts, want %d; %d are round walls, want 1", name, len(parts), c.parts, walls)
		}
		steps := 0
		part := make([]int, m.NumFaces())
		for k, p := range parts {
			for _, f := range p.Faces {
				part[f] = k
			}
		}
		for f := range part { // a quad at a step has another part beside it on two sides that meet
			lo, hi := m.Corners(mesh.FaceID(f))
			for h := lo; h < hi; h++ {
				a, b := part[m.FaceOf(m.Twin(h))], part[m.FaceOf(m.Twin(m.Next(h)))]
				if a == b && a != part[f] {
					steps++
				}
			}
		}
		if steps > 4 {
			t.Errorf("%s: the borders have %d steps", name, steps)
		}
	}
}

// block is a plate with a window, all of whose edges but those in the corners of the window are rounded.
func block(t *testing.T) *mesh.Mesh {
	const long, wide, high, r = 60, 40, 8, 2
	window := [2][2]float64{{14, 46}, {12, 28}}
	steps := []float64{0, r * math.Tan(math.Pi/12), r * math.Tan(math.Pi/6), r}
	lines := [3][]float64{}
	for axis, far := range []float64{long, wide, high} {
		var at []float64
		for _, d := range steps {
			at = append(at, -d, far+d)
			if axis < 2 {
				at = append(at, window[axis][0]+d, window[axis][1]-d)
			}
		}
		slices.Sort(at)
		lines[axis] = at
	}
	open := func(x, y, by float64) bool {
		return x > window[0][0]+by && x < window[0][1]-by && y > window[1][0]+by && y < window[1][1]-by
	}
	m := cells(t, lines, func(x, y, _ float64) bool { return !open(x, y, r) })
	w := meshtest.NewWelder()
	for f := range m.NumFaces() {
		var to []mesh.PointID
		for _, id := range m.FacePoints(mesh.FaceID(f)) {
			p := m.Points[id]
			q := r3.Vec{X: max(0, min(long, p.X)), Y: max(0, min(wide, p.Y)), Z: max(0, min(high, p.Z))}
			if open(p.X, p.Y, 0) {
				x, y := window[0][0], window[1][0]
				if p.X > long/2 {
					x = window[0][1]
				}
				if p.Y > wide/2 {
					y = window[1][1]
				}
				dx, dy := math.Abs(p.X-x), math.Abs(p.Y-y)
				if dx <= dy+1e-9 {
					q.X = x
				}
				if dy <= dx+1e-9 { // in the corner it is both
					q.Y = y
				}
				up := p.Z - q.Z
				if q.X == x && q.Y == y {
					k := r / math.Hypot(dx, up)
					to = append(to, w.Point(r3.Vec{X: x + k*(p.X-x), Y: y + k*(p.Y-y), Z: q.Z + k*up}))
					continue
				}
			}
			to = append(to, w.Point(r3.Add(q, r3.Scale(r, mesh.Unit(r3.Sub(p, q))))))
		}
		w.Face(to...)
	}
	return w.Mesh(t)
}

// A block whose rounded edges meet in balls comes apart as it would with sharp edges.
func TestRoundedBlock(t *testing.T) {
	m := block(t)
	parts, err := Recognise(context.Background(), m, Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	flats := 0
	for _, p := range parts {
		if p.Fit.Reads() == shape.Plane {
			flats++
		}
	}
	if len(parts) != 10 || flats != 10 {
		t.Errorf("%d parts, %d of them flats, want 10", len(parts), flats)
	}
}
