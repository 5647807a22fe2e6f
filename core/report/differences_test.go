package report_test

import (
	"context"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/pipeline/pipelinetest"
	"morvek/core/proof"
	"morvek/core/report"
)

func seen(d *document.Document) report.Seen {
	return report.Seen{Doc: d, Proof: proof.Measure(d.ProofInput())}
}

func edited(t *testing.T, d *document.Document, e edit.Edit) *document.Document {
	t.Helper()
	s, err := edit.Apply(context.Background(), d, e, nil)
	if err != nil {
		t.Fatal(err)
	}
	return d.With(s)
}

// What nothing was done to does not differ, whatever its parts are called; what was moved, renamed or taken off
// is told, and the other way round the other way.
func TestDifferencesAreToldBothWays(t *testing.T) {
	d := pipelinetest.Can(t, 12)
	was := seen(d)
	if x := report.Compare(was, seen(d.With(d.State))); len(x.Parts) != 0 || x.Counts[report.Stays] != d.Mesh.NumFaces() {
		t.Errorf("with itself: %+v", x)
	}
	wall := d.State.PartFaces()[0]
	moved := edited(t, d, &sheetedits.Move{Faces: wall[:1], Shift: r2.Vec{X: 3}})
	n := len(proofShell(was.Proof, wall[0]))
	x := report.Compare(was, seen(moved))
	if x.Counts[report.Elsewhere] != n || x.Counts[report.Stays] != d.Mesh.NumFaces()-n || len(x.Parts) != 1 || x.Parts[0].Elsewhere != n {
		t.Errorf("a shell of %d faces was moved: %v, %+v", n, x.Counts, x.Parts)
	}
	worse, better := trends(x), trends(report.Compare(seen(moved), was))
	if worse["outside the sheet"] != -1 || better["outside the sheet"] != 1 || worse["mirrored"] != 0 {
		t.Errorf("moved off the sheet: %v, back: %v", worse, better)
	}
	named := report.Compare(was, seen(edited(t, d, &partedits.Rename{Part: 0, Name: "the wall"})))
	if len(named.Parts) != 2 || named.Parts[0].Before != nil || named.Parts[1].After != nil || named.Counts[report.Elsewhere] != 0 {
		t.Errorf("renamed: %+v", named.Parts)
	}
	cleared := seen(edited(t, d, &sheetedits.Clear{}))
	if gone, back := report.Compare(was, cleared), report.Compare(cleared, was); gone.Counts[report.Removed] != d.Mesh.NumFaces() || back.Counts[report.Added] != d.Mesh.NumFaces() {
		t.Errorf("cleared: %v, and laid again: %v", gone.Counts, back.Counts)
	}
}

// Models with other faces are compared by their numbers, and by the names of their parts.
func TestDifferentModelsAreComparedByNumbers(t *testing.T) {
	x := report.Compare(seen(pipelinetest.Can(t, 12)), seen(pipelinetest.Can(t, 20)))
	if x.Faces != nil || len(x.Measures) == 0 || len(x.Parts) == 0 {
		t.Errorf("%d faces, %d measures, parts %+v", len(x.Faces), len(x.Measures), x.Parts)
	}
	for _, p := range x.Parts {
		if p.Before == nil || p.After == nil || p.Before.Faces == p.After.Faces && p.Before.Error == p.After.Error && p.Before.Stretch == p.After.Stretch {
			t.Errorf("%+v and %+v", p.Before, p.After)
		}
	}
}

func proofShell(r proof.Report, f mesh.FaceID) []mesh.FaceID { return r.Shells[r.ShellOf[f]].Faces }

func trends(d report.Differences) map[string]int {
	out := map[string]int{}
	for _, m := range d.Measures {
		out[m.Words] = m.Trend
	}
	return out
}
