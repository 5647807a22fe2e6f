package seamedits_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// zigzag is a wall whose opening climbs in steps, as a map from elsewhere may have it.
func zigzag(t *testing.T) *document.Document {
	var profile []r2.Vec
	for k := range 9 {
		profile = append(profile, r2.Vec{X: 2, Y: float64(k)})
	}
	d := edittest.Apply(t, document.New(meshtest.Lathe(t, 16, profile...), document.DefaultSettings()), &partedits.Recognise{})
	m := d.Mesh
	s := d.Begin()
	step := func(p mesh.PointID) (around, up int) {
		q := m.Points[p]
		return int(math.Round(math.Atan2(q.Z, q.X) / (2 * math.Pi / 16))), int(math.Round(q.Y))
	}
	for e := range s.Map.Cuts() {
		h := m.EdgeHalf(mesh.EdgeID(e))
		a, y := step(m.From(h))
		b, z := step(m.To(h))
		low := min(y, z)
		switch {
		case a == b && y != z: // up at 0 and 1 by turns
			s.Map.SetCut(mesh.EdgeID(e), s.Map.IsCut(mesh.EdgeID(e)) || a == low%2)
		case y == z && y > 0 && y < 8: // and across in between
			s.Map.SetCut(mesh.EdgeID(e), s.Map.IsCut(mesh.EdgeID(e)) || min(a, b) == 0 && max(a, b) == 1)
		}
	}
	return edittest.Apply(t, d.With(s.Done()), &flowedits.Flatten{}, &sheetedits.Pack{})
}

func TestStraighten(t *testing.T) {
	d := zigzag(t)
	was := edittest.Measure(d).Totals
	if was.Jogs < 6 {
		t.Fatalf("%d jogs: this opening should be crooked", was.Jogs)
	}
	now := edittest.Apply(t, d, &seamedits.Straighten{Faces: []mesh.FaceID{3}})
	if q := edittest.Measure(now).Totals; q.Jogs != 0 || q.Unmapped+q.Mirrored > 0 || q.Shells != 1 || q.L2 > 1+1e-9 || q.SeamLength > was.SeamLength {
		t.Errorf("%+v", q)
	}
	edittest.Refused(t, now, &seamedits.Straighten{Faces: []mesh.FaceID{3}}, "as straight as the edges allow")
	edittest.Refused(t, d, &seamedits.Straighten{}, "pick a face")
	// What people cut stays, crooked as it is.
	var cuts []mesh.EdgeID
	for e, c := range d.State.Map.Cuts() {
		if f, g := d.Mesh.EdgeFaces(mesh.EdgeID(e)); c && g != mesh.None && f != g {
			cuts = append(cuts, mesh.EdgeID(e))
		}
	}
	byHand := edittest.Apply(t, d, &seamedits.Close{Edges: cuts}, &seamedits.Cut{Edges: cuts})
	edittest.Refused(t, byHand, &seamedits.Straighten{Faces: []mesh.FaceID{3}}, "as straight as the edges allow")
}
