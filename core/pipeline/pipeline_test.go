package pipeline_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit/partedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/pipeline"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/shape"
	"morvek/models"
	"morvek/models/modeltest"
)

func run(t testing.TB, m *mesh.Mesh) *document.Document {
	t.Helper()
	r, err := pipeline.Run(context.Background(), document.New(m, document.DefaultSettings()), nil)
	if err != nil {
		t.Fatal(err)
	}
	return r.Doc
}

// withoutChamfers leaves out the faces of a shell that went along with a part of the same
// shape: chamfers and fillets.
func withoutChamfers(d *document.Document, part document.PartID, faces []mesh.FaceID) []mesh.FaceID {
	p := d.State.Parts[part]
	list := p.Pieces
	for i := 0; i < len(list); i++ {
		q := list[i]
		if q.Fit.Kind != p.Fit.Kind || areaOf(d.Mesh, q.Faces) < 0.6*areaOf(d.Mesh, faces) {
			continue
		}
		if len(q.Pieces) == 0 || q.Fit.Kind == shape.Extruded {
			return slices.DeleteFunc(slices.Clone(faces), func(f mesh.FaceID) bool { return !slices.Contains(q.Faces, f) })
		}
		list, i = q.Pieces, -1
	}
	return faces
}

func areaOf(m *mesh.Mesh, faces []mesh.FaceID) (a float64) {
	for _, f := range faces {
		a += m.FaceAreas()[f]
	}
	return a
}

// TestDemoModelsAreProved holds what must hold always on every demo model.
func TestDemoModelsAreProved(t *testing.T) {
	for _, model := range models.Models() {
		m, err := model.Mesh()
		if err != nil {
			t.Fatal(err)
		}
		d := run(t, m)
		recorded(t, model.Slug, d)
		r, err := report.Of(context.Background(), d, model.Slug)
		if err != nil {
			t.Fatal(err)
		}
		q := r.Totals
		if q.Unmapped != 0 || q.Mirrored != 0 || q.OverlapShare != 0 || q.Outside != 0 {
			t.Errorf("%s: unmapped %d, mirrored %d, overlap %g, outside %d", model.Slug, q.Unmapped, q.Mirrored, q.OverlapShare, q.Outside)
		}
		if q.NearestPx() < 8-1e-6 {
			t.Errorf("%s: least gap %g px, 8 asked", model.Slug, q.NearestPx())
		}
		if q.L2 > 1.02 || q.AngularP95 > 1.10 || q.DensitySpread > 1.02 || q.GrainOverDeg > 2 {
			t.Errorf("%s: L2 %g, angular %g, density spread %g, grain %g°", model.Slug, q.L2, q.AngularP95, q.DensitySpread, q.GrainOverDeg)
		}
		if _, able := straightOfGrids(t, d); able < 0.98 {
			t.Errorf("%s: %.3f of the loops that can be straight are", model.Slug, able)
		}
		for i, s := range r.Shells {
			k := d.State.Parts[s.Part].Fit.Kind
			p := mesh.NewPatch(m, withoutChamfers(d, document.PartID(s.Part), s.Faces), d.State.Map.IsCut)
			l2, angular := p.Stretch(d.State.Map.Get(p))
			if (k == shape.Plane || k == shape.Cylinder || k == shape.Cone || k == shape.Extruded) && (l2 > 1.001 || angular > 1.005) {
				t.Errorf("%s: shell %d of %s (%s) has L2 %g, angular %g", model.Slug, i, d.State.Parts[s.Part].Name, k, l2, angular)
			}
		}
		faces := 0
		for _, p := range r.Parts {
			faces += len(p.Faces)
		}
		if faces != m.NumFaces() {
			t.Errorf("%s: parts hold %d faces of %d", model.Slug, faces, m.NumFaces())
		}
	}
}

func TestPartsDoNotDependOnPlaceTurnOrSize(t *testing.T) {
	m := modeltest.Mesh(t, "storm-lamp")
	recognise := func(m *mesh.Mesh) *document.State {
		s, err := (&partedits.Recognise{}).Apply(context.Background(), document.New(m, document.DefaultSettings()), nil)
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	want := recognise(m)
	rot := r3.NewRotation(0.73, r3.Unit(r3.Vec{X: 1, Y: -2, Z: 0.4}))
	for name, f := range map[string]func(r3.Vec) r3.Vec{
		"turned": func(p r3.Vec) r3.Vec { return rot.Rotate(p) },
		"moved":  func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 3, Y: -2, Z: 1}) },
		"large":  func(p r3.Vec) r3.Vec { return r3.Scale(1000, p) },
		"small":  func(p r3.Vec) r3.Vec { return r3.Scale(1e-3, p) },
	} {
		got := recognise(meshtest.Mapped(t, m, f))
		same, all := 0, 0
		for e := range m.NumEdges() {
			a, b := m.EdgeFaces(mesh.EdgeID(e))
			if b == mesh.None {
				continue
			}
			all++
			if (want.PartOf(mesh.FaceID(a)) == want.PartOf(mesh.FaceID(b))) == (got.PartOf(mesh.FaceID(a)) == got.PartOf(mesh.FaceID(b))) {
				same++
			}
		}
		if float64(same) < 0.995*float64(all) {
			t.Errorf("%s: borders of parts agree at %d of %d edges only", name, same, all)
		}
	}
}

func TestKnownShapes(t *testing.T) {
	m := modeltest.Mesh(t, "storm-lamp")
	d := run(t, m)
	for _, p := range d.State.Parts {
		if p.Name != "glass wall" {
			continue
		}
		if p.Fit.Kind != shape.Cylinder || math.Abs(p.Fit.Radius-0.047) > 1e-6 || math.Abs(math.Abs(p.Fit.Axis.Y)-1) > 1e-9 {
			t.Errorf("the glass is %+v", p.Fit)
		}
		return
	}
	t.Error("there is no glass wall")
}

// TestUndoOfTheWholeJobLeadsBack holds that every delta, stored and read
// again, leads exactly to the state before it.
func TestUndoOfTheWholeJobLeadsBack(t *testing.T) {
	m, err := models.Models()[1].Mesh()
	if err != nil {
		t.Fatal(err)
	}
	doc := document.New(m, document.DefaultSettings())
	r, err := pipeline.Run(context.Background(), doc, nil)
	if err != nil {
		t.Fatal(err)
	}
	states := []*document.State{doc.State}
	for _, k := range r.Taken {
		states = append(states, k.State)
	}
	now := r.Doc.State
	for i := len(states) - 1; i > 0; i-- {
		delta := document.Diff(states[i-1], states[i])
		b, err := delta.MarshalBinary()
		if err != nil {
			t.Fatal(err)
		}
		var back document.Delta
		if err := back.UnmarshalBinary(b); err != nil {
			t.Fatal(err)
		}
		if now, err = back.Undo(now); err != nil {
			t.Fatal(err)
		}
		if left := document.Diff(now, states[i-1]); !left.Empty() {
			t.Fatalf("undoing %s does not lead back: %v", r.Taken[i-1].Edit.Kind(), err)
		}
	}
}

func TestCancelStopsAndChangesNothing(t *testing.T) {
	m, err := models.Models()[0].Mesh()
	if err != nil {
		t.Fatal(err)
	}
	doc := document.New(m, document.DefaultSettings())
	ctx, cancel := context.WithCancel(context.Background())
	_, err = pipeline.Run(ctx, doc, func(station string, _ float64) {
		if station == "flow" {
			cancel()
		}
	})
	if !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled job gave %v", err)
	}
	if r := proof.Measure(doc.ProofInput()); r.Totals.Shells != 0 {
		t.Errorf("the document changed: %d shells", r.Totals.Shells)
	}
}
