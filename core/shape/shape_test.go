package shape_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// pose moves a known shape to an odd place.
type pose struct {
	turn  float64
	about r3.Vec
	shift r3.Vec
	scale float64
}

var poses = []pose{
	{scale: 1, about: r3.Vec{X: 1}},
	{0.73, r3.Vec{X: 1, Y: 2, Z: -0.5}, r3.Vec{X: 4, Y: -3, Z: 11}, 1},
	{2.1, r3.Vec{X: -0.2, Y: 0.3, Z: 1}, r3.Vec{X: -90, Y: 20, Z: 5}, 1000},
	{1.2, r3.Vec{Y: 1, Z: 1}, r3.Vec{X: 0.001}, 0.001},
}

func (p pose) dir(v r3.Vec) r3.Vec   { return r3.Rotate(v, p.turn, p.about) }
func (p pose) point(v r3.Vec) r3.Vec { return r3.Add(r3.Scale(p.scale, p.dir(v)), p.shift) }

func (p pose) faces(t *testing.T, m *mesh.Mesh) shape.Faces {
	t.Helper()
	b := mesh.NewBuilder()
	for _, v := range m.Points {
		b.Point(p.point(v))
	}
	for f := range m.NumFaces() {
		b.Face(m.FacePoints(mesh.FaceID(f))...)
	}
	moved, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return shape.Gather(moved, meshtest.All(moved))
}

func near(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if math.Abs(got-want) > tol || math.IsNaN(got) {
		t.Errorf("%s: %.9g, want %.9g ± %g", what, got, want, tol)
	}
}

func sameAxis(t *testing.T, got, want r3.Vec) {
	t.Helper()
	if a := mesh.Angle(got, want); math.Min(a, math.Pi-a) > 1e-6 {
		t.Errorf("axis %v is %g° off %v", got, math.Min(a, math.Pi-a)*180/math.Pi, want)
	}
	near(t, "length of the axis", r3.Norm(got), 1, 1e-12)
}

// offAxis is the distance of a point from a line.
func offAxis(p, o, a r3.Vec) float64 {
	d := r3.Sub(p, o)
	return r3.Norm(r3.Sub(d, r3.Scale(r3.Dot(d, a), a)))
}

func TestCylinderAtOddPlaces(t *testing.T) {
	m := meshtest.Lathe(t, 24, r2.Vec{X: 2}, r2.Vec{X: 2, Y: 1}, r2.Vec{X: 2, Y: 5})
	for _, p := range poses {
		s := p.faces(t, m)
		axis, spread := shape.AcrossAxis(s)
		near(t, "spread", spread, 0, 1e-7) // a root of rounding
		f := shape.FitCylinder(s, axis)
		sameAxis(t, f.Axis, p.dir(r3.Vec{Y: 1}))
		near(t, "radius", f.Radius/p.scale, 2, 1e-9)
		near(t, "error", f.Error/p.scale, 0, 1e-9)
		near(t, "bend", f.Bend, 0, 1e-6)
		near(t, "place of the axis", offAxis(f.Origin, p.point(r3.Vec{}), p.dir(r3.Vec{Y: 1}))/p.scale, 0, 1e-8)
	}
}

// A strip of a cylinder tells its axis too.
func TestCylinderFromAThird(t *testing.T) {
	m := meshtest.Grid(t, 8, 3, func(u, v float64) r3.Vec {
		s, c := math.Sincos(u * 2 * math.Pi / 3)
		return r3.Vec{X: 3 * c, Y: v, Z: 3 * s}
	})
	s := shape.Gather(m, meshtest.All(m))
	axis, _ := shape.AcrossAxis(s)
	f := shape.FitCylinder(s, axis)
	sameAxis(t, f.Axis, r3.Vec{Y: 1})
	near(t, "radius", f.Radius, 3, 1e-9)
}

func TestConeAtOddPlaces(t *testing.T) {
	for _, top := range []float64{0.2, 1.5, 1.95} { // steep to nearly a cylinder
		m := meshtest.Lathe(t, 20, r2.Vec{X: 2}, r2.Vec{X: (2 + top) / 2, Y: 1.5}, r2.Vec{X: top, Y: 3})
		for _, p := range poses {
			s := p.faces(t, m)
			axis, h, _ := shape.ConeAxis(s)
			f := shape.FitCone(s, axis, h)
			sameAxis(t, f.Axis, p.dir(r3.Vec{Y: 1}))
			if r3.Dot(f.Axis, p.dir(r3.Vec{Y: 1})) < 0 {
				t.Error("the radius must fall along the axis")
			}
			near(t, "half angle", f.HalfAngle, math.Atan((2-top)/3), 1e-7)
			near(t, "largest radius", f.Radius/p.scale, 2, 1e-7)
			near(t, "error", f.Error/p.scale, 0, 1e-8)
			if f.Bend > 0.01 {
				t.Errorf("normals bend by %g against the cone of their corners", f.Bend)
			}
		}
	}
}

func TestSphereAtOddPlaces(t *testing.T) {
	var profile []r2.Vec
	for i := range 6 { // a cap, so that the centre is far from the mean
		s, c := math.Sincos(math.Pi/2 - 0.12*float64(i))
		profile = append(profile, r2.Vec{X: 4 * c, Y: 4 * s})
	}
	m := meshtest.Lathe(t, 16, profile...)
	for _, p := range poses {
		f := shape.FitSphere(p.faces(t, m))
		near(t, "radius", f.Radius/p.scale, 4, 1e-7)
		near(t, "centre", r3.Norm(r3.Sub(f.Origin, p.point(r3.Vec{})))/p.scale, 0, 1e-6)
		near(t, "error", f.Error/p.scale, 0, 1e-8)
	}
}

// elbow is a piece of a torus: ring radius 3, tube 1, in the XZ plane.
func elbow(t *testing.T, n, m int, turn float64) *mesh.Mesh {
	return meshtest.Grid(t, n, m, func(u, v float64) r3.Vec {
		s, c := math.Sincos(u * turn)
		sv, cv := math.Sincos(v * 2 * math.Pi)
		return r3.Vec{X: (3 + cv) * c, Y: sv, Z: (3 + cv) * s}
	})
}

func TestTorusAtOddPlaces(t *testing.T) {
	for _, c := range []struct {
		n, m int
		turn float64
	}{{48, 16, 2 * math.Pi}, {8, 12, math.Pi / 2}} { // the coarse elbow of eight by twelve facets
		mesh := elbow(t, c.n, c.m, c.turn)
		for _, p := range poses {
			s := p.faces(t, mesh)
			axis, o, ok := shape.RevolutionAxis(s)
			if !ok {
				t.Fatalf("no axis of revolution for %v", c)
			}
			f := shape.FitTorus(s, axis, o)
			sameAxis(t, f.Axis, p.dir(r3.Vec{Y: 1}))
			near(t, "tube", f.Radius/p.scale, 1, 1e-7)
			near(t, "ring", f.Major/p.scale, 3, 1e-7)
			near(t, "centre", r3.Norm(r3.Sub(f.Origin, p.point(r3.Vec{})))/p.scale, 0, 1e-6)
			near(t, "error", f.Error/p.scale, 0, 1e-8)
		}
	}
}

func TestBoxAtOddPlaces(t *testing.T) {
	m := meshtest.Prism(t, 3, r2.Vec{X: -1, Y: -0.5}, r2.Vec{X: 1, Y: -0.5}, r2.Vec{X: 1, Y: 0.5}, r2.Vec{X: -1, Y: 0.5})
	for _, p := range poses {
		f := shape.FitBox(p.faces(t, m))
		near(t, "error", f.Error/p.scale, 0, 1e-9)
		near(t, "bend", f.Bend, 0, 1e-7)
		near(t, "centre", r3.Norm(r3.Sub(f.Origin, p.point(r3.Vec{Y: 1.5})))/p.scale, 0, 1e-9)
		near(t, "volume", 8*f.Half.X*f.Half.Y*f.Half.Z/math.Pow(p.scale, 3), 6, 1e-8)
		near(t, "axes", r3.Dot(f.Axis, f.Side), 0, 1e-9)
	}
	// A round thing is no box, and a plate shows one axis only.
	tube := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 4})
	if f := shape.FitBox(shape.Gather(tube, meshtest.All(tube))); f.Bend < 0.2 {
		t.Errorf("a tube is a box that bends by %g", f.Bend)
	}
	plate := meshtest.Grid(t, 3, 3, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: v} })
	if f := shape.FitBox(shape.Gather(plate, meshtest.All(plate))); !math.IsInf(f.Error, 1) {
		t.Errorf("a plate is a box with error %g", f.Error)
	}
}

// Slippage counts the motions a surface does not notice.
func TestSlippageCounts(t *testing.T) {
	flat := meshtest.Grid(t, 6, 6, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: v} })
	ball := meshtest.Lathe(t, 24, func() (p []r2.Vec) {
		for i := range 13 {
			s, c := math.Sincos(-math.Pi/2 + math.Pi*float64(i)/12)
			p = append(p, r2.Vec{X: math.Max(0, 2*c), Y: 2 * s})
		}
		return p
	}()...)
	tube := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 4})
	vase := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 2, Y: 1}, r2.Vec{X: 1.2, Y: 2.5}, r2.Vec{X: 1.6, Y: 3})
	channel := meshtest.Grid(t, 12, 3, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Y: math.Sin(5*u) + u*u, Z: 2 * v} })
	for _, c := range []struct {
		name  string
		mesh  *mesh.Mesh
		loose int
	}{{"plane", flat, 3}, {"sphere", ball, 3}, {"cylinder", tube, 2}, {"turned", vase, 1}, {"extruded", channel, 1}} {
		for _, p := range poses {
			loose := 0
			for _, mo := range shape.Slippage(p.faces(t, c.mesh)) {
				if mo.Slip < 0.02 {
					loose++
				}
			}
			if loose != c.loose {
				t.Errorf("%s: %d motions go unnoticed, want %d", c.name, loose, c.loose)
			}
		}
	}
	// The one motion of a vase is a turn without pitch about its axis.
	mo := shape.Slippage(shape.Gather(vase, meshtest.All(vase)))[0]
	sameAxis(t, mo.Axis, r3.Vec{Y: 1})
	near(t, "pitch", mo.Pitch, 0, 1e-9)
	near(t, "axis", offAxis(mo.Origin, r3.Vec{}, r3.Vec{Y: 1}), 0, 1e-9)
	if mo := shape.Slippage(shape.Gather(channel, meshtest.All(channel)))[0]; !mo.Shift {
		t.Errorf("the motion of a channel is a shift, found %+v", mo)
	}
}

// Noise of 1e-4 of the size leaves axes within 0.2° and radii within 0.5 %.
func TestNoiseIsAveraged(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	jitter := func(m *mesh.Mesh) shape.Faces {
		b := mesh.NewBuilder()
		s := 1e-4 * m.Diagonal()
		for _, v := range m.Points {
			b.Point(r3.Add(v, r3.Vec{X: s * r.NormFloat64(), Y: s * r.NormFloat64(), Z: s * r.NormFloat64()}))
		}
		for f := range m.NumFaces() {
			b.Face(m.FacePoints(mesh.FaceID(f))...)
		}
		out, err := b.Build()
		if err != nil {
			t.Fatal(err)
		}
		return shape.Gather(out, meshtest.All(out))
	}
	s := jitter(meshtest.Lathe(t, 32, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 0.5}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 1.5}))
	axis, _ := shape.AcrossAxis(s)
	f := shape.FitCylinder(s, axis)
	near(t, "axis, degrees", mesh.Angle(f.Axis, r3.Vec{Y: 1})*180/math.Pi, 0, 0.2)
	near(t, "radius", f.Radius, 1, 0.005)
	s = jitter(elbow(t, 24, 16, math.Pi))
	axis, o, ok := shape.RevolutionAxis(s)
	if !ok {
		t.Fatal("no axis of revolution under noise")
	}
	f = shape.FitTorus(s, axis, o)
	near(t, "axis, degrees", mesh.Angle(f.Axis, r3.Vec{Y: 1})*180/math.Pi, 0, 0.2)
	near(t, "tube", f.Radius, 1, 0.005)
}

// Distances are signed, zero on the surface, and normals point outwards.
func TestDistanceAndNormal(t *testing.T) {
	fits := []struct {
		f           shape.Fit
		on, out, in r3.Vec
	}{
		{shape.Fit{Kind: shape.Plane, Axis: r3.Vec{Y: 1}}, r3.Vec{X: 7}, r3.Vec{X: 7, Y: 2}, r3.Vec{X: 7, Y: -2}},
		{shape.Fit{Kind: shape.Cylinder, Axis: r3.Vec{Y: 1}, Radius: 2}, r3.Vec{X: 2, Y: 9}, r3.Vec{X: 4, Y: 9}, r3.Vec{X: 1, Y: 9}},
		{shape.Fit{Kind: shape.Sphere, Radius: 3}, r3.Vec{Z: 3}, r3.Vec{Z: 5}, r3.Vec{Z: 1}},
		{shape.Fit{Kind: shape.Torus, Axis: r3.Vec{Y: 1}, Major: 5, Radius: 1}, r3.Vec{X: 5, Y: 1}, r3.Vec{X: 5, Y: 2}, r3.Vec{X: 5, Y: 0.5}},
		{shape.Fit{Kind: shape.Box, Axis: r3.Vec{X: 1}, Side: r3.Vec{Y: 1}, Half: r3.Vec{X: 1, Y: 2, Z: 3}}, r3.Vec{X: 1, Y: 0.5}, r3.Vec{X: 2, Y: 0.5}, r3.Vec{X: 0.5, Y: 0.5}},
		{shape.Fit{Kind: shape.Cone, Axis: r3.Vec{Y: 1}, Major: 2, HalfAngle: math.Pi / 4}, r3.Vec{X: 1, Y: 1}, r3.Vec{X: 2, Y: 2}, r3.Vec{X: 0.5, Y: 0.5}},
	}
	for _, c := range fits {
		near(t, string(c.f.Kind)+" on the surface", c.f.Distance(c.on), 0, 1e-12)
		if d := c.f.Distance(c.out); d <= 0 {
			t.Errorf("%s: a point outside is at %g", c.f.Kind, d)
		}
		if d := c.f.Distance(c.in); d >= 0 {
			t.Errorf("%s: a point inside is at %g", c.f.Kind, d)
		}
		n, ok := c.f.Normal(c.on)
		if !ok {
			t.Fatalf("%s has no normal on its surface", c.f.Kind)
		}
		// Going along the normal goes away as fast as the distance grows.
		near(t, string(c.f.Kind)+" along its normal", c.f.Distance(r3.Add(c.on, r3.Scale(0.1, n))), 0.1, 1e-9)
		near(t, string(c.f.Kind)+" deviation of its own normal", c.f.Deviation(c.on, n), 0, 1e-7)
		near(t, string(c.f.Kind)+" deviation of the other side", c.f.Deviation(c.on, r3.Scale(-1, n)), 0, 1e-7)
	}
	if _, ok := (&shape.Fit{Kind: shape.Free}).Normal(r3.Vec{X: 1}); ok {
		t.Error("a free form has no normal in closed form")
	}
}

// Fits of nonsense do not panic and do not pretend to be good.
func TestFitsOfNonsense(t *testing.T) {
	for _, s := range []shape.Faces{
		{},
		{Normals: []r3.Vec{{}}, Areas: []float64{0}, Centres: []r3.Vec{{}}, Points: []r3.Vec{{}, {}, {}}},
		{Normals: []r3.Vec{{Y: 1}}, Areas: []float64{1}, Centres: []r3.Vec{{}}, Points: []r3.Vec{{X: 1}, {Z: 1}, {X: -1}}},
	} {
		shape.FitPlane(s)
		shape.FitCylinder(s, r3.Vec{Y: 1})
		shape.FitCone(s, r3.Vec{Y: 1}, 0.5)
		shape.FitSphere(s)
		shape.FitTorus(s, r3.Vec{Y: 1}, r3.Vec{})
		shape.FitExtruded(s)
		shape.FitTurned(s)
	}
}
