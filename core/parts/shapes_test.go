package parts_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
	"morvek/core/shape"
)

// kindsOf counts parts by shape.
func kindsOf(found []parts.Part) map[shape.Kind]int {
	out := map[shape.Kind]int{}
	for _, p := range found {
		out[p.Fit.Kind]++
	}
	return out
}

func wantKinds(t *testing.T, name string, found []parts.Part, want map[shape.Kind]int) {
	t.Helper()
	got := kindsOf(found)
	for k, n := range want {
		if got[k] != n {
			t.Errorf("%s: %d parts are %s, want %d (all: %v)", name, got[k], k, n, got)
		}
	}
	for k, n := range got {
		if _, ok := want[k]; !ok {
			t.Errorf("%s: %d parts are %s, want none (all: %v)", name, n, k, got)
		}
	}
}

// From nine sides on a prism is round; below, its flats are flats.
func TestSidesThatMakeARound(t *testing.T) {
	for sides, want := range map[int]map[shape.Kind]int{
		3: {shape.Plane: 5}, 6: {shape.Plane: 8}, 8: {shape.Plane: 10},
		9: {shape.Plane: 2, shape.Cylinder: 1}, 12: {shape.Plane: 2, shape.Cylinder: 1}, 64: {shape.Plane: 2, shape.Cylinder: 1},
	} {
		wantKinds(t, "prism", recognise(t, meshtest.Prism(t, 1.5, meshtest.Circle(1, sides)...)), want)
	}
}

// A nut's chamfer has six facets: they are chamfers of its flats, not a cone.
func TestNutChamfersGoWithTheFlats(t *testing.T) {
	v := func(x, y float64) r2.Vec { return r2.Vec{X: x, Y: y} }
	p := meshtest.Lathe(t, 6, v(0, 0), v(0.9, 0), v(1, 0.087), v(1, 1), v(0.9, 1.087), v(0, 1.087))
	wantKinds(t, "nut", recognise(t, p), map[shape.Kind]int{shape.Plane: 8})
}

// A can with a ridge is one wall and two lids; the lids are planes.
func TestCanWithRidgeIsOneWall(t *testing.T) {
	v := func(x, y float64) r2.Vec { return r2.Vec{X: x, Y: y} }
	m := meshtest.Lathe(t, 32, v(0, 0), v(1, 0), v(1, 1), v(1.06, 1.05), v(1.06, 1.2), v(1, 1.25), v(1, 2), v(0, 2))
	found := recognise(t, m)
	wantKinds(t, "can", found, map[shape.Kind]int{shape.Plane: 2, shape.Turned: 1})
	i := slices.IndexFunc(found, func(p parts.Part) bool { return p.Fit.Kind == shape.Turned })
	if n := len(found[i].Pieces); n != 5 {
		t.Errorf("the wall is made of %d pieces, want 5: wall, slope, ridge, slope, wall", n)
	}
	faces := 0
	for _, p := range found[i].Pieces {
		faces += len(p.Faces)
	}
	if faces != len(found[i].Faces) {
		t.Errorf("the pieces hold %d faces, the wall %d", faces, len(found[i].Faces))
	}
}

// A step where the radius jumps parts two walls.
func TestJumpOfRadiusPartsWalls(t *testing.T) {
	v := func(x, y float64) r2.Vec { return r2.Vec{X: x, Y: y} }
	m := meshtest.Lathe(t, 32, v(0, 0), v(2, 0), v(2, 1), v(1, 1), v(1, 3), v(0, 3))
	wantKinds(t, "stepped shaft", recognise(t, m), map[shape.Kind]int{shape.Cylinder: 2, shape.Plane: 3})
}

// A smooth profile is one turned part, however its bands lean.
func TestVaseIsTurned(t *testing.T) {
	var profile []r2.Vec
	for i := range 15 {
		y := float64(i) / 14
		profile = append(profile, r2.Vec{X: 1 + 0.35*math.Sin(4*y) + 0.2*y, Y: 3 * y})
	}
	wantKinds(t, "vase", recognise(t, meshtest.Lathe(t, 40, profile...)), map[shape.Kind]int{shape.Turned: 1})
}

// pipe, elbow, pipe in one smooth run.
func pipeRun() (path []r3.Vec) {
	path = append(path, r3.Vec{X: 3, Y: -4}, r3.Vec{X: 3, Y: -2})
	path = append(path, meshtest.Arc(r3.Vec{}, 3, 0, 8)...)
	return append(path, r3.Vec{X: -2, Y: 3}, r3.Vec{X: -4, Y: 3})
}

func TestPipeElbowPipeIsOneSweptPart(t *testing.T) {
	found := recognise(t, meshtest.Tube(t, 0.8, 16, pipeRun()...))
	wantKinds(t, "pipe run", found, map[shape.Kind]int{shape.Swept: 1})
	kinds := kindsOf(found[0].Pieces)
	if kinds[shape.Cylinder] != 2 || kinds[shape.Torus] != 1 {
		t.Errorf("its pieces are %v, want two pipes and an elbow", kinds)
	}
	if r := found[0].Fit.Radius; math.Abs(r-0.8) > 0.05 {
		t.Errorf("radius of the section %g, want 0.8", r)
	}
	if spine := found[0].Fit.Spine; len(spine) < 5 || r3.Norm(r3.Sub(spine[0], spine[len(spine)-1])) < 5 {
		t.Errorf("a spine of %d points", len(spine))
	}
}

// A rod bent along a wave is swept, also cut into triangles.
func TestBentRodIsSwept(t *testing.T) {
	var path []r3.Vec
	for i := range 25 {
		x := 6 * float64(i) / 24
		path = append(path, r3.Vec{X: x, Y: 0.4 * math.Sin(1.3*x)})
	}
	m := meshtest.Tube(t, 0.15, 10, path...)
	for _, v := range []variant{{name: "quads", move: same, turn: same, scale: 1}, {name: "triangles", move: same, turn: same, scale: 1, triangles: true}} {
		built, _ := v.build(t, m, anything(m))
		wantKinds(t, v.name, recognise(t, built), map[shape.Kind]int{shape.Swept: 1})
	}
}

// A plate bent twice is one sheet.
func TestBentSheetStaysWhole(t *testing.T) {
	m := meshtest.Grid(t, 24, 6, func(u, v float64) r3.Vec {
		u *= 3
		switch {
		case u < 1:
			return r3.Vec{X: u - 1, Z: v}
		case u < 2:
			s, c := math.Sincos((u - 1) * math.Pi / 2)
			return r3.Vec{X: s, Y: 1 - c, Z: v}
		}
		return r3.Vec{X: 1, Y: u - 1, Z: v}
	})
	found := recognise(t, m)
	wantKinds(t, "bent plate", found, map[shape.Kind]int{shape.Extruded: 1})
	if a := mesh.Angle(found[0].Fit.Axis, r3.Vec{Z: 1}); math.Min(a, math.Pi-a) > 1e-6 {
		t.Errorf("it is bent about %v, want Z", found[0].Fit.Axis)
	}
}

// bevelled is a box with 45° chamfers on all edges and small corners.
func bevelled(t *testing.T, x, y, z, b float64) *mesh.Mesh {
	t.Helper()
	w := meshtest.NewWelder()
	h := [3]float64{x / 2, y / 2, z / 2}
	// The corner of the face across axis k at signs s: pulled in by b on the other axes.
	at := func(k int, s [3]float64) mesh.PointID {
		p := [3]float64{s[0] * (h[0] - b), s[1] * (h[1] - b), s[2] * (h[2] - b)}
		p[k] = s[k] * h[k]
		return w.Point(r3.Vec{X: p[0], Y: p[1], Z: p[2]})
	}
	centre := func(ids []mesh.PointID, where map[mesh.PointID]r3.Vec) (c r3.Vec) {
		for _, id := range ids {
			c = r3.Add(c, where[id])
		}
		return c
	}
	where := map[mesh.PointID]r3.Vec{}
	signs := []float64{-1, 1}
	for k := range 3 {
		for _, a := range signs {
			for _, b2 := range signs {
				for _, c := range signs {
					s := [3]float64{a, b2, c}
					p := [3]float64{s[0] * (h[0] - b), s[1] * (h[1] - b), s[2] * (h[2] - b)}
					p[k] = s[k] * h[k]
					where[at(k, s)] = r3.Vec{X: p[0], Y: p[1], Z: p[2]}
				}
			}
		}
	}
	face := func(ids ...mesh.PointID) { // wound so that it looks away from the middle
		n := r3.Cross(r3.Sub(where[ids[1]], where[ids[0]]), r3.Sub(where[ids[2]], where[ids[0]]))
		if r3.Dot(n, centre(ids, where)) < 0 {
			slices.Reverse(ids)
		}
		w.Face(ids...)
	}
	for k := range 3 {
		i, j := (k+1)%3, (k+2)%3
		for _, sk := range signs {
			var ids []mesh.PointID
			for _, q := range [][2]float64{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}} {
				var s [3]float64
				s[k], s[i], s[j] = sk, q[0], q[1]
				ids = append(ids, at(k, s))
			}
			face(ids...)
		}
		for _, si := range signs { // chamfers between the faces across i and j, along k
			for _, sj := range signs {
				var a, b [3]float64
				a[i], a[j], a[k] = si, sj, -1
				b[i], b[j], b[k] = si, sj, 1
				face(at(i, a), at(i, b), at(j, b), at(j, a))
			}
		}
	}
	for _, a := range signs {
		for _, b := range signs {
			for _, c := range signs {
				s := [3]float64{a, b, c}
				face(at(0, s), at(1, s), at(2, s))
			}
		}
	}
	return w.Mesh(t)
}

// The twelve chamfers and eight corners of a box go with its six sides, unless
// every strip is asked for.
func TestChamfersBelongToANeighbour(t *testing.T) {
	m := bevelled(t, 4, 3, 2, 0.1)
	wantKinds(t, "bevelled box", recognise(t, m), map[shape.Kind]int{shape.Plane: 6})
	o := parts.Default()
	o.Detail = 1
	found, err := parts.Recognise(context.Background(), m, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	if len(found) != 26 {
		t.Errorf("with every strip its own there are %d parts, want 26", len(found))
	}
}

// A chamfer goes where the seam that remains is less exposed.
func TestChamferGoesWhereTheSeamIsHidden(t *testing.T) {
	m := bevelled(t, 4, 3, 2, 0.1)
	o := parts.Default()
	normals := m.FaceNormals()
	o.Exposure = func(f mesh.FaceID) float64 { return math.Max(0, normals[f].Y) } // seen from above only
	found, err := parts.Recognise(context.Background(), m, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range found {
		if p.Fit.Axis.Y > 0.9 && p.Fit.Kind == shape.Plane {
			if len(p.Faces) < 5 {
				t.Errorf("the top took %d faces, want its four chamfers too: the seams are then at the sides", len(p.Faces))
			}
			return
		}
	}
	t.Error("no top was found")
}

// The teeth of a gear are one extrusion.
func TestGearIsOneExtrusion(t *testing.T) {
	var outline []r2.Vec
	for i := range 20 {
		for _, q := range [][2]float64{{0, 1}, {0.4, 1}, {0.5, 1.2}, {0.9, 1.2}} {
			s, c := math.Sincos(2 * math.Pi * (float64(i) + q[0]) / 20)
			outline = append(outline, r2.Vec{X: q[1] * c, Y: q[1] * s})
		}
	}
	wantKinds(t, "gear", recognise(t, meshtest.Prism(t, 0.3, outline...)), map[shape.Kind]int{shape.Extruded: 1, shape.Plane: 2})
}

// Recognition does not depend on the order of the faces, nor on how often it runs.
func TestOrderOfFacesDoesNotMatter(t *testing.T) {
	m := bevelled(t, 4, 3, 2, 0.1)
	b := mesh.NewBuilder()
	for _, p := range m.Points {
		b.Point(p)
	}
	for f := m.NumFaces() - 1; f >= 0; f-- {
		b.Face(m.FacePoints(mesh.FaceID(f))...)
	}
	back, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	one, two, again := recognise(t, m), recognise(t, back), recognise(t, m)
	if len(one) != len(two) {
		t.Fatalf("%d parts, %d with the faces backwards", len(one), len(two))
	}
	for i := range one {
		if !slices.Equal(one[i].Faces, again[i].Faces) {
			t.Errorf("part %d differs between two runs", i)
		}
	}
}

// Ugly meshes give parts, notes at most, and no panic.
func TestBadInput(t *testing.T) {
	for _, c := range []struct {
		name  string
		build func(w *meshtest.Welder)
	}{
		{"a single face", func(w *meshtest.Welder) {
			w.Face(w.Point(r3.Vec{}), w.Point(r3.Vec{X: 1}), w.Point(r3.Vec{Y: 1}))
		}},
		{"a face without area", func(w *meshtest.Welder) {
			w.Face(w.Point(r3.Vec{}), w.Point(r3.Vec{X: 1}), w.Point(r3.Vec{X: 2}))
		}},
		{"only slivers", func(w *meshtest.Welder) {
			for i := range 20 {
				x := float64(i)
				w.Face(w.Point(r3.Vec{X: x}), w.Point(r3.Vec{X: x + 1}), w.Point(r3.Vec{X: x + 2, Y: 1e-13}))
			}
		}},
		{"a cloud of loose triangles", func(w *meshtest.Welder) {
			for i := range 60 {
				f := float64(i)
				o := r3.Vec{X: math.Sin(f) * 9, Y: math.Cos(2*f) * 9, Z: f}
				w.Face(w.Point(o), w.Point(r3.Add(o, r3.Vec{X: 1})), w.Point(r3.Add(o, r3.Vec{Y: 1, Z: 0.3})))
			}
		}},
		{"three faces on one edge", func(w *meshtest.Welder) {
			a, b := w.Point(r3.Vec{}), w.Point(r3.Vec{X: 1})
			for i := range 5 {
				s, c := math.Sincos(float64(i))
				w.Face(a, b, w.Point(r3.Vec{Y: c, Z: s}))
			}
		}},
		{"a bow tie", func(w *meshtest.Welder) {
			o := w.Point(r3.Vec{})
			w.Face(o, w.Point(r3.Vec{X: 1}), w.Point(r3.Vec{X: 1, Y: 1}))
			w.Face(o, w.Point(r3.Vec{X: -1}), w.Point(r3.Vec{X: -1, Y: -1}))
		}},
		{"the same face twice", func(w *meshtest.Welder) {
			a, b, c := w.Point(r3.Vec{}), w.Point(r3.Vec{X: 1}), w.Point(r3.Vec{Y: 1})
			w.Face(a, b, c)
			w.Face(a, b, c)
		}},
	} {
		w := meshtest.NewWelder()
		c.build(w)
		m := w.Mesh(t)
		for _, p := range recognise(t, m) {
			if p.Fit.Kind != shape.Plane && p.Fit.Kind != shape.Free {
				t.Errorf("%s: a part is %s, want plane or free", c.name, p.Fit.Kind)
			}
			if len(parts.Alternatives(m, p.Faces)) == 0 && len(p.Faces) > 0 {
				t.Errorf("%s: no alternatives, not even a plane", c.name)
			}
		}
	}
}

// Alternatives are ranked, the true shape first.
func TestAlternativesRankTheTruth(t *testing.T) {
	for _, c := range []struct {
		name string
		mesh *mesh.Mesh
		want shape.Kind
	}{
		{"cylinder", meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1, Y: 2}), shape.Cylinder},
		{"cone", meshtest.Lathe(t, 24, r2.Vec{X: 2}, r2.Vec{X: 1.5, Y: 1}, r2.Vec{X: 1, Y: 2}), shape.Cone},
		{"plane", meshtest.Grid(t, 5, 5, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: v} }), shape.Plane},
		{"torus", meshtest.Grid(t, 24, 12, func(u, v float64) r3.Vec {
			s, cu := math.Sincos(2 * math.Pi * u)
			sv, cv := math.Sincos(2 * math.Pi * v)
			return r3.Vec{X: (3 + cv) * cu, Y: sv, Z: (3 + cv) * s}
		}), shape.Torus},
	} {
		fits := parts.Alternatives(c.mesh, meshtest.All(c.mesh))
		if fits[0].Kind != c.want {
			t.Errorf("%s: the best is %s", c.name, fits[0].Kind)
		}
		for i, f := range fits {
			if math.IsNaN(f.Error) || math.IsInf(f.Error, 0) {
				t.Errorf("%s: alternative %d, %s, has error %g", c.name, i, f.Kind, f.Error)
			}
		}
	}
}

// What a boolean leaves behind: a wall whose facets are cut into long slivers by
// points scattered along its rulings, and a lid as a fan from one corner.
func TestSliversOfABoolean(t *testing.T) {
	const sides = 20
	w := meshtest.NewWelder()
	at := func(i int, y float64) mesh.PointID {
		s, c := math.Sincos(2 * math.Pi * float64(i%sides) / sides)
		return w.Point(r3.Vec{X: s, Y: y, Z: c})
	}
	rungs := func(i int) []float64 { // heights of the points on a ruling, uneven
		f := float64(i % sides)
		return []float64{0, 0.2 + 0.1*math.Sin(3*f), 0.9 + 0.3*math.Cos(5*f), 2}
	}
	for i := range sides {
		a, b := rungs(i), rungs(i+1)
		for ka, kb := 0, 0; ka < 3 || kb < 3; { // a strip of triangles between two rulings
			if kb == 3 || ka < 3 && a[ka+1] <= b[kb+1] {
				w.Face(at(i, a[ka]), at(i+1, b[kb]), at(i, a[ka+1]))
				ka++
			} else {
				w.Face(at(i, a[ka]), at(i+1, b[kb]), at(i+1, b[kb+1]))
				kb++
			}
		}
	}
	for i := 1; i+1 < sides; i++ {
		w.Face(at(0, 2), at(i, 2), at(i+1, 2))
	}
	found := recognise(t, w.Mesh(t))
	wantKinds(t, "boolean", found, map[shape.Kind]int{shape.Cylinder: 1, shape.Plane: 1})
	for _, p := range found {
		if p.Fit.Kind == shape.Cylinder && (math.Abs(p.Fit.Radius-1) > 1e-6 || mesh.Angle(p.Fit.Axis, r3.Vec{Y: 1}) > 1e-6) {
			t.Errorf("the wall is %+v", p.Fit)
		}
	}
}

// Scores rise along the list and can be compared.
func TestScoresRise(t *testing.T) {
	m := meshtest.Prism(t, 1, meshtest.Circle(1, 4)...)
	fits := parts.Alternatives(m, meshtest.All(m))
	if fits[0].Kind != shape.Box {
		t.Errorf("a cube is best a %s", fits[0].Kind)
	}
	for i := 1; i+1 < len(fits); i++ {
		if fits[i].Score < fits[i-1].Score {
			t.Errorf("score %g of %s comes after %g of %s", fits[i].Score, fits[i].Kind, fits[i-1].Score, fits[i-1].Kind)
		}
	}
}

// Only the faces asked for are looked at.
func TestRecognitionOfSomeFaces(t *testing.T) {
	m := bevelled(t, 4, 3, 2, 0.1)
	o := parts.Default()
	o.Faces = []mesh.FaceID{0, 3, 4, 5}
	found, err := parts.Recognise(context.Background(), m, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	var all []mesh.FaceID
	for _, p := range found {
		all = append(all, p.Faces...)
	}
	slices.Sort(all)
	if !slices.Equal(all, o.Faces) {
		t.Errorf("faces %v came back, %v were asked for", all, o.Faces)
	}
}

func TestRecognitionIsCancelled(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := parts.Recognise(ctx, bevelled(t, 4, 3, 2, 0.1), parts.Default(), nil); !errors.Is(err, context.Canceled) {
		t.Errorf("a cancelled recognition gave %v", err)
	}
}
