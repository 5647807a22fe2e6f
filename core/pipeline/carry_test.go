package pipeline_test

import (
	"context"
	"math"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/flowedits"
	"morvek/core/mesh"
	"morvek/core/pipeline"
	"morvek/core/proof"
	"morvek/core/segment"
	"morvek/models/modeltest"
)

// The boards of the Survey case run over the edge of its lid: on the front board of the
// lid the pattern of the front goes on over the top, and so on every board.
func TestBoardsRunOverTheEdgeOfTheLid(t *testing.T) {
	m := modeltest.Mesh(t, "survey-case")
	set := document.DefaultSettings()
	set.Dial = 0.9 // else most boards are one shell each and have nothing to carry on
	job, err := pipeline.Run(context.Background(), document.New(m, set), nil)
	if err != nil {
		t.Fatal(err)
	}
	var front, top mesh.FaceID = mesh.None, mesh.None
	for f, n := range m.FaceNormals() {
		if id := mesh.FaceID(f); m.ObjectName(id) == "lid_board_1_front" {
			switch {
			case n.Z > 0.99:
				front = id
			case n.Y > 0.99:
				top = id
			}
		}
	}
	edit := &flowedits.CarryOver{Material: true, From: &front}
	s, seams, err := edit.Plan(context.Background(), job.Doc)
	if err != nil {
		t.Fatal(err)
	}
	sum := segment.Sum(seams)
	if sum.Over < 60 || sum.Left > 1e-9 {
		t.Errorf("%+v", sum)
	}
	_, of := s.Map.Shells()
	carried := map[string]bool{} // boards
	onto := false
	for _, c := range seams {
		if c.Closing {
			continue
		}
		carried[m.ObjectName(c.From)] = true
		a, b := of[c.From], of[c.To]
		onto = onto || c.Length > 0.4 && min(a, b) == min(of[front], of[top]) && max(a, b) == max(of[front], of[top])
	}
	if !onto {
		t.Error("the pattern does not go on from the front of the lid to its top")
	}
	boards := map[string]bool{}
	for f := range mesh.FaceID(m.NumFaces()) {
		if m.MaterialName(f) == "ash_wood" {
			boards[m.ObjectName(f)] = true
		}
	}
	if len(carried) != len(boards) {
		t.Errorf("it was carried on %d of %d boards", len(carried), len(boards))
	}
	// Shells have not been stretched or mirrored.
	before, after := proof.Measure(job.Doc.ProofInput()), proof.Measure(job.Doc.With(s).ProofInput())
	if math.Abs(before.Totals.L2-after.Totals.L2) > 1e-9 || after.Totals.Mirrored > 0 {
		t.Errorf("before %+v, after %+v", before.Totals, after.Totals)
	}
}
