package parts

import (
	"context"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// cage is the surface of the cells of a grid that lie inside something, of quads, with lines of the grid close
// to its edges, which round when it is subdivided.
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

// The rounds of a subdivided cage begin so gently that nothing seems to end there: it is still walls round one
// axis and two ends, each a flat with its rounds and corners, no frame of rounds between plates.
func TestSoftBoxes(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{
		"box":   cage(t, [3][]float64{{0, 20, 40, 60}, {0, 14, 26, 40}, {0, 10, 20, 30}}, 1.5, func(x, y, z float64) bool { return true }),
		"angle": cage(t, [3][]float64{{0, 10, 50}, {0, 40}, {0, 8, 45}}, 1.2, func(x, y, z float64) bool { return x < 10 || z < 8 }),
		"stair": cage(t, [3][]float64{{0, 15, 30, 45}, {0, 30}, {0, 10, 20, 30}}, 1.2, func(x, y, z float64) bool { return z < 30-10*math.Floor(x/15) }),
	} {
		m = subdivided(t, subdivided(t, m))
		parts, err := Recognise(context.Background(), m, Default(), nil)
		if err != nil {
			t.Fatal(err)
		}
		walls, ends := 0, 0
		for _, p := range parts {
			switch {
			case p.Fit.Kind == shape.Extruded && isBand(m, p.Faces):
				walls++
			case p.Fit.Kind == shape.Free && len(p.Pieces) > 1:
				ends++
			}
		}
		if len(parts) != 3 || walls != 1 || ends != 2 {
			t.Errorf("%s: %d parts, %d of them walls and %d ends", name, len(parts), walls, ends)
		}
	}
}
