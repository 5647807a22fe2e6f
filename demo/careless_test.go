package demo

import (
	"context"
	"math"
	"strings"
	"testing"

	"morvek/core/mend"
	"morvek/core/meshio"
	"morvek/models/modeltest"
)

// The Careless winch, repaired, has the counts of the clean one, and its true size though its nodes
// are scaled unevenly.
func TestTheCarelessWinchIsRepairedToTheCleanOne(t *testing.T) {
	data, err := CarelessFile()
	if err != nil {
		t.Fatal(err)
	}
	ctx := context.Background()
	m, err := meshio.Read(ctx, "careless-winch.gltf", meshio.Input{Data: data})
	if err != nil {
		t.Fatal(err)
	}
	if !strings.Contains(strings.Join(m.Baked, " "), "an uneven scale of 1 to 2") {
		t.Errorf("baked in is said to be %q", m.Baked)
	}
	clean := modeltest.Mesh(t, "line-winch")
	if d := m.Diagonal() / clean.Diagonal(); math.Abs(d-1) > 1e-6 {
		t.Errorf("it is %g times as large", d)
	}
	for _, kind := range []string{"weld", "folded", "doubled", "winding"} {
		found := false
		for _, c := range mend.Find(m, mend.Options{}) {
			found = found || c.Kind == kind && c.Count > 20
		}
		if !found {
			t.Errorf("there is nothing for %s", kind)
		}
	}
	w, _, err := mend.Do(ctx, m, []string{"all"}, mend.Options{})
	if err != nil {
		t.Fatal(err)
	}
	_, pieces := w.Components()
	_, were := clean.Components()
	if w.NumFaces() != len(clean.Triangles().Corner) || w.NumPoints() != clean.NumPoints() || pieces != were || len(w.Objects) != len(clean.Objects) {
		t.Errorf("%d faces, %d points, %d pieces, %d objects; the clean one has %d, %d, %d, %d", w.NumFaces(), w.NumPoints(), pieces, len(w.Objects),
			len(clean.Triangles().Corner), clean.NumPoints(), were, len(clean.Objects))
	}
}
