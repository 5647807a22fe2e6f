package shape_test

import (
	"slices"
	"testing"

	"morvek/core/shape"
)

// Every kind has a row in the table of traits, with what others rely on.
func TestTheTableOfShapesHasNoGaps(t *testing.T) {
	free := shape.Free.Traits()
	for _, k := range shape.Kinds {
		tr := k.Traits()
		if tr.Word == "" || tr.Projection == "" || tr.Least < 1 {
			t.Errorf("%s: %+v", k, tr)
		}
		if k != shape.Free && tr == free {
			t.Errorf("%s has no row", k)
		}
		if tr.Axis.Goes() && !tr.Axis.Around() {
			t.Errorf("%s goes around an axis that is not in its middle", k)
		}
		if f := (shape.Fit{Kind: k}); f.Bent() {
			t.Errorf("%s is bent without a spine", k)
		}
	}
	if len(shape.Kinds) != 11 || slices.Contains(shape.Kinds, "") {
		t.Errorf("%d kinds: %v", len(shape.Kinds), shape.Kinds)
	}
	if shape.Kind("blob").Traits() != free {
		t.Error("what is no kind is not treated as free")
	}
}
