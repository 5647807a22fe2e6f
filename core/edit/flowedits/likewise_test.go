package flowedits_test

import (
	"bytes"
	"context"
	"errors"
	"math"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// tubes are an open tube, one of the same size, a larger and longer one that lies, and one of another mesh. They
// are returned with their parts in that order.
func tubes(t *testing.T) (d *document.Document, p [4]document.PartID) {
	t.Helper()
	of := func(n int, to func(r3.Vec) r3.Vec) *mesh.Mesh {
		return meshtest.Mapped(t, meshtest.Lathe(t, n, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 2}, r2.Vec{X: 1, Y: 3}), to)
	}
	beside := func(x float64) func(r3.Vec) r3.Vec {
		return func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: x}) }
	}
	lies := r3.NewRotation(math.Pi/2, r3.Vec{X: 1})
	m := meshtest.Together(t, of(20, beside(0)), of(20, beside(10)), of(20, func(p r3.Vec) r3.Vec {
		return r3.Add(lies.Rotate(r3.Vec{X: 1.6 * p.X, Y: 2.4 * p.Y, Z: 1.6 * p.Z}), r3.Vec{X: 30})
	}), of(14, beside(50)))
	d = edittest.Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{})
	for i, faces := range d.State.PartFaces() {
		p[m.ObjectName(faces[0])[len("object ")]-'1'] = document.PartID(i)
	}
	if len(d.State.Parts) != 4 {
		t.Fatalf("%d parts", len(d.State.Parts))
	}
	return d, p
}

func TestPartsOfTheSameKindFollow(t *testing.T) {
	d, p := tubes(t)
	m := d.Mesh
	lead := d.State.PartFaces()[p[0]]
	var meridian []mesh.EdgeID // at one angle
	for _, f := range lead {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			v := m.EdgeVec(h)
			if p := m.Points[m.From(h)]; math.Abs(v.Y) > 0.5 && math.Abs(p.Z) < 1e-9 && p.X > 0 {
				meridian = append(meridian, m.Edge(h))
			}
		}
	}
	d = edittest.Apply(t, d, &seamedits.Cut{Edges: meridian}, &flowedits.Flatten{Faces: lead[:1]}, &sheetedits.Move{Faces: lead[:1], TurnDeg: 90},
		&flowedits.SetGrain{Parts: p[:1], GrainWish: document.GrainWish{Of: document.GrainAround, Sense: true}}, &sheetedits.Move{Faces: lead[:1], TurnDeg: 90})
	e := &flowedits.Likewise{Part: p[0]}
	next, err := edit.Apply(context.Background(), d, e, nil)
	if err != nil {
		t.Fatal(err)
	}
	if want := "do likewise on 2 parts like "; !strings.HasPrefix(e.Describe(), want) || !strings.Contains(e.Describe(), "1 of other sizes; left as they are: 1 of its shape but of another mesh") {
		t.Errorf("it says %q", e.Describe())
	}
	faces := next.PartFaces()
	for _, p := range p[1:3] {
		cuts := 0
		for _, e := range m.EdgesWithin(faces[p]) {
			if next.Map.IsCut(e) {
				cuts++
			}
		}
		if cuts != 3 {
			t.Errorf("part %d has %d cuts, want the 3 of a meridian", p, cuts)
		}
		part := next.Parts[p]
		if !next.Map.IsMapped(faces[p][0]) || part.Grain.Mode != flow.Around || !part.Grain.Sense || !part.ByHand || math.Abs(r3.Dot(part.Grain.Axis, part.Fit.Axis)) < 0.999 {
			t.Errorf("part %d: mapped %v, grain %+v", p, next.Map.IsMapped(faces[p][0]), part.Grain)
		}
	}
	if next.Map.IsMapped(faces[p[3]][0]) || len(next.Wishes.Firm) != 3*3 {
		t.Errorf("%d edges stay apart, want 9; the other one is mapped: %v", len(next.Wishes.Firm), next.Map.IsMapped(faces[p[3]][0]))
	}
	lies := func(p document.PartID) float64 { // how much higher than wide
		lo, hi := r2.Vec{X: 9, Y: 9}, r2.Vec{X: -9, Y: -9}
		for _, f := range faces[p] {
			a, b := m.Corners(f)
			for h := a; h < b; h++ {
				q := next.Map.At(h)
				lo, hi = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}, r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
			}
		}
		return math.Log((hi.Y - lo.Y) / (hi.X - lo.X))
	}
	for _, q := range p[:3] {
		if lies(q)*lies(p[0]) <= 0 {
			t.Errorf("part %d lies otherwise than the one that it follows", q)
		}
	}
	for i, s := range edittest.Measure(d.With(next)).Shells {
		if s.Mirrored > 0 || s.L2 > 1.5 {
			t.Errorf("shell %d: %d faces turned over, ×%.2f", i, s.Mirrored, s.L2)
		}
	}
	again, err := edit.Apply(context.Background(), d, &flowedits.Likewise{Part: p[0]}, nil)
	if err != nil {
		t.Fatal(err)
	}
	a, err := next.MarshalBinary()
	b, err2 := again.MarshalBinary()
	if err != nil || err2 != nil || !bytes.Equal(a, b) {
		t.Error("done again it is another map")
	}
}

func TestNobodyFollowsWhereNobodyIsAlike(t *testing.T) {
	d, p := tubes(t)
	for want, e := range map[string]*flowedits.Likewise{
		"are made of another mesh":               {Part: p[3]},
		"no part":                                {Part: 99},
		"no other part is of":                    {Part: p[0], To: p[:1]},
		"1 part of its shape is made of another": {Part: p[0], To: p[3:]},
	} {
		if _, err := edit.Apply(context.Background(), d, e, nil); !errors.Is(err, document.ErrRefused) || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", want, err)
		}
	}
	locked := edittest.Apply(t, d, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	faces := locked.State.PartFaces()
	locked = edittest.Apply(t, locked, &sheetedits.Lock{Faces: []mesh.FaceID{faces[p[1]][0]}, Locked: true})
	e := &flowedits.Likewise{Part: p[0]}
	next, err := edit.Apply(context.Background(), locked, e, nil)
	if err != nil {
		t.Fatal(err)
	}
	lo, _ := d.Mesh.Corners(faces[p[1]][0])
	if next.Map.At(lo) != locked.State.Map.At(lo) || !strings.Contains(e.Describe(), "1 locked") {
		t.Errorf("a locked shell was moved: %s", e.Describe())
	}
}
