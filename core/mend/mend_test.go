package mend_test

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mend"
	"morvek/core/mesh"
	"morvek/models/modeltest"
)

// box adds the six sides of a box, those in turned the other way round.
func box(b *mesh.Builder, at, size r3.Vec, turned ...int) {
	var p [8]mesh.PointID
	for i := range p {
		p[i] = b.Point(r3.Vec{X: at.X + size.X*float64(i&1), Y: at.Y + size.Y*float64(i>>1&1), Z: at.Z + size.Z*float64(i>>2)})
	}
	for i, f := range [6][4]int{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}} {
		pts := []mesh.PointID{p[f[0]], p[f[1]], p[f[2]], p[f[3]]}
		if slices.Contains(turned, i) {
			slices.Reverse(pts)
		}
		b.Face(pts...)
	}
}

func built(t *testing.T, b *mesh.Builder) *mesh.Mesh {
	t.Helper()
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func do(t *testing.T, m *mesh.Mesh, kinds ...string) (*mesh.Mesh, []mend.Change) {
	t.Helper()
	w, done, err := mend.Do(context.Background(), m, kinds, mend.Options{})
	if err != nil {
		t.Fatal(err)
	}
	return w, done
}

// All sides of a closed piece come to face outward, whichever of them were turned, all of them
// too; hollows and things within others stay as they are unless they contradict themselves.
func TestWinding(t *testing.T) {
	for turned := range 64 {
		b := mesh.NewBuilder()
		var list []int
		for i := range 6 {
			if turned>>i&1 == 1 {
				list = append(list, i)
			}
		}
		box(b, r3.Vec{X: 5}, r3.Vec{X: 1, Y: 2, Z: 3}, list...)
		m := built(t, b)
		var named []int
		for _, c := range mend.Find(m, mend.Options{}) {
			if c.Kind == "winding" {
				for _, f := range c.Faces {
					named = append(named, int(f))
				}
			}
		}
		if !slices.Equal(named, list) {
			t.Fatalf("turned %v, found %v", list, named)
		}
		w, _ := do(t, m, "winding")
		if len(w.Health()) != 0 || w.NumEdges() != 12 || volume(w) < 5.99 {
			t.Fatalf("turned %v: %v, %d edges, volume %g", list, w.Health(), w.NumEdges(), volume(w))
		}
	}
	b := mesh.NewBuilder()
	box(b, r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10})
	box(b, r3.Vec{X: 1, Y: 1, Z: 1}, r3.Vec{X: 3, Y: 3, Z: 3})                   // a thing
	box(b, r3.Vec{X: 5, Y: 5, Z: 5}, r3.Vec{X: 3, Y: 3, Z: 3}, 0, 1, 2, 3, 4, 5) // a hollow
	if w, done := do(t, built(t, b), "winding"); len(done) != 0 || w.NumFaces() != 18 {
		t.Errorf("what lies in others was changed: %v", done)
	}
}

func volume(m *mesh.Mesh) (v float64) {
	for _, t := range m.Triangles().Corner {
		v += r3.Dot(m.Points[m.From(t[0])], r3.Cross(m.Points[m.From(t[1])], m.Points[m.From(t[2])])) / 6
	}
	return v
}

// A demo model that is spoilt in every way at once is repaired to what it was: the same faces,
// points, pieces and edges; what nobody asked for is not done.
func TestASpoiltModelIsWhatItWas(t *testing.T) {
	clean := modeltest.Mesh(t, "line-winch")
	rng := rand.New(rand.NewPCG(1, 2))
	b := mesh.NewBuilder()
	d := clean.Diagonal()
	for _, p := range clean.Points {
		b.Point(p)
	}
	for f := range mesh.FaceID(clean.NumFaces()) {
		b.Object(clean.ObjectName(f))
		pts := slices.Clone(clean.FacePoints(f))
		for i, p := range pts {
			if rng.IntN(9) == 0 { // a point of its own, next to where it was
				pts[i] = b.Point(r3.Add(clean.Points[p], r3.Scale(1e-8*d, r3.Vec{X: rng.Float64(), Y: rng.Float64(), Z: rng.Float64()})))
			}
		}
		if rng.IntN(20) == 0 {
			slices.Reverse(pts)
		}
		b.Face(pts...)
		switch rng.IntN(200) {
		case 0:
			b.Face(pts...)
		case 1:
			b.Face(pts[0], pts[1], pts[1])
		case 2:
			b.Point(r3.Vec{})
		}
	}
	m := built(t, b)
	w, done := do(t, m, "all")
	if len(done) < 5 {
		t.Errorf("done was only %v", done)
	}
	_, pieces := w.Components()
	_, were := clean.Components()
	if w.NumFaces() != clean.NumFaces() || w.NumPoints() != clean.NumPoints() || w.NumEdges() != clean.NumEdges() || pieces != were {
		t.Errorf("%d faces, %d points, %d edges, %d pieces; they were %d, %d, %d, %d", w.NumFaces(), w.NumPoints(), w.NumEdges(), pieces,
			clean.NumFaces(), clean.NumPoints(), clean.NumEdges(), were)
	}
	if math.Abs(volume(w)-volume(clean)) > 1e-6*math.Abs(volume(clean)) {
		t.Errorf("its volume is %g, it was %g", volume(w), volume(clean))
	}
	if again, more := do(t, w, "all"); len(more) != 0 || again != w {
		t.Errorf("a second time it does %v", more)
	}
	if same, none := do(t, m); same != m || none != nil {
		t.Errorf("unasked it does %v", none)
	}
}

func TestPolygonsThatCrossThemselves(t *testing.T) {
	b := mesh.NewBuilder()
	box(b, r3.Vec{}, r3.Vec{X: 1, Y: 1, Z: 1})
	var bow []mesh.PointID
	for _, p := range []r3.Vec{{X: 3}, {X: 4, Y: 1}, {X: 4}, {X: 3, Y: 1}} {
		bow = append(bow, b.Point(p))
	}
	b.Face(bow...)
	var bent []mesh.PointID
	for i := range 6 {
		s, c := math.Sincos(float64(i) * math.Pi / 3)
		bent = append(bent, b.Point(r3.Vec{X: 7 + c, Y: s, Z: 0.3 * float64(i%2)}))
	}
	b.Face(bent...)
	w, done := do(t, built(t, b), "flat")
	if len(done) != 1 || !slices.Equal(done[0].Faces, []mesh.FaceID{6, 7}) || w.NumFaces() != 6+2+4 {
		t.Errorf("done is %+v, %d faces", done, w.NumFaces())
	}
}

// What stands beside the mesh in a file stays: names, maps, colours of points, wires by the new
// numbers of their points.
func TestEverythingElseStays(t *testing.T) {
	b := mesh.NewBuilder()
	b.Object("lid")
	b.Material("tin")
	for i := range 5 {
		b.Point(r3.Vec{X: float64(i / 2), Y: float64(i % 2)})
		b.Tail([]byte{byte('a' + i)})
	}
	b.Aside("# made up")
	b.Aside("l 5 2")
	b.Aside("l 4 2")
	uv := b.UV(r2.Vec{X: 0.25})
	for _, p := range []mesh.PointID{0, 2, 1} {
		b.Corner(p, uv, mesh.None)
		b.Paint(b.Color([4]float32{1, 0, 0, 1}))
		b.LayerUV(0, r2.Vec{X: 0.25})
	}
	b.EndFace()
	for _, p := range []mesh.PointID{1, 2, 4} {
		b.Corner(p, mesh.None, mesh.None)
	}
	b.EndFace()
	b.Keep("what a format kept")
	w, _ := do(t, built(t, b), "all")
	if w.NumPoints() != 4 || string(w.Tails.Of(3)) != "e" || w.ObjectName(1) != "lid" || w.MaterialName(0) != "tin" {
		t.Errorf("%d points, the last %q", w.NumPoints(), w.Tails.Of(3))
	}
	if len(w.Asides) != 2 || w.Asides[1].Text != "l 4 2" {
		t.Errorf("beside it stands %v", w.Asides)
	}
	if w.CornerUV[0] == mesh.None || w.CornerUV[3] != mesh.None || w.CornerColor[2] == mesh.None || w.Layers[0].Corner[1] == mesh.None || w.Layers[0].Corner[4] != mesh.None {
		t.Error("maps or colours are others")
	}
	if w.Kept != nil || len(w.Lost) != 1 {
		t.Errorf("kept is %v, lost %q", w.Kept, w.Lost)
	}
}

func TestRefused(t *testing.T) {
	if _, _, err := mend.Do(context.Background(), nil, []string{"weld", "polish"}, mend.Options{}); err == nil {
		t.Error("an unknown repair was accepted")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, _, err := mend.Do(ctx, modeltest.Mesh(t, "line-winch"), []string{"all"}, mend.Options{}); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled repairing gave %v", err)
	}
}
