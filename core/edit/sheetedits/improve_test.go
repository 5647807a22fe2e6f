package sheetedits_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/edit/edittest"
	"morvek/core/edit/sheetedits"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Watched and stopped, what was seen is what is taken; sizes stay to each other.
func TestImprovedAsItWasSeen(t *testing.T) {
	d := scattered(t)
	all := firsts(d)
	d = edittest.Apply(t, d, &sheetedits.Pack{}, &sheetedits.Move{Faces: all, Scale: 0.8, Each: true}, &sheetedits.Move{Faces: all[:1], Scale: 0.5})
	rounds := 0
	last := map[mesh.HalfedgeID]r2.Vec{}
	e := &sheetedits.Improve{Rounds: 6}
	e.Watch(func(f lay.Frame) {
		if rounds = f.Iteration; rounds <= 4 {
			for i, h := range f.Corners {
				last[h] = f.UV[i]
			}
		}
	})
	if _, err := e.Apply(t.Context(), d, nil); err != nil {
		t.Fatal(err)
	}
	if rounds != 6 || len(last) == 0 {
		t.Fatalf("%d rounds, %d corners seen", rounds, len(last))
	}
	stopped := edittest.Apply(t, d, &sheetedits.Improve{Rounds: 4})
	for h, q := range last {
		if stopped.State.Map.At(h) != q {
			t.Fatalf("corner %d lies at %v, was seen at %v", h, stopped.State.Map.At(h), q)
		}
	}
	was, is := edittest.Measure(d), edittest.Measure(stopped)
	by := is.Shells[1].Density / was.Shells[1].Density
	for i := range was.Shells {
		if k := is.Shells[i].Density / was.Shells[i].Density; math.Abs(k-by) > 1e-9 || k <= 1 {
			t.Errorf("shell %d became %g as sharp, the second %g", i, k, by)
		}
	}
	if r := is.Totals; r.OverlapShare != 0 || r.Outside != 0 || r.NearestPx() < 8-1e-6 {
		t.Errorf("%+v", r)
	}
	edittest.Refused(t, edittest.Apply(t, d, &sheetedits.Lock{Faces: all[:1], Locked: true}), &sheetedits.Improve{}, "let go of it first")
	edittest.Refused(t, edittest.Apply(t, d, &sheetedits.ToRack{Faces: all}), &sheetedits.Improve{}, "pack it first")
	edittest.Refused(t, d, &sheetedits.Improve{Rounds: -1}, "-1 rounds")
}
