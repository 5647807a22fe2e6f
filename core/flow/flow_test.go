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

// board is a flat sheet 3 long (X) and 1 wide (Z), normal up.
func board(t *testing.T) *mesh.Patch {
	t.Helper()
	return meshtest.Whole(meshtest.Grid(t, 9, 3, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Z: -v} }))
}

// flat is the true map of the board, turned.
func flat(p *mesh.Patch, turn float64) []r2.Vec {
	uv := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		uv[i] = r2.Vec{X: q.X, Y: -q.Z}
	}
	flow.Turn(uv, turn)
	return uv
}

func grainError(p *mesh.Patch, uv []r2.Vec, g flow.Grain, s flow.Settings) (worst float64) {
	d, ok := p.Differentials(uv)
	for i := range d {
		if !ok[i] {
			continue
		}
		f := p.Faces[p.TriFace[i]]
		n := p.Mesh.FaceNormals()[f]
		if w, has := g.At(p.Mesh.FaceCentre(f), n); has {
			worst = math.Max(worst, flow.Error(w, g.Sense, s, d[i], n))
		}
	}
	return worst
}

// However a shell comes, its grain ends on the axis and its loops exactly straight.
func TestOrientPutsTheGrainOnTheAxis(t *testing.T) {
	p := board(t)
	up := r3.Vec{Y: 1}
	for _, grain := range []r3.Vec{{X: 1}, {Z: 1}} {
		for _, onV := range []bool{false, true} {
			s := flow.Settings{GrainOnV: onV, Up: up}
			g := flow.Grain{Mode: flow.Toward, Axis: grain}
			for _, turn := range []float64{0, 0.3, 1, 1.6, 2.9, -2.2} {
				uv := flat(p, turn)
				flow.Orient(p, uv, g, s)
				if e := grainError(p, uv, g, s); e > 1e-9 {
					t.Errorf("grain %v, on V %v, turned by %g: %g rad off", grain, onV, turn, e)
				}
				straight, total := flow.StraightShare(p, uv)
				if straight < total*(1-1e-12) {
					t.Errorf("turned by %g: %.3f of %.3f of the edges are straight", turn, straight, total)
				}
				if l2, _ := p.Stretch(uv); math.Abs(l2-1) > 1e-12 {
					t.Errorf("turning stretched the shell to %g", l2)
				}
			}
		}
	}
}

// Up is up: a wall stands on the sheet as it stands in space.
func TestOrientKeepsUpUp(t *testing.T) {
	wall := meshtest.Whole(meshtest.Grid(t, 6, 4, func(u, v float64) r3.Vec { return r3.Vec{X: 2 * u, Y: v} }))
	g := flow.Grain{Mode: flow.Toward, Axis: r3.Vec{X: 1}}
	for _, turn := range []float64{0, math.Pi, 1.2, -2} {
		uv := make([]r2.Vec, len(wall.Pos))
		for i, q := range wall.Pos {
			uv[i] = r2.Vec{X: q.X, Y: q.Y}
		}
		flow.Turn(uv, turn)
		flow.Orient(wall, uv, g, flow.Settings{Up: r3.Vec{Y: 1}})
		for i, a := range wall.Pos {
			for j, b := range wall.Pos {
				if a.Y > b.Y+0.1 && uv[i].Y < uv[j].Y {
					t.Fatalf("turned by %g: %v lies below %v", turn, a, b)
				}
			}
		}
	}
}

// Without a grain a long shell lies along the sheet, a round one is left.
func TestOrientWithoutGrain(t *testing.T) {
	p := board(t)
	uv := flat(p, 1.1)
	flow.Orient(p, uv, flow.Grain{}, flow.Settings{Up: r3.Vec{Y: 1}})
	var lo, hi r2.Vec
	for _, q := range uv {
		lo = r2.Vec{X: math.Min(lo.X, q.X), Y: math.Min(lo.Y, q.Y)}
		hi = r2.Vec{X: math.Max(hi.X, q.X), Y: math.Max(hi.Y, q.Y)}
	}
	if s := r2.Sub(hi, lo); math.Abs(s.X-3) > 1e-9 || math.Abs(s.Y-1) > 1e-9 {
		t.Errorf("the board lies in a box of %v, want 3 × 1", s)
	}
}

func TestDefaultGrain(t *testing.T) {
	long := meshtest.Lathe(t, 16, r2.Vec{X: 0.1}, r2.Vec{X: 0.1, Y: 3})
	ring := meshtest.Lathe(t, 16, r2.Vec{X: 2}, r2.Vec{X: 2, Y: 0.2})
	lid := meshtest.Lathe(t, 32, r2.Vec{X: 1}, r2.Vec{})
	cone := meshtest.Lathe(t, 32, r2.Vec{X: 2}, r2.Vec{X: 1, Y: 1})
	leg := meshtest.Lathe(t, 16, r2.Vec{X: 0.12}, r2.Vec{X: 0.1, Y: 3})
	baluster := meshtest.Lathe(t, 16, r2.Vec{X: 0.1}, r2.Vec{X: 0.3, Y: 0.8}, r2.Vec{X: 0.1, Y: 2}, r2.Vec{X: 0.2, Y: 4})
	plate := board(t).Mesh
	w := meshtest.NewWelder()
	var egg, crescent []mesh.PointID
	for k := range 48 { // far away, where moments about the origin would lose all digits
		s, c := math.Sincos(2 * math.Pi * float64(k) / 48)
		egg = append(egg, w.Point(r3.Vec{X: 1e4 + (3+0.4*s)*c, Z: 2 * s}))
	}
	for k := range 49 {
		s, c := math.Sincos(math.Pi * float64(k) / 48)
		crescent = append(crescent, w.Point(r3.Vec{X: 3 * c, Z: 3 * s}))
	}
	for k := range 49 {
		s, c := math.Sincos(math.Pi * (1 - float64(k)/48))
		crescent = append(crescent, w.Point(r3.Vec{X: 2.8 * c, Z: 2.8 * s}))
	}
	w.Face(egg...)
	w.Face(crescent...)
	oval := w.Mesh(t)
	y := r3.Vec{Y: 1}
	for _, c := range []struct {
		name string
		mesh *mesh.Mesh
		fit  shape.Fit
		want flow.Mode
		axis r3.Vec
	}{
		{"a rod, along it", long, shape.Fit{Kind: shape.Cylinder, Axis: y, Radius: 0.1}, flow.Along, y},
		{"a ring, around it", ring, shape.Fit{Kind: shape.Cylinder, Axis: y, Radius: 2}, flow.Around, y},
		{"a turned wall, around it", ring, shape.Fit{Kind: shape.Turned, Axis: y, Radius: 2}, flow.Around, y},
		{"a turned funnel has none", cone, shape.Fit{Kind: shape.Turned, Axis: y, Radius: 2}, flow.None, r3.Vec{}},
		{"a cone has none", cone, shape.Fit{Kind: shape.Cone, Axis: y, Radius: 2, HalfAngle: math.Pi / 4}, flow.None, r3.Vec{}},
		{"a slender leg, along it", leg, shape.Fit{Kind: shape.Cone, Axis: y, Radius: 0.12, HalfAngle: math.Atan(0.02 / 3)}, flow.Along, y},
		{"a baluster, along it", baluster, shape.Fit{Kind: shape.Turned, Axis: y, Radius: 0.3}, flow.Along, y},
		{"a board, along its long side", plate, shape.Fit{Kind: shape.Plane, Axis: y}, flow.Toward, r3.Vec{X: 1}},
		{"a round lid has none", lid, shape.Fit{Kind: shape.Plane, Axis: y}, flow.None, r3.Vec{}},
		{"a free form has none", cone, shape.Fit{Kind: shape.Free}, flow.None, r3.Vec{}},
		{"an oval plate, the way it is long", oval, shape.Fit{Kind: shape.Plane, Axis: y}, flow.Toward, r3.Vec{X: 1}},
		{"a crescent has none", oval, shape.Fit{Kind: shape.Plane, Axis: y}, flow.None, r3.Vec{}},
	} {
		faces := meshtest.All(c.mesh)
		if c.mesh == oval {
			faces = faces[:1]
			if c.want == flow.None {
				faces = []mesh.FaceID{1}
			}
		}
		g := flow.DefaultGrain(c.mesh, faces, c.fit)
		if g.Mode != c.want {
			t.Errorf("%s: mode %q, want %q", c.name, g.Mode, c.want)
			continue
		}
		if g.Mode != flow.None {
			if a := mesh.Angle(g.Axis, c.axis); math.Min(a, math.Pi-a) > 1e-8 {
				t.Errorf("%s: axis %v, want %v", c.name, g.Axis, c.axis)
			}
		}
	}
}

func TestGrainOnAFace(t *testing.T) {
	y := r3.Vec{Y: 1}
	if d, ok := (flow.Grain{Mode: flow.Around, Axis: y}).At(r3.Vec{}, r3.Vec{X: 1}); !ok || math.Abs(r3.Dot(d, y)) > 1e-12 || math.Abs(d.X) > 1e-12 {
		t.Errorf("around Y on a face that looks along X: %v", d)
	}
	if d, ok := (flow.Grain{Mode: flow.Along, Axis: y}).At(r3.Vec{}, r3.Unit(r3.Vec{X: 1, Y: 1})); !ok || math.Abs(r3.Dot(d, r3.Vec{X: 1, Y: 1})) > 1e-12 {
		t.Errorf("along Y on a slope does not lie in the face: %v", d)
	}
	if _, ok := (flow.Grain{Mode: flow.Along, Axis: y}).At(r3.Vec{}, y); ok {
		t.Error("along Y has no direction on a face that looks along Y")
	}
	if _, ok := (flow.Grain{}).At(r3.Vec{}, y); ok {
		t.Error("no grain has no direction")
	}
}

// On a lid, back is up; on a wall it has no say.
func TestOrientOfWhatLiesFlat(t *testing.T) {
	s := flow.Settings{Up: r3.Vec{Y: 1}, Back: r3.Vec{Z: -1}}
	lid := board(t)
	for _, turn := range []float64{0.2, 3, -2} {
		uv := flat(lid, turn)
		flow.Orient(lid, uv, flow.Grain{Mode: flow.Toward, Axis: r3.Vec{X: 1}}, s)
		for i, a := range lid.Pos {
			for j, b := range lid.Pos {
				if a.Z < b.Z-0.1 && uv[i].Y < uv[j].Y {
					t.Fatalf("turned by %g: %v lies below %v", turn, a, b)
				}
			}
		}
	}
}

// The grain of a thread runs with it, whichever way round it is asked along; across it is
// square to that.
func TestGrainOfAThread(t *testing.T) {
	m := meshtest.Screw(t, 48, 3, 0.5, r2.Vec{X: 1}, r2.Vec{X: 1.2, Y: 0.1})
	fit := shape.Fit{Kind: shape.Helix, Axis: r3.Vec{Z: 1}, Pitch: 0.5}
	along := flow.DefaultGrain(m, meshtest.All(m), fit)
	across, ok := flow.AxisGrain(fit, flow.Around)
	if !ok || along.Pitch != 0.5 {
		t.Fatalf("%+v, %+v", along, across)
	}
	for f := range mesh.FaceID(m.NumFaces()) {
		c, n := m.FaceCentre(f), m.FaceNormals()[f]
		a, okA := along.At(c, n)
		b, okB := across.At(c, n)
		if !okA || !okB || math.Abs(r3.Dot(a, b)) > 1e-9 || math.Abs(r3.Dot(a, n)) > 1e-9 {
			t.Fatalf("face %d: along %v, across %v", f, a, b)
		}
		edge := m.EdgeVec(mesh.HalfedgeID(4 * f)) // the profile comes first, or the helix
		if d := math.Abs(r3.Dot(mesh.Unit(edge), a)); d < 0.99 && d > 0.3 {
			t.Fatalf("face %d: the grain is neither along its edge nor across it: %g", f, d)
		}
	}
}

// The grain of a plate is along its blank where that is clearly tighter than the box of its steps, as on the string of a
// stair; a gusset lies on its legs.
func TestGrainAlongTheBlank(t *testing.T) {
	stair := []r2.Vec{{X: 22}, {X: -4}}
	for k := range 9 {
		y := 18*float64(k) + 15
		stair = append(stair, r2.Vec{X: 26*float64(k) - 4, Y: y}, r2.Vec{X: 26*float64(k) + 22, Y: y})
	}
	stair = append(stair, r2.Vec{X: 230, Y: 140})
	for name, c := range map[string]struct {
		outline []r2.Vec
		want    r2.Vec
	}{
		"string of a stair": {stair, r2.Vec{X: 208, Y: 140}},
		"gusset":            {[]r2.Vec{{}, {X: 4}, {Y: 3}}, r2.Vec{X: 1}},
	} {
		w := meshtest.NewWelder()
		var face []mesh.PointID
		for _, p := range c.outline {
			face = append(face, w.Point(r3.Vec{X: p.X, Y: p.Y}))
		}
		w.Face(face...)
		m := w.Mesh(t)
		g := flow.DefaultGrain(m, meshtest.All(m), shape.Fit{Kind: shape.Plane, Axis: r3.Vec{Z: 1}})
		want := r2.Unit(c.want)
		if got := math.Abs(want.X*g.Axis.X + want.Y*g.Axis.Y); got < math.Cos(0.5*math.Pi/180) {
			t.Errorf("%s: along %v, want %v", name, g.Axis, want)
		}
	}
}
