package flow_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// sides are the faces of a prism along Y, without its ends.
func sides(m *mesh.Mesh) (out []mesh.FaceID) {
	for _, f := range meshtest.All(m) {
		if math.Abs(m.FaceNormals()[f].Y) < 0.5 {
			out = append(out, f)
		}
	}
	return out
}

// comb is the outline of n fins on a base: far longer around than anything of it is wide.
func comb(n int) (out []r2.Vec) {
	out = append(out, r2.Vec{X: 0, Y: 0}, r2.Vec{X: float64(2*n - 1), Y: 0})
	for k := n - 1; k >= 0; k-- {
		x := float64(2 * k)
		out = append(out, r2.Vec{X: x + 1, Y: 6}, r2.Vec{X: x, Y: 6})
		if k > 0 {
			out = append(out, r2.Vec{X: x, Y: 1}, r2.Vec{X: x - 1, Y: 1})
		}
	}
	return out
}

// obround is two half circles joined by straights.
func obround(straight, radius float64, n int) (out []r2.Vec) {
	for k := range 2 * (n + 1) {
		side := float64(k / (n + 1)) // first the right end, then the left one
		a := math.Pi * (float64(k%(n+1))/float64(n) - 0.5 + side)
		out = append(out, r2.Vec{X: radius*math.Cos(a) + straight*(0.5-side), Y: radius * math.Sin(a)})
	}
	return out
}

// On closed profiles the flats decide, each for its own longer side; where there is little
// flat, the wall as a whole.
func TestGrainOfExtrusions(t *testing.T) {
	for _, c := range []struct {
		name    string
		height  float64
		outline []r2.Vec
		want    flow.Mode
	}{
		{"fins 6 high and 20 long", 20, comb(8), flow.Along},
		{"fins 6 high and 2 long", 2, comb(8), flow.Around},
		{"a slot as long as it is deep", 10, obround(11, 8, 9), flow.Around},
		{"a long slot", 10, obround(60, 8, 9), flow.Around},
		{"a deep slot", 200, obround(11, 8, 9), flow.Along},
	} {
		m := meshtest.Prism(t, c.height, c.outline...)
		g := flow.DefaultGrain(m, sides(m), shape.Fit{Kind: shape.Extruded, Axis: r3.Vec{Y: 1}})
		if g.Mode != c.want {
			t.Errorf("%s: the grain runs %q, not %q", c.name, g.Mode, c.want)
		}
	}
}

// An open sheet has its grain along its blank, also where that is bent to a hook.
func TestGrainOfOpenSheetsFollowsTheBlank(t *testing.T) {
	angle := func(u float64) float64 { return 1.5 * math.Pi * u }
	for _, c := range []struct {
		wide float64
		want flow.Mode
	}{{2, flow.Around}, {30, flow.Along}} {
		m := meshtest.Grid(t, 24, 4, func(u, v float64) r3.Vec {
			s, cos := math.Sincos(angle(u))
			return r3.Vec{X: 3 * cos, Z: 3 * s, Y: c.wide * v}
		})
		g := flow.DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Extruded, Axis: r3.Vec{Y: 1}})
		if g.Mode != c.want {
			t.Errorf("a hook %g wide: the grain runs %q, not %q", c.wide, g.Mode, c.want)
		}
	}
}

// Slots across a sheet do not turn its grain: the blank is as long as before.
func TestGrainOfASlottedSheet(t *testing.T) {
	m := meshtest.Grid(t, 12, 40, func(u, v float64) r3.Vec {
		s, c := math.Sincos(math.Pi / 2 * u)
		return r3.Vec{X: 12 * c, Z: 12 * s, Y: 40 * v}
	})
	fit := shape.Fit{Kind: shape.Extruded, Axis: r3.Vec{Y: 1}}
	var slotted []mesh.FaceID
	for _, f := range meshtest.All(m) {
		at := m.FaceCentre(f)
		turn := math.Atan2(at.Z, at.X)
		if row := int(at.Y); row%3 != 1 || turn < 0.15 || turn > math.Pi/2-0.15 {
			slotted = append(slotted, f)
		}
	}
	if len(slotted) == len(meshtest.All(m)) {
		t.Fatal("no slots")
	}
	if g := flow.DefaultGrain(m, slotted, fit); g.Mode != flow.Along {
		t.Errorf("the grain runs %q", g.Mode)
	}
}

// A wall with chamfers on both ends is still a wall; a cone is not.
func TestChamferedWallsHaveAGrain(t *testing.T) {
	profile := []r2.Vec{{X: 8, Y: 0}, {X: 10, Y: 1}, {X: 10, Y: 30}, {X: 8, Y: 31}}
	m := meshtest.Lathe(t, 24, profile...)
	if g := flow.DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Turned, Axis: r3.Vec{Y: 1}}); g.Mode != flow.Around {
		t.Errorf("the grain of a chamfered wall runs %q", g.Mode)
	}
	m = meshtest.Lathe(t, 24, r2.Vec{X: 8, Y: 0}, r2.Vec{X: 12, Y: 20}, r2.Vec{X: 15, Y: 30})
	if g := flow.DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Turned, Axis: r3.Vec{Y: 1}}); g.Mode != flow.None {
		t.Errorf("the grain of a cone runs %q", g.Mode)
	}
}

func TestBalancedWalls(t *testing.T) {
	wall := func(high float64) bool {
		m := meshtest.Lathe(t, 24, r2.Vec{X: 1, Y: 0}, r2.Vec{X: 1, Y: high})
		return flow.Balanced(m, meshtest.All(m), shape.Fit{Kind: shape.Cylinder, Axis: r3.Vec{Y: 1}, Radius: 1})
	}
	for high, want := range map[float64]bool{2: false, 5.5: true, 7: true, 9: false} {
		if wall(high) != want {
			t.Errorf("a wall %g high and %.1f around: balanced is %v", high, 2*math.Pi, !want)
		}
	}
}
