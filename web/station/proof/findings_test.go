package proof

import (
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
)

func TestBetween(t *testing.T) {
	for _, c := range [][3]string{{"0.37 mm", "0.38 mm", "0.37 to 0.38 mm"}, {"0.9 mm", "1.2 cm", "0.9 mm to 1.2 cm"}, {"×1.20", "endless", "×1.20 to endless"},
		{"3°", "12°", "3 to 12°"}, {"2 faces", "1 200 faces", "2 to 1 200 faces"}} {
		if got := between(c[0], c[1]); got != c[2] {
			t.Errorf("%s and %s: %q, want %q", c[0], c[1], got, c[2])
		}
	}
}

func TestFindingsOnRepeatsAreFolded(t *testing.T) {
	first := document.PartID(0)
	five := meshtest.Grid(t, 5, 1, func(u, v float64) r3.Vec { return r3.Vec{X: 5 * u, Y: v} })
	tx := document.New(five, document.DefaultSettings()).Begin()
	tx.Parts = []*document.Part{{Name: "bolt 1"}, {Name: "bolt 2", RepeatOf: &first}, {Name: "lid"}}
	for f, p := range []document.PartID{0, 1, 2, document.NoPart, document.NoPart} {
		tx.SetPart(mesh.FaceID(f), p)
	}
	s := tx.Done()
	find := func(kind string, value float64, f mesh.FaceID) proof.Finding {
		return proof.Finding{Kind: kind, Severity: "look", Value: value, Faces: []mesh.FaceID{f, 4}}
	}
	got := foldFindings([]proof.Finding{
		find(proof.Stretched, 1.2, 1), find(proof.Stretched, 1.2, 2), find(proof.Stretched, 1.2, 0), // a lid between two bolts
		find(proof.Stretched, 1.4, 0),                                // a bolt once more
		find(proof.OffGrain, 1.2, 1),                                 // another kind
		find(proof.Stretched, 1.2, 3), find(proof.Stretched, 1.2, 3), // of no part
	}, s)
	want := [][]int{{0, 2, 3}, {1}, {4}, {5}, {6}}
	if len(got) != len(want) {
		t.Fatalf("%d findings, want %d", len(got), len(want))
	}
	for i, w := range want {
		if !slices.Equal(got[i].At, w) {
			t.Errorf("finding %d leads to %v, want %v", i, got[i].At, w)
		}
	}
	if got[0].Part != "bolt 2" || got[0].Words != "stretched" || got[0].Value != "×1.20 to 1.40" || got[1].Value != "×1.20" {
		t.Errorf("they read %q %q %q, %q", got[0].Words, got[0].Value, got[0].Part, got[1].Value)
	}
}
