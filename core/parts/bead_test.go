package parts_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// can is a case with two beads round it, about Y, whose walls and beads meet at an edge.
func can(t *testing.T, scale float64) *mesh.Mesh {
	profile := []r2.Vec{{}}
	for _, low := range []float64{3, 7} {
		for k := range 7 {
			a := math.Pi * float64(k) / 6
			profile = append(profile, r2.Vec{X: 0.4 * math.Sin(a), Y: low + 1.2*float64(k)/6})
		}
	}
	profile = append(profile, r2.Vec{Y: 11.2})
	for k := range profile {
		profile[k] = r2.Scale(scale, profile[k])
	}
	return meshtest.Hoop(t, 14*scale, 5*scale, 2.5*scale, 5, profile...)
}

// A bead round a case is one part, as it is of quads or triangles, large or small, turned or not.
func TestBeads(t *testing.T) {
	turn := r3.NewRotation(0.7, r3.Unit(r3.Vec{X: 1, Y: 2, Z: -0.5}))
	quads := can(t, 1)
	for name, m := range map[string]*mesh.Mesh{
		"of quads":     quads,
		"of triangles": meshtest.Alternating(t, quads),
		"turned":       meshtest.Mapped(t, quads, turn.Rotate),
		"small":        can(t, 1e-3),
	} {
		beads, walls := 0, 0
		list := recognise(t, m)
		for _, p := range list {
			switch p.Fit.Kind {
			case shape.Swept:
				beads++
			case shape.Extruded:
				walls++
			}
		}
		if len(list) != 5 || beads != 2 || walls != 3 {
			t.Errorf("%s: %d parts, %d beads and %d walls; want 5, 2 and 3", name, len(list), beads, walls)
		}
	}
}

// What has corners, as a frame of mitred bars, is none, nor is what is about an axis or hardly longer than wide.
func TestBeadsOnly(t *testing.T) {
	section := []r2.Vec{{}, {X: 0.5, Y: 0.2}, {X: 0.8, Y: 0.6}, {X: 0.9, Y: 1.1}}
	for name, m := range map[string]*mesh.Mesh{
		"a frame": meshtest.Hoop(t, 9, 6, 1e-9, 1, section...),
		"a ring":  meshtest.Lathe(t, 48, r2.Vec{X: 9}, r2.Vec{X: 9.4, Y: 0.3}, r2.Vec{X: 9.6, Y: 0.8}, r2.Vec{X: 9.4, Y: 1.2}),
	} {
		for _, p := range recognise(t, m) {
			if p.Fit.Kind == shape.Swept && len(p.Faces) == m.NumFaces() {
				t.Errorf("%s is a bead", name)
			}
		}
	}
}
