package parts_test

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/models"
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
	refined     bool    // a tenth of the faces in four
	noise       float64 // share of the diagonal
	decimals    int     // it is written with, after it was made 0.3 across; 0 for all
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
	// Bent rods of ten sides come apart where their quads are not flat, hence the shape.
	{name: "refined", move: same, turn: same, scale: 1, refined: true, rand: 0.95, shape: 0.9, axis: 0.2, radius: 0.005},
	{name: "six decimals of a metre", move: same, turn: same, scale: 1, decimals: 6, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
	{name: "noise", move: same, turn: same, scale: 1, noise: 1e-4, rand: 0.95, shape: 0.95, axis: 0.2, radius: 0.005},
}

// build makes a variant of a mesh and of its truth.
func (v variant) build(t testing.TB, m *mesh.Mesh, truth models.Truth) (*mesh.Mesh, models.Truth) {
	t.Helper()
	b := mesh.NewBuilder()
	r := rand.New(rand.NewPCG(7, 11))
	s := v.noise * m.Diagonal()
	for _, p := range m.Points {
		p = r3.Add(p, r3.Vec{X: s * r.NormFloat64(), Y: s * r.NormFloat64(), Z: s * r.NormFloat64()})
		p = v.move(p)
		if v.decimals > 0 {
			to, last := 0.3/m.Diagonal(), math.Pow(10, float64(-v.decimals))
			p = r3.Vec{X: math.Round(to*p.X/last) * last, Y: math.Round(to*p.Y/last) * last, Z: math.Round(to*p.Z/last) * last}
		}
		b.Point(p)
	}
	if v.decimals > 0 {
		v.scale = 0.3 / m.Diagonal()
	}
	out := models.Truth{}
	for _, p := range truth.Pieces {
		p.Axis = v.turn(p.Axis)
		p.Radius *= v.scale
		out.Pieces = append(out.Pieces, p)
	}
	tri := m.Triangles()
	middles := map[mesh.EdgeID]mesh.PointID{}
	middle := func(h mesh.HalfedgeID) mesh.PointID {
		p, ok := middles[m.Edge(h)]
		if !ok {
			p = b.Point(r3.Scale(0.5, r3.Add(m.Points[m.From(h)], m.Points[m.To(h)])))
			middles[m.Edge(h)] = p
		}
		return p
	}
	for f := range m.NumFaces() {
		b.Object(m.ObjectName(mesh.FaceID(f)))
		if v.refined {
			out.Piece = append(out.Piece, slices.Repeat([]int32{truth.Piece[f]}, refine(b, m, mesh.FaceID(f), middle))...)
			continue
		}
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

// tenth tells whether a face is one of those that are refined.
func tenth(m *mesh.Mesh, f mesh.FaceID) bool { return f%10 == 3 && len(m.FacePoints(f)) <= 4 }

// refine adds a face to a mesh of the same points: every tenth in four, its neighbours with
// the middles of their common sides as corners. It returns how many faces it became.
func refine(b *mesh.Builder, m *mesh.Mesh, f mesh.FaceID, middle func(mesh.HalfedgeID) mesh.PointID) int {
	var round, mids []mesh.PointID
	lo, hi := m.Corners(f)
	for h := lo; h < hi; h++ {
		round = append(round, m.From(h))
		if t := m.Twin(h); tenth(m, f) || t != mesh.None && tenth(m, m.FaceOf(t)) {
			round, mids = append(round, middle(h)), append(mids, middle(h))
		}
	}
	if !tenth(m, f) {
		b.Face(round...)
		return 1
	}
	if len(mids) == 3 {
		b.Face(mids...)
	}
	centre := mesh.PointID(mesh.None)
	if len(mids) == 4 {
		centre = b.Point(m.FaceCentre(f))
	}
	for k := range mids {
		corner, before := round[2*k], mids[(k+len(mids)-1)%len(mids)]
		if len(mids) == 3 {
			b.Face(corner, mids[k], before)
		} else {
			b.Face(corner, mids[k], centre, before)
		}
	}
	return 4
}

// The demo models are recognised as what they were made of, also turned,
// scaled, cut into triangles, refined here and there and with noise on every point.
func TestDemoModels(t *testing.T) {
	for _, model := range models.Models() {
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
func anything(m *mesh.Mesh) models.Truth {
	t := models.Truth{Piece: make([]int32, m.NumFaces())}
	for i := range t.Piece {
		t.Piece[i] = models.Anything
	}
	return t
}
