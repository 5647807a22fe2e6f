package proofedits_test

import (
	"context"
	"reflect"
	"testing"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/proofedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
)

// What was found when the state was marked is known; what comes later, or gets worse, is new, through
// the store too, until the mark is let go.
func TestFindingsAreNewSinceAMark(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	d = edittest.Apply(t, d, &sheetedits.Pack{}, &sheetedits.Clear{Faces: []mesh.FaceID{0}})
	fresh := func(d *document.Document) (n int) {
		for _, f := range edittest.Measure(d).Findings {
			if f.New {
				n++
			}
		}
		return n
	}
	if fresh(d) != 0 {
		t.Error("without a mark something is new")
	}
	before := d
	d = edittest.Apply(t, d, &proofedits.Mark{})
	if n := len(edittest.Measure(d).Findings); n == 0 || fresh(d) != 0 {
		t.Errorf("%d of %d are new at once", fresh(d), n)
	}
	worse := edittest.Apply(t, d, &sheetedits.Clear{Faces: []mesh.FaceID{2, 3}})
	for _, w := range []*document.Document{worse, edittest.Restored(t, worse)} {
		if fresh(w) != 1 {
			t.Errorf("with more that is not mapped %d are new", fresh(w))
		}
	}
	again := worse.Measured(edittest.Measure(d), document.Diff(d.State, worse.State))
	if whole := edittest.Measure(worse); !reflect.DeepEqual(again.Findings, whole.Findings) {
		t.Errorf("measured again it is %+v, whole %+v", again.Findings, whole.Findings)
	}
	if fresh(edittest.Apply(t, worse, &proofedits.Mark{})) != 0 {
		t.Error("marked anew something is new")
	}
	let := edittest.Apply(t, worse, &proofedits.Mark{Forget: true})
	if fresh(let) != 0 || let.State.Wishes.Marked != nil {
		t.Error("the mark is still there")
	}
	if _, err := edit.Apply(context.Background(), before, &proofedits.Mark{Forget: true}, nil); err == nil {
		t.Error("what is not marked is forgotten")
	}
}
