package parts

import (
	"context"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// cage is a box of quads with loops close to its edges, which round when it is subdivided.
func cage(t *testing.T, size r3.Vec, near float64) *mesh.Mesh {
	w := meshtest.NewWelder()
	at := func(long float64) []float64 {
		return []float64{0, near, long / 3, 2 * long / 3, long - near, long}
	}
	steps := [3][]float64{at(size.X), at(size.Y), at(size.Z)}
	for axis := range 3 {
		u, v := (axis+1)%3, (axis+2)%3
		for i := range 5 {
			for j := range 5 {
				for end := range 2 {
					var q [4]mesh.PointID
					for k, c := range [4][2]int{{i, j}, {i + 1, j}, {i + 1, j + 1}, {i, j + 1}} {
						p := [3]float64{}
						p[axis], p[u], p[v] = steps[axis][5*end], steps[u][c[0]], steps[v][c[1]]
						q[k] = w.Point(r3.Vec{X: p[0], Y: p[1], Z: p[2]})
					}
					if end == 0 {
						q[1], q[3] = q[3], q[1]
					}
					w.Face(q[:]...)
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

// The rounds of a subdivided cage begin so gently that nothing seems to end there: a soft box is still
// walls round one axis and two ends, no frame of rounds with six plates.
func TestSoftBoxes(t *testing.T) {
	m := subdivided(t, subdivided(t, cage(t, r3.Vec{X: 60, Y: 40, Z: 30}, 1.5)))
	parts, err := Recognise(context.Background(), m, Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	var whole, walls float64
	for _, p := range parts {
		a := areaOf(m, p.Faces)
		whole += a
		switch p.Fit.Kind {
		case shape.Extruded:
			walls = max(walls, a)
		case shape.Free:
			t.Errorf("a free form of %d faces", len(p.Faces))
		}
	}
	if len(parts) > 8 || walls < 0.6*whole {
		t.Errorf("%d parts, walls with %.2f of the area", len(parts), walls/whole)
	}
}
