package proofedits_test

import (
	"context"
	"errors"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/proofedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/report"
)

// marks are the cells of a part, a letter each: the first of what their mark is called.
func marks(d *document.Document, p document.PartID) string {
	var out strings.Builder
	for _, row := range report.CardOf(d, edittest.Measure(d)).Rows {
		if row.Part == p {
			for _, c := range row.Cells {
				out.WriteString(string(c.Mark)[:2] + " ")
			}
		}
	}
	return strings.TrimSpace(out.String())
}

func look(d *document.Document) (n int) {
	for _, k := range report.CardOf(d, edittest.Measure(d)).Look {
		n += k
	}
	return n
}

// A signature stands while what was signed stays as good, wherever it lies; it falls for what
// became worse, and for nothing else.
func TestSignaturesStandWhileWhatTheySayStays(t *testing.T) {
	d := edittest.Apply(t, edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5), &sheetedits.Pack{})
	before := look(d)
	d = edittest.Apply(t, d, &proofedits.Sign{Parts: []document.PartID{0}})
	if got := marks(d, 0); strings.Count(got, "si") < 4 || strings.Contains(got, "su") {
		t.Fatalf("signed: %s", got)
	}
	if look(d) >= before {
		t.Errorf("%d cells to look at, %d before", look(d), before)
	}
	d = edittest.Restored(t, d)
	signed := marks(d, 0)
	moved := edittest.Apply(t, d, &sheetedits.Move{Faces: []mesh.FaceID{0}, TurnDeg: 180}, &sheetedits.Pack{})
	if got := marks(moved, 0); got != signed {
		t.Errorf("packed otherwise: %s, signed %s", got, signed)
	}
	torn := edittest.Apply(t, d, &sheetedits.Clear{Faces: []mesh.FaceID{d.State.PartFaces()[0][0]}})
	if got := marks(torn, 0); strings.Count(got, "si") > 1 || !strings.Contains(got, "op") {
		t.Errorf("with a face that is not mapped: %s", got)
	}
	renamed := edittest.Apply(t, d, &partedits.Rename{Part: 0, Name: "lid"}, &flowedits.Flatten{Faces: []mesh.FaceID{d.State.PartFaces()[0][0]}})
	if got := marks(renamed, 0); !strings.HasPrefix(got, "si") {
		t.Errorf("renamed: %s", got)
	}
	back := edittest.Apply(t, d, &proofedits.Sign{Parts: []document.PartID{0}, Stations: []string{"Flow"}, Withdraw: true})
	if got := marks(back, 0); strings.Count(got, "si") != strings.Count(signed, "si")-1 {
		t.Errorf("without Flow: %s", got)
	}
}

func TestAllThatIsWithoutFindingsIsSigned(t *testing.T) {
	d := edittest.Apply(t, edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1), &sheetedits.Pack{})
	d = edittest.Apply(t, d, &sheetedits.Clear{Faces: d.State.PartFaces()[1]}, &proofedits.Sign{})
	if got := marks(d, 0); !strings.HasSuffix(got, "si") {
		t.Errorf("a part in order: %s", got)
	}
	if got := marks(d, 1); strings.HasSuffix(got, "si") {
		t.Errorf("a part that is not mapped: %s", got)
	}
	for says, e := range map[string]*proofedits.Sign{
		"nothing is left":  {},
		"not to be signed": {Parts: []document.PartID{1}, Stations: []string{"Flow"}},
		"no station":       {Stations: []string{"Polish"}},
		"no part 99":       {Parts: []document.PartID{99}},
	} {
		if _, err := e.Apply(context.Background(), d, nil); !errors.Is(err, document.ErrRefused) || !strings.Contains(err.Error(), says) {
			t.Errorf("%+v: %v, not %q", e, err, says)
		}
	}
	none := edittest.Apply(t, d, &proofedits.Sign{Withdraw: true})
	if strings.Contains(marks(none, 0), "si") {
		t.Errorf("withdrawn: %s", marks(none, 0))
	}
}
