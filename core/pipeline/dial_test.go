package pipeline_test

import (
	"context"
	"testing"

	"morvek/core/document"
	"morvek/core/pipeline"
	"morvek/core/report"
	"morvek/models/modeltest"
)

// Towards less stretch there are never fewer shells nor less seam in view, and the
// map is without fault at every place of the dial.
func TestDialGoesFromFewerPiecesToLessStretch(t *testing.T) {
	m := modeltest.Mesh(t, "survey-case")
	shells, seen := 0, 0.0
	for _, dial := range []float64{0, 0.5, 0.75, 1} {
		set := document.DefaultSettings()
		set.Dial = dial
		r, err := pipeline.Run(context.Background(), document.New(m, set), nil)
		if err != nil {
			t.Fatal(err)
		}
		rep, err := report.Of(context.Background(), r.Doc, "survey-case")
		if err != nil {
			t.Fatal(err)
		}
		q := rep.Totals
		if q.Unmapped+q.Mirrored+q.Outside > 0 || q.OverlapShare > 0 || q.GrainOverDeg > 2 {
			t.Errorf("dial %g: %+v", dial, q)
		}
		if q.Shells < shells || q.SeamExposed < seen-1e-9 {
			t.Errorf("dial %g: %d shells after %d, seam in view %g after %g", dial, q.Shells, shells, q.SeamExposed, seen)
		}
		shells, seen = q.Shells, q.SeamExposed
	}
}
