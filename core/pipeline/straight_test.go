package pipeline_test

import (
	"context"
	"math"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/report"
	"morvek/core/shape"
	"morvek/models/modeltest"
)

// straightOfGrids is the straight share of shells made of rows and columns of at least
// four faces, and that of those among them that can be straight for a stretch within the
// tolerance, and keep L² ≤ 1.001 if they can lie flat.
func straightOfGrids(t testing.TB, d *document.Document) (grids, able float64) {
	shells, _ := d.State.Map.Shells()
	var straight, total [2]float64
	for _, sh := range shells {
		p := mesh.NewPatch(d.Mesh, sh.Faces, d.State.Map.IsCut)
		if len(sh.Faces) < 4 || !flow.IsGrid(p) {
			continue
		}
		uv := d.State.Map.Get(p)
		s, all := flow.StraightShare(p, uv)
		scale := math.Sqrt(p.Area() / float64(len(sh.Faces)))
		straight[0], total[0] = straight[0]+s*scale, total[0]+all*scale
		as, err := flow.TrueUp(context.Background(), p, uv, flow.TrueSettings{Mode: flow.AsGrid})
		if err != nil {
			t.Fatal(err)
		}
		if flat := as.Before.L2 < 1.0001; as.Why == "" && as.After.Worst <= 1.15 && (!flat || as.After.L2 <= 1.001) {
			straight[1], total[1] = straight[1]+s*scale, total[1]+all*scale
		}
	}
	return straight[0] / max(total[0], 1e-300), straight[1] / max(total[1], 1e-300)
}

// What stays bent says why, and only what curves both ways does: a cone is a bent sheet.
func TestWhatStaysBentSaysWhy(t *testing.T) {
	m := modeltest.Mesh(t, "storm-lamp")
	domes := 0
	for _, p := range report.PartReports(run(t, m)) {
		said := strings.Contains(p.Note, "its loops stay bent: it is a dome")
		if said {
			domes++
		}
		if said && p.Shape != shape.Sphere && p.Shape != shape.Turned && p.Shape != shape.Torus {
			t.Errorf("%s is a %s: %s", p.Name, p.Shape, p.Note)
		}
	}
	if domes == 0 {
		t.Error("the dome does not say why its loops stay bent")
	}
}
