package parts_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
	"morvek/core/shape"
)

// leaves are the primitives of a part.
func leaves(p parts.Part) (out []parts.Part) {
	if len(p.Pieces) == 0 {
		return []parts.Part{p}
	}
	for _, q := range p.Pieces {
		out = append(out, leaves(q)...)
	}
	return out
}

// The corners of a square with rounded edges lie on a circle, but its sides are flat.
func TestFlatsWithRoundedEdgesAreNoCylinder(t *testing.T) {
	var outline []r2.Vec
	for side := range 4 {
		for _, turn := range []float64{-15, 15, 45} { // two strips an edge
			s, c := math.Sincos((float64(side)*90 + turn) * math.Pi / 180)
			corner, _ := math.Sincos(math.Pi / 4)
			sx, cx := math.Sincos(float64(side)*math.Pi/2 + math.Pi/4)
			outline = append(outline, r2.Vec{X: 2*cx/corner + 0.1*c, Y: 2*sx/corner + 0.1*s})
		}
	}
	for _, p := range recognise(t, meshtest.Prism(t, 10, outline...)) {
		if k := p.Fit.Kind; k == shape.Cylinder || k == shape.Turned {
			t.Errorf("%d faces are %s", len(p.Faces), k)
		}
	}
}

// A few facets of any free form lie near some cylinder: that is chance. The flats beside it
// tell that the mesh is exact.
func TestStripsOfAFreeFormAreNoShapes(t *testing.T) {
	const n = 30
	b := meshtest.NewWelder()
	hill := func(i, j int) mesh.PointID {
		u, v := float64(i)/n, float64(j)/n
		return b.Point(r3.Vec{X: 4 * u, Y: 0.5*math.Sin(5*u)*math.Cos(4*v) + 0.2*u*u*v, Z: 4 * v})
	}
	floor := func(i, j int) mesh.PointID { return b.Point(r3.Vec{X: float64(i), Y: -3, Z: float64(j)}) }
	for i := range n {
		for j := range n {
			b.Face(hill(i, j), hill(i, j+1), hill(i+1, j+1), hill(i+1, j))
			b.Face(floor(i, j), floor(i, j+1), floor(i+1, j+1), floor(i+1, j))
		}
	}
	wantKinds(t, "hills", recognise(t, b.Mesh(t)), map[shape.Kind]int{shape.Free: 1, shape.Plane: 1})
}

// A spring is nearly turned, and each of its normals meets the axis; it winds, as a tube.
func TestSpringWinds(t *testing.T) {
	var path []r3.Vec
	for i := range 97 {
		s, c := math.Sincos(float64(i) * math.Pi / 16)
		path = append(path, r3.Vec{X: 5 * c, Y: 5 * s, Z: 0.08 * float64(i)})
	}
	for sides, tube := range map[int]*mesh.Mesh{12: meshtest.Tube(t, 0.6, 12, path...), 16: meshtest.Tube(t, 0.6, 16, path...)} {
		largest := recognise(t, tube)[0]
		f := largest.Fit
		if f.Kind != shape.Helix || len(largest.Faces) < 90*sides {
			t.Errorf("%d sides: the largest part is %s of %d faces", sides, f.Kind, len(largest.Faces))
		}
		if math.Abs(f.Pitch-2.56) > 0.01 || math.Abs(f.Axis.Z) < 0.99999 || math.Abs(f.Major-5) > 0.02 || math.Abs(f.Radius-0.6) > 0.03 || len(f.Spine) < 90 {
			t.Errorf("%d sides: pitch %g, axis %v, coil of radius %g, tube of %g, a spine of %d", sides, f.Pitch, f.Axis, f.Major, f.Radius, len(f.Spine))
		}
	}
}

// flask is a dome, a wall, a rounded shoulder and a neck, as rows of 40.
func flask(t *testing.T) *mesh.Mesh {
	t.Helper()
	var profile []r2.Vec
	arc := func(x, y, r, from, to float64, n int) {
		for i := range n + 1 {
			s, c := math.Sincos((from + (to-from)*float64(i)/float64(n)) * math.Pi / 180)
			profile = append(profile, r2.Vec{X: x + r*c, Y: y + r*s})
		}
	}
	profile = append(profile, r2.Vec{X: 0, Y: -2})
	arc(0, 0, 2, -85, 0, 10)
	arc(1.2, 3, 0.8, 0, 90, 6) // from the wall at 2 in to 1.2
	profile = append(profile, r2.Vec{X: 0.8, Y: 3.8}, r2.Vec{X: 0.8, Y: 5})
	return meshtest.Lathe(t, 40, profile...)
}

// The pieces of a turned form are what its profile is made of, to the last digit.
func TestPiecesAlongAProfile(t *testing.T) {
	radius := map[shape.Kind]float64{shape.Sphere: 2, shape.Torus: 0.8}
	seen := map[shape.Kind]float64{}
	for _, p := range recognise(t, flask(t)) {
		for _, q := range leaves(p) {
			k := q.Fit.Kind
			seen[k] += float64(len(q.Faces))
			if want := radius[k]; want > 0 && math.Abs(q.Fit.Radius-want) > 1e-9 {
				t.Errorf("the %s has radius %.12g, want %g", k, q.Fit.Radius, want)
			}
			if k == shape.Cylinder && math.Abs(q.Fit.Radius-2) > 1e-9 && math.Abs(q.Fit.Radius-0.8) > 1e-9 {
				t.Errorf("a wall has radius %.12g", q.Fit.Radius)
			}
		}
	}
	for k, rows := range map[shape.Kind]float64{shape.Sphere: 10, shape.Torus: 6, shape.Cylinder: 2} {
		if seen[k] < 40*rows {
			t.Errorf("%g faces are %s, want %g", seen[k], k, 40*rows)
		}
	}
}

// A step ends a wall; the flanks of a groove and of a ridge do not.
func TestStepsAndGrooves(t *testing.T) {
	v := func(x, y float64) r2.Vec { return r2.Vec{X: x, Y: y} }
	for name, c := range map[string]struct {
		profile []r2.Vec
		walls   int
	}{
		"step":   {[]r2.Vec{v(2, 0), v(2, 2), v(1.9, 2), v(1.9, 4)}, 2},
		"groove": {[]r2.Vec{v(2, 0), v(2, 2), v(1.9, 2), v(1.9, 3), v(2, 3), v(2, 5)}, 1},
		"ridge":  {[]r2.Vec{v(2, 0), v(2, 2), v(2.1, 2), v(2.1, 3), v(2, 3), v(2, 5)}, 1},
	} {
		walls := 0
		for _, p := range recognise(t, meshtest.Lathe(t, 32, c.profile...)) {
			if p.Fit.Kind != shape.Plane {
				walls++
			}
		}
		if walls != c.walls {
			t.Errorf("%s: %d walls, want %d", name, walls, c.walls)
		}
	}
}

// A strip that bends first about one axis and then about another lies flat as one.
func TestStripBentTwiceIsOne(t *testing.T) {
	b := meshtest.NewWelder()
	along, across, up := r3.Vec{X: 1}, r3.Vec{Z: 1}, r3.Vec{Y: 1}
	at := r3.Vec{}
	slant := 0.0 // of the rulings, so that the second bend goes another way
	step := func(length, turn float64) {
		rule := r3.Add(across, r3.Scale(slant, along))
		b.Face(b.Point(at), b.Point(r3.Add(at, rule)), b.Point(r3.Add(r3.Add(at, rule), r3.Scale(length, along))), b.Point(r3.Add(at, r3.Scale(length, along))))
		at = r3.Add(at, r3.Scale(length, along))
		axis := mesh.Unit(rule)
		along, across, up = r3.Rotate(along, turn, axis), r3.Rotate(across, turn, axis), r3.Rotate(up, turn, axis)
	}
	for range 3 {
		step(1, 0)
	}
	for range 9 {
		step(0.2, 10*math.Pi/180)
	}
	for range 3 {
		step(1, 0)
	}
	m := b.Mesh(t)
	found := recognise(t, m)
	if len(found) != 1 || found[0].Fit.Kind == shape.Turned {
		t.Errorf("%d parts, %v", len(found), kindsOf(found))
	}
}

// The bevel all round a plate goes to one part, not some of it here and some there.
func TestBevelsRoundAPlateStayTogether(t *testing.T) {
	found := recognise(t, bevelled(t, 4, 1, 3, 0.05))
	for _, p := range found {
		if len(p.Pieces) == 0 {
			continue
		}
		bevels := 0
		for _, q := range p.Pieces {
			if q.Fit.Kind == shape.Plane && areaOf(t, q, p) < 0.2 {
				bevels++
			}
		}
		if bevels == 1 || bevels == 3 {
			t.Errorf("a side of the box has %d bevels", bevels)
		}
	}
}

func areaOf(t *testing.T, q, p parts.Part) float64 {
	t.Helper()
	return float64(len(q.Faces)) / float64(len(p.Faces))
}

// Through any three rings there is a torus, and near some four: a cone and the pipe that it ends in are none,
// nor is a spool; two rows that are alike may be.
func TestAConeAndItsPipeAreNoRing(t *testing.T) {
	kinds := func(profile ...r2.Vec) map[shape.Kind]bool {
		out := map[shape.Kind]bool{}
		for _, p := range recognise(t, meshtest.Lathe(t, 60, profile...)) {
			for _, q := range leaves(p) {
				out[q.Fit.Kind] = true
			}
		}
		return out
	}
	if k := kinds(r2.Vec{X: 20}, r2.Vec{X: 6, Y: 30}, r2.Vec{X: 6, Y: 45}); k[shape.Torus] || !k[shape.Cone] || !k[shape.Cylinder] {
		t.Errorf("a nozzle is %v", k)
	}
	if k := kinds(r2.Vec{X: 14}, r2.Vec{X: 10, Y: 10}, r2.Vec{X: 10, Y: 24}, r2.Vec{X: 13, Y: 32}); k[shape.Torus] || !k[shape.Cone] || !k[shape.Cylinder] {
		t.Errorf("a spool is %v", k)
	}
	var arc []r2.Vec
	for i := range 3 {
		s, c := math.Sincos(float64(i-1) * 20 * math.Pi / 180)
		arc = append(arc, r2.Vec{X: 10 + 5*c, Y: 5 * s})
	}
	if k := kinds(arc...); !k[shape.Torus] {
		t.Errorf("two rows of an arc are %v", k)
	}
}

// Two rings lie on some ball whatever they are: a lid with a shallow chamfer round it is none, a lens is.
func TestALidWithItsChamferIsNoBall(t *testing.T) {
	disc := func(profile ...r2.Vec) *mesh.Mesh { // closed by a polygon above
		w := meshtest.NewWelder()
		const n = 32
		at := func(q r2.Vec, i int) mesh.PointID {
			s, c := math.Sincos(2 * math.Pi * float64(i%n) / n)
			return w.Point(r3.Vec{X: q.X * s, Y: q.Y, Z: q.X * c})
		}
		var lid []mesh.PointID
		for i := range n {
			for k := range len(profile) - 1 {
				w.Face(at(profile[k], i), at(profile[k], i+1), at(profile[k+1], i+1), at(profile[k+1], i))
			}
			lid = append(lid, at(profile[len(profile)-1], i))
		}
		w.Face(lid...)
		return w.Mesh(t)
	}
	for name, c := range map[string]struct {
		mesh *mesh.Mesh
		ball bool
	}{
		"a lid":  {disc(r2.Vec{X: 12}, r2.Vec{X: 10, Y: 1}), false},
		"a foot": {disc(r2.Vec{X: 5}, r2.Vec{X: 1.4, Y: 0.8}), false},
		"a lens": {disc(r2.Vec{X: 10 * math.Sin(0.6), Y: 10 * math.Cos(0.6)}, r2.Vec{X: 10 * math.Sin(0.4), Y: 10 * math.Cos(0.4)}, r2.Vec{X: 10 * math.Sin(0.2), Y: 10 * math.Cos(0.2)}), true},
	} {
		ball := false
		for _, p := range recognise(t, c.mesh) {
			ball = ball || p.Fit.Kind == shape.Sphere
		}
		if ball != c.ball {
			t.Errorf("%s is a ball: %v", name, ball)
		}
	}
}
