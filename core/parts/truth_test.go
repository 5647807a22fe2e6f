package parts_test

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/demo"
)

func recognise(t testing.TB, m *mesh.Mesh) []parts.Part {
	t.Helper()
	found, err := parts.Recognise(context.Background(), m, parts.Default(), nil)
	if err != nil {
		t.Fatal(err)
	}
	seen := make([]bool, m.NumFaces())
	for _, p := range found {
		for _, f := range p.Faces {
			if seen[f] {
				t.Fatalf("face %d is in two parts", f)
			}
			seen[f] = true
		}
	}
	for f, ok := range seen {
		if !ok {
			t.Fatalf("face %d is in no part", f)
		}
	}
	return found
}

// variant is another form of a model that should be read the same way.
type variant struct {
	name        string
	move        func(r3.Vec) r3.Vec
	turn        func(r3.Vec) r3.Vec // of directions
	scale       float64
	triangles   bool
	noise       float64 // share of the diagonal
	rand, shape float64 // to reach
	axis        float64 // degrees
	radius      float64
}

func same(v r3.Vec) r3.Vec { return v }

func oddTurn(v r3.Vec) r3.Vec {
	return r3.Rotate(r3.Rotate(v, 0.7315, r3.Vec{X: 1, Y: 0.3, Z: -0.2}), 1.913, r3.Vec{X: -0.4, Y: 1, Z: 0.77})
}

var variants = []variant{
	{name: "as made", move: same, turn: same, scale: 1, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
	{name: "turned", move: func(v r3.Vec) r3.Vec { return r3.Add(oddTurn(v), r3.Vec{X: 3, Y: -2, Z: 0.4}) }, turn: oddTurn, scale: 1, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
	{name: "large", move: func(v r3.Vec) r3.Vec { return r3.Scale(1000, v) }, turn: same, scale: 1000, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
	{name: "small", move: func(v r3.Vec) r3.Vec { return r3.Scale(0.001, v) }, turn: same, scale: 0.001, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
	{name: "triangles", move: same, turn: same, scale: 1, triangles: true, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
	{name: "noise", move: same, turn: same, scale: 1, noise: 1e-4, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
}

// build makes a variant of a mesh and of its truth.
func (v variant) build(t testing.TB, m *mesh.Mesh, truth demo.Truth) (*mesh.Mesh, demo.Truth) {
	t.Helper()
	b := mesh.NewBuilder()
	r := rand.New(rand.NewPCG(7, 11))
	s := v.noise * m.Diagonal()
	for _, p := range m.Points {
		p = r3.Add(p, r3.Vec{X: s * r.NormFloat64(), Y: s * r.NormFloat64(), Z: s * r.NormFloat64()})
		b.Point(v.move(p))
	}
	out := demo.Truth{}
	for _, p := range truth.Pieces {
		p.Axis = v.turn(p.Axis)
		p.Radius *= v.scale
		out.Pieces = append(out.Pieces, p)
	}
	tri := m.Triangles()
	for f := range m.NumFaces() {
		b.Object(m.ObjectName(mesh.FaceID(f)))
		if !v.triangles {
			b.Face(m.FacePoints(mesh.FaceID(f))...)
			out.Piece = append(out.Piece, truth.Piece[f])
			continue
		}
		for k := tri.FaceStart[f]; k < tri.FaceStart[f+1]; k++ {
			c := tri.Corner[k]
			b.Face(m.CornerPoint[c[0]], m.CornerPoint[c[1]], m.CornerPoint[c[2]])
			out.Piece = append(out.Piece, truth.Piece[f])
		}
	}
	built, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return built, out
}

// The demo models are recognised as what they were made of, also turned,
// scaled, cut into triangles and with noise on every point.
func TestDemoModels(t *testing.T) {
	for _, model := range demo.Models() {
		m, truth, err := model.Known()
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range variants {
			t.Run(model.Slug+"/"+v.name, func(t *testing.T) {
				m, truth := v.build(t, m, truth)
				found := recognise(t, m)
				s := truth.Judge(m, found)
				t.Logf("%d faces, %d parts for %d pieces: Rand %.4f, shape %.4f, axis %.3f° (worst %.2f°), radius %.3f %% (worst %.2f %%), wrong %v",
					m.NumFaces(), len(found), len(truth.Pieces), s.Rand, s.Shape, s.AxisDeg, s.WorstAxisDeg, 100*s.Radius, 100*s.WorstRadius, s.Wrong)
				if s.Rand < v.rand || s.Shape < v.shape || s.AxisDeg > v.axis || s.Radius > v.radius || math.IsNaN(s.Rand) {
					t.Errorf("below what was asked: Rand %.2f, shape %.2f, axis %.1f°, radius %.1f %%", v.rand, v.shape, v.axis, 100*v.radius)
				}
			})
		}
	}
}

// anything is the truth of a mesh nobody knows: all faces may be anything.
func anything(m *mesh.Mesh) demo.Truth {
	t := demo.Truth{Piece: make([]int32, m.NumFaces())}
	for i := range t.Piece {
		t.Piece[i] = demo.Anything
	}
	return t
}
