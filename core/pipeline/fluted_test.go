package pipeline_test

import (
	"context"
	"os"
	"testing"

	"morvek/core/document"
	"morvek/core/meshio"
	"morvek/core/pipeline"
	"morvek/core/proof"
)

// A bevel does not come to hang on the fingers that corner cuts make of a fluted wall: they would not lie
// beside each other.
func TestAFlutedKnobStaysInFewPieces(t *testing.T) {
	src, err := os.ReadFile("testdata/knob.obj")
	if err != nil {
		t.Fatal(err)
	}
	m, err := meshio.Read(context.Background(), "knob.obj", meshio.Input{Data: src})
	if err != nil {
		t.Fatal(err)
	}
	res, err := pipeline.Run(context.Background(), document.New(m, document.Guess(m, document.DefaultSettings())), nil)
	if err != nil {
		t.Fatal(err)
	}
	r := proof.Measure(res.Doc.ProofInput())
	if r.Totals.Shells > 12 || !r.Acceptable() || r.Totals.AngularP95 > 1.01 {
		t.Errorf("%d shells, angular p95 %.3f, %d findings", r.Totals.Shells, r.Totals.AngularP95, len(r.Findings))
	}
}
