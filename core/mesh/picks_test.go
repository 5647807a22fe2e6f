package mesh_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// sheet is n × n unit quads in the plane, one pair of them merged so that a loop ends.
func sheet(t *testing.T, n int) *mesh.Mesh {
	return meshtest.Grid(t, n, n, func(u, v float64) r3.Vec { return r3.Vec{X: u * float64(n), Z: v * float64(n)} })
}

// edgeAt finds the edge whose middle is at (x, z).
func edgeAt(t *testing.T, m *mesh.Mesh, x, z float64) mesh.EdgeID {
	t.Helper()
	for e := range m.NumEdges() {
		h := m.EdgeHalf(mesh.EdgeID(e))
		mid := r3.Scale(0.5, r3.Add(m.Points[m.From(h)], m.Points[m.To(h)]))
		if math.Abs(mid.X-x)+math.Abs(mid.Z-z) < 1e-9 {
			return mesh.EdgeID(e)
		}
	}
	t.Fatalf("no edge at %g, %g", x, z)
	return mesh.None
}

// walked tells whether the points of a run lead along its edges.
func walked(t *testing.T, m *mesh.Mesh, r mesh.Run) {
	t.Helper()
	if len(r.Points) != len(r.Edges)+1 || r.From < 0 || r.To > len(r.Edges) || r.From >= r.To {
		t.Fatalf("%d points, %d edges, loop %d to %d", len(r.Points), len(r.Edges), r.From, r.To)
	}
	for i, e := range r.Edges {
		h := m.EdgeHalf(e)
		a, b := r.Points[i], r.Points[i+1]
		if !(m.From(h) == a && m.To(h) == b || m.From(h) == b && m.To(h) == a) {
			t.Fatalf("edge %d of the run does not join points %d and %d", i, a, b)
		}
	}
}

// star is five quads around a point: no edge goes straight on over it.
func star(t *testing.T) *mesh.Mesh {
	b := meshtest.NewWelder()
	at := func(r, turn float64) mesh.PointID {
		s, c := math.Sincos(2 * math.Pi * turn / 5)
		return b.Point(r3.Vec{X: r * c, Z: r * s})
	}
	for i := range 5 {
		k := float64(i)
		b.Face(at(0, 0), at(1, k), at(1.3, k+0.5), at(1, k+1))
	}
	return b.Mesh(t)
}

func TestARunGoesOnBeyondTheEndsOfItsLoop(t *testing.T) {
	m := star(t)
	e := edgeAt(t, m, 0.5, 0)
	loop := m.Loop(e)
	r := m.Run(e)
	walked(t, m, r)
	if !slices.Equal(r.Edges[r.From:r.To], loop.Edges) || len(loop.Edges) != 1 {
		t.Errorf("the loop has edges %v, the run marks %v", loop.Edges, r.Edges[r.From:r.To])
	}
	if len(r.Edges) != 2 || r.Closed {
		t.Errorf("the run has %d edges, want 2: over the middle to the other side", len(r.Edges))
	}
	var whys []string
	for _, s := range r.Stops {
		whys = append(whys, s.Why)
	}
	if !slices.Contains(whys, "ends at a five-way point") || !slices.IsSortedFunc(r.Stops, func(a, b mesh.Stop) int { return a.At - b.At }) {
		t.Errorf("stops %+v", r.Stops)
	}
}

func TestAClosedLoopIsARunOfItself(t *testing.T) {
	m := meshtest.Tube(t, 1, 12, r3.Vec{}, r3.Vec{Y: 1}, r3.Vec{Y: 2})
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		r := m.Run(id)
		walked(t, m, r)
		if l := m.Loop(id); l.Closed != r.Closed || l.Closed && (r.Points[0] != r.Points[len(r.Points)-1] || len(r.Edges) != 12) {
			t.Fatalf("edge %d: loop closed %v, run closed %v with %d edges", e, l.Closed, r.Closed, len(r.Edges))
		}
	}
}

func TestPathsAreShortestOrFollowCreases(t *testing.T) {
	m := sheet(t, 6)
	one := func(mesh.EdgeID) float64 { return 1 }
	from, to := edgeAt(t, m, 0.5, 1), edgeAt(t, m, 5.5, 4)
	path := m.Path(from, to, one)
	if l := m.Length(path); path[0] != from || path[len(path)-1] != to || math.Abs(l-9) > 1e-9 {
		t.Errorf("length %g over %v, want 9: two edges picked, 4 across and 3 down", l, path)
	}
	if got := m.Path(from, from, one); !slices.Equal(got, []mesh.EdgeID{from}) {
		t.Errorf("to itself: %v", got)
	}
	// A ridge around the way: shortest goes straight, crease-weighted along the ridge.
	ridge := meshtest.Mapped(t, m, func(p r3.Vec) r3.Vec { p.Y = -math.Max(0, p.Z-3) * 2; return p })
	from, to = edgeAt(t, ridge, 0, 2.5), edgeAt(t, ridge, 6, 2.5)
	short := ridge.Path(from, to, one)
	crease := ridge.Path(from, to, ridge.CreaseCost)
	if !slices.Contains(crease, edgeAt(t, ridge, 2.5, 3)) || ridge.Length(short) > ridge.Length(crease)+1e-9 {
		t.Errorf("shortest %v, along creases %v", short, crease)
	}
	// Cross-check all lengths against Floyd and Warshall's.
	small := sheet(t, 3)
	n := small.NumPoints()
	d := make([][]float64, n)
	for i := range d {
		d[i] = make([]float64, n)
		for j := range d[i] {
			d[i][j] = math.Inf(1)
		}
		d[i][i] = 0
	}
	for e := range small.NumEdges() {
		h := small.EdgeHalf(mesh.EdgeID(e))
		a, b := small.From(h), small.To(h)
		d[a][b], d[b][a] = 1, 1
	}
	for k := range n {
		for i := range n {
			for j := range n {
				d[i][j] = min(d[i][j], d[i][k]+d[k][j])
			}
		}
	}
	for a := range small.NumEdges() {
		for b := range small.NumEdges() {
			g, h := small.EdgeHalf(mesh.EdgeID(a)), small.EdgeHalf(mesh.EdgeID(b))
			want := 2 + min(d[small.From(g)][small.From(h)], d[small.From(g)][small.To(h)], d[small.To(g)][small.From(h)], d[small.To(g)][small.To(h)])
			if a == b {
				want = 1
			}
			if got := small.Length(small.Path(mesh.EdgeID(a), mesh.EdgeID(b), one)); math.Abs(got-want) > 1e-9 {
				t.Fatalf("from edge %d to %d: %g, want %g", a, b, got, want)
			}
		}
	}
}

func TestNoPathBetweenPiecesOrOverForbiddenEdges(t *testing.T) {
	b := mesh.NewBuilder()
	for k := range 2 {
		for i := range 3 {
			b.Point(r3.Vec{X: float64(i % 2), Y: float64(i / 2), Z: float64(k)})
		}
	}
	b.Face(0, 1, 2)
	b.Face(3, 4, 5)
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	if p := m.Path(0, 3, func(mesh.EdgeID) float64 { return 1 }); p != nil {
		t.Errorf("from piece to piece: %v", p)
	}
	g := sheet(t, 3)
	if p := g.Path(edgeAt(t, g, 0, 0.5), edgeAt(t, g, 3, 2.5), func(mesh.EdgeID) float64 { return math.Inf(1) }); p != nil {
		t.Errorf("over forbidden edges: %v", p)
	}
}

func TestEdgeVerbs(t *testing.T) {
	m := box(t)
	if n := len(m.OpenBorders()); n != 0 {
		t.Errorf("a closed box has %d open edges", n)
	}
	if n := len(sheet(t, 3).OpenBorders()); n != 12 {
		t.Errorf("a 3 × 3 sheet has %d open edges, want 12", n)
	}
	if n := len(m.EdgesAbove(1)); n != 12 {
		t.Errorf("%d edges bend by a radian or more, want the 12 of the box", n)
	}
	if n := len(m.EdgesAbove(0)); n != m.NumEdges() {
		t.Errorf("%d edges bend by 0 or more, want all %d", n, m.NumEdges())
	}
	lid := []mesh.FaceID{10, 11}
	if n := len(m.BorderOf(lid)); n != 4 {
		t.Errorf("border of the lid: %d edges", n)
	}
	if n := len(m.BorderOf(meshtest.All(m))); n != 0 {
		t.Errorf("border of everything: %d edges", n)
	}
	if c := m.Chains(append(m.BorderOf(lid[:1]), m.BorderOf([]mesh.FaceID{0})...)); len(c) != 2 && len(c) != 1 || !slices.IsSorted(c[0]) {
		t.Errorf("chains %v", c)
	}
	k := m.PointDefects()
	var sum float64
	for _, v := range k {
		sum += v
	}
	if math.Abs(sum-4*math.Pi) > 1e-9 {
		t.Errorf("angle defects sum to %g, want 4π (Descartes)", sum)
	}
}
