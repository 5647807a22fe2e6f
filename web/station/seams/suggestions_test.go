package seams

import (
	"testing"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/segment"
)

// Corner cuts without which a wall does not open are taken with its opening; others stand for themselves.
func TestCutsThatBelongTogetherAreOne(t *testing.T) {
	list := []segment.Suggestion{
		{Why: segment.ForOpening, Part: 3, Edges: []mesh.EdgeID{1, 2}, Length: 5},
		{Why: segment.ForCorner, Part: 3, Edges: []mesh.EdgeID{7}, Length: 1},
		{Why: segment.ForCorner, Part: 4, Edges: []mesh.EdgeID{8}, Length: 1},
		{Why: segment.ForCorner, Part: 3, Edges: []mesh.EdgeID{9}, Length: 1},
		{Why: segment.ForMaterial, Part: document.NoPart, Edges: []mesh.EdgeID{4}, Length: 2},
	}
	got, besides := together(list)
	if len(got) != 3 || len(got[0].Edges) != 4 || got[0].Length != 7 || len(list[0].Edges) != 2 {
		t.Fatalf("together they are %+v", got)
	}
	if w := besides[3].words(segment.ForOpening); w != " with 2 corner cuts" {
		t.Errorf("said is %q", w)
	}
	if w := besides[4].words(segment.ForCorner); w != "" {
		t.Errorf("one that stands for itself has %q", w)
	}
}
