package proofedits_test

import (
	"math"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/proofedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/proof"
)

// An accepted finding is out of the count and keeps its reason, until it gets worse or is taken back;
// it survives the store, and measuring again after the change gives what measuring all gives.
func TestFindingsAreAccepted(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	d = edittest.Apply(t, d, &sheetedits.Pack{}, &sheetedits.Clear{Faces: []mesh.FaceID{0, 1}})
	was := edittest.Measure(d)
	find := func(d *document.Document) proof.Finding {
		for _, f := range edittest.Measure(d).Findings {
			if f.Kind == proof.Unmapped {
				return f
			}
		}
		t.Fatal("nothing is unmapped")
		return proof.Finding{}
	}
	f := find(d)
	if was.Acceptable() || f.Value != 2 {
		t.Fatalf("it is %+v", f)
	}
	e := &proofedits.Accept{Findings: []proof.Known{{Kind: f.Kind, Face: f.Faces[0], Value: f.Value}}, Reason: " it stands on the ground "}
	before := d
	d = edittest.Apply(t, d, e)
	now := find(d)
	if now.Accepted != "it stands on the ground" || now.Must() || !edittest.Measure(d).Acceptable() {
		t.Errorf("accepted it is %+v", now)
	}
	again := d.Measured(was, document.Diff(before.State, d.State))
	if len(again.Findings) != len(was.Findings) || again.Findings[len(again.Findings)-1].Accepted == "" {
		t.Errorf("measured again it is %+v", again.Findings)
	}
	if got := find(edittest.Restored(t, d)); got.Accepted != now.Accepted {
		t.Errorf("stored it is %+v", got)
	}
	worse := edittest.Apply(t, d, &sheetedits.Clear{Faces: []mesh.FaceID{2, 3}})
	if got := find(worse); got.Accepted != "" || edittest.Measure(worse).Acceptable() {
		t.Errorf("worse it is still accepted: %+v", got)
	}
	e.Withdraw = true
	if got := find(edittest.Apply(t, d, e)); got.Accepted != "" {
		t.Errorf("taken back it is %+v", got)
	}
}

func TestWhatCannotBeAccepted(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	good := proof.Known{Kind: proof.Overlap, Face: 0, Value: 1}
	for says, e := range map[string]*proofedits.Accept{
		"no finding": {Reason: "x"}, "say why": {Findings: []proof.Known{good}}, "at most": {Findings: []proof.Known{good}, Reason: strings.Repeat("a", 300)},
		"no face": {Findings: []proof.Known{{Kind: proof.Overlap, Face: 999}}, Reason: "x"}, "no finding \"ugly\"": {Findings: []proof.Known{{Kind: "ugly"}}, Reason: "x"},
		"NaN": {Findings: []proof.Known{{Kind: proof.Overlap, Value: math.NaN()}}, Reason: "x"}, "changes nothing": {Findings: []proof.Known{good}, Withdraw: true},
	} {
		edittest.Refused(t, d, e, says)
	}
}
