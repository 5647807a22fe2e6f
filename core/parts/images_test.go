package parts_test

import (
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
)

// Images are each other's, lie where the plane puts them, and what differs has none.
func TestImagesInThePlaneOfAModel(t *testing.T) {
	plane := parts.Mirror{Normal: r3.Vec{X: 1}}
	reflect := func(p r3.Vec) r3.Vec { return r3.Vec{X: -p.X, Y: p.Y, Z: p.Z} }
	vase := meshtest.Lathe(t, 16, r2.Vec{X: 1}, r2.Vec{X: 1.5, Y: 1}, r2.Vec{X: 1, Y: 2}) // across the plane
	knob := meshtest.Mapped(t, meshtest.Prism(t, 0.3, r2.Vec{}, r2.Vec{X: 0.4}, r2.Vec{X: 0.2, Y: 0.5}), func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 3}) })
	lone := meshtest.Mapped(t, knob, func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{Y: 5}) })
	m := meshtest.Together(t, vase, knob, meshtest.Reflected(t, knob), lone)
	im := plane.Images(m)
	none := 0
	for f, g := range im.Face {
		if g == mesh.None {
			none++
			continue
		}
		if im.Face[g] != mesh.FaceID(f) {
			t.Fatalf("face %d has the image %d, which has %d", f, g, im.Face[g])
		}
		if d := r3.Norm(r3.Sub(m.FaceCentre(g), reflect(m.FaceCentre(mesh.FaceID(f))))); d > 1e-6 {
			t.Errorf("the image of face %d lies %g beside", f, d)
		}
	}
	if none != lone.NumFaces() {
		t.Errorf("%d faces have no image, want the %d of what stands alone", none, lone.NumFaces())
	}
	bare := 0
	for e, g := range im.Edge {
		switch {
		case g == mesh.None:
			bare++
		case im.Edge[g] != mesh.EdgeID(e):
			t.Fatalf("edge %d has the image %d, which has %d", e, g, im.Edge[g])
		}
	}
	if bare != lone.NumEdges() {
		t.Errorf("%d edges have no image, want %d", bare, lone.NumEdges())
	}
}
