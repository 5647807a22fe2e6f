package pipeline_test

import (
	"context"
	"os"
	"testing"

	"morvek/core/document"
	"morvek/core/meshio"
	"morvek/core/pipeline"
	"morvek/core/proof"
	"morvek/core/shape"
)

// jobOn does the whole job on a file of testdata.
func jobOn(t *testing.T, name string) (*document.Document, proof.Report) {
	t.Helper()
	src, err := os.ReadFile("testdata/" + name)
	if err != nil {
		t.Fatal(err)
	}
	m, err := meshio.Read(context.Background(), name, meshio.Input{Data: src})
	if err != nil {
		t.Fatal(err)
	}
	res, err := pipeline.Run(context.Background(), document.New(m, document.Guess(m, meshio.Habit(name), document.DefaultSettings())), nil)
	if err != nil {
		t.Fatal(err)
	}
	return res.Doc, proof.Measure(res.Doc.ProofInput())
}

// A bevel does not come to hang on the fingers that corner cuts make of a fluted wall: they would not lie
// beside each other.
func TestAFlutedKnobStaysInFewPieces(t *testing.T) {
	_, r := jobOn(t, "knob.obj")
	if r.Totals.Shells > 12 || !r.Acceptable() || r.Totals.AngularP95 > 1.01 {
		t.Errorf("%d shells, angular p95 %.3f, %d findings", r.Totals.Shells, r.Totals.AngularP95, len(r.Findings))
	}
}

// Bores of one radius go over into each other smoothly where they cross; each is a wall all the same, though
// the digits of the file leave none of them exact.
func TestBoresThatCrossAreWalls(t *testing.T) {
	d, r := jobOn(t, "bores.obj")
	for p, faces := range d.State.PartFaces() {
		if k := d.State.Parts[p].Fit.Kind; len(faces) > 0 && k != shape.Plane && k != shape.Cylinder {
			t.Errorf("%d faces are %s", len(faces), k)
		}
	}
	if r.Totals.AngularP95 > 1.005 || !r.Acceptable() {
		t.Errorf("angular p95 %.3f, %d findings", r.Totals.AngularP95, len(r.Findings))
	}
}

// Two walls that meet in a ledge which fits neither are not cut into fingers for it.
func TestWallsThatMeetInALedgeStayWhole(t *testing.T) {
	_, r := jobOn(t, "ledge.obj")
	if r.Totals.Shells > 12 || !r.Acceptable() || r.Totals.AngularP95 > 1.05 {
		t.Errorf("%d shells, angular p95 %.3f, %d findings", r.Totals.Shells, r.Totals.AngularP95, len(r.Findings))
	}
}
