package mesh

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"
)

// tube is an open quad tube of n sides and rows rows, radius 1, along Y.
func tube(t testing.TB, n, rows int) *Mesh {
	t.Helper()
	b := NewBuilder()
	at := func(r, i int) PointID { return PointID(r*n + (i % n)) }
	for r := range rows + 1 {
		for i := range n {
			s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			b.Point(r3.Vec{X: s, Y: float64(r), Z: c})
		}
	}
	for r := range rows {
		for i := range n {
			b.Face(at(r, i), at(r, i+1), at(r+1, i+1), at(r+1, i))
		}
	}
	return build(t, b)
}

func build(t testing.TB, b *Builder) *Mesh {
	t.Helper()
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func never(EdgeID) bool { return false }

func TestTubeConnectivity(t *testing.T) {
	m := tube(t, 12, 3)
	if _, n := m.Components(); n != 1 {
		t.Errorf("components = %d, want 1", n)
	}
	borders := 0
	for h := range m.NumCorners() {
		if tw := m.Twin(HalfedgeID(h)); tw == None {
			borders++
		} else if m.Twin(tw) != HalfedgeID(h) || m.From(tw) != m.To(HalfedgeID(h)) {
			t.Fatalf("twin of %d is not mutual", h)
		}
	}
	if borders != 24 {
		t.Errorf("border halfedges = %d, want 24", borders)
	}
	p := NewPatch(m, allFaces(m), never)
	if p.Euler() != 0 || len(p.Borders()) != 2 || p.IsDisk() {
		t.Errorf("tube: Euler %d, %d borders", p.Euler(), len(p.Borders()))
	}
}

func allFaces(m *Mesh) []FaceID {
	out := make([]FaceID, m.NumFaces())
	for i := range out {
		out[i] = FaceID(i)
	}
	return out
}

func TestLoopsAndRings(t *testing.T) {
	m := tube(t, 12, 4)
	for e := range m.NumEdges() {
		v := m.EdgeVec(m.EdgeHalf(EdgeID(e)))
		l := m.Loop(EdgeID(e))
		if math.Abs(v.Y) < 1e-9 {
			if len(l.Edges) != 12 || !l.Closed {
				t.Fatalf("ring edge %d: loop of %d, closed %v", e, len(l.Edges), l.Closed)
			}
		} else if len(l.Edges) != 4 || l.Closed || l.Ends[0] == "" || l.Ends[1] == "" {
			t.Fatalf("ruling %d: loop of %d, closed %v, ends %q", e, len(l.Edges), l.Closed, l.Ends)
		}
		ring, closed := m.Ring(EdgeID(e))
		if math.Abs(v.Y) < 1e-9 && (len(ring) != 5 || closed) || math.Abs(v.Y) > 0.5 && (len(ring) != 12 || !closed) {
			t.Fatalf("edge %d: ring of %d, closed %v", e, len(ring), closed)
		}
	}
}

func TestCuttingATubeMakesADisk(t *testing.T) {
	m := tube(t, 9, 3)
	cut := map[EdgeID]bool{}
	for e := range m.NumEdges() {
		h := m.EdgeHalf(EdgeID(e))
		if a, b := m.From(h)%9, m.To(h)%9; a == 0 && b == 0 {
			cut[EdgeID(e)] = true
		}
	}
	p := NewPatch(m, allFaces(m), func(e EdgeID) bool { return cut[e] })
	if !p.IsDisk() || len(p.Pos) != m.NumPoints()+4 {
		t.Errorf("disk %v, %d vertices, want %d", p.IsDisk(), len(p.Pos), m.NumPoints()+4)
	}
	defect, border := p.Defects()
	var sum float64
	for v, d := range defect {
		sum += d
		if !border[v] && math.Abs(d) > 1e-9 {
			t.Errorf("a cylinder has defect %g inside", d)
		}
	}
	if math.Abs(sum-2*math.Pi) > 1e-9 {
		t.Errorf("total defect %g, want 2π (Gauss-Bonnet)", sum)
	}
	if k := p.Curvature(); math.Abs(k) > 1e-9 {
		t.Errorf("a cylinder is curved by %g inside", k)
	}
}

func TestCurvatureOfAClosedSolidIsFourPi(t *testing.T) {
	b := NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 3}, {Y: 1}, {X: 0.3, Y: 0.2, Z: 2}} {
		b.Point(p)
	}
	for _, f := range [][]PointID{{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {2, 0, 3}} {
		b.Face(f...)
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	if k := NewPatch(m, allFaces(m), func(EdgeID) bool { return false }).Curvature(); math.Abs(k-4*math.Pi) > 1e-9 {
		t.Errorf("the curvature of a tetrahedron is %g, want 4π", k)
	}
}

func TestDihedralSign(t *testing.T) {
	b := NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 1}, {X: 1, Y: 1}, {Y: 1}, {X: 2, Z: -1}, {X: 2, Y: 1, Z: -1}} {
		b.Point(p)
	}
	b.Face(0, 1, 2, 3)
	b.Face(1, 4, 5, 2) // folds down: a ridge
	m := build(t, b)
	for e := range m.NumEdges() {
		if _, g := m.EdgeFaces(EdgeID(e)); g != None {
			if d := m.Dihedral(EdgeID(e)); math.Abs(d-math.Pi/4) > 1e-12 {
				t.Errorf("ridge bends by %g, want π/4", d)
			}
		}
	}
}

// Of three faces on an edge the two that bend least stay together, as a plate does under
// a fin, and the third is cut off.
func TestOfThreeFacesOnAnEdgeTheFlattestStayTogether(t *testing.T) {
	b := NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 1}, {Y: 1}, {Y: -1}, {Z: 1}} {
		b.Point(p)
	}
	b.Face(0, 1, 2)
	b.Face(1, 0, 3)
	b.Face(0, 1, 4)
	m := build(t, b)
	for h := range m.NumCorners() {
		want := HalfedgeID(None)
		switch h {
		case 0:
			want = 3
		case 3:
			want = 0
		}
		if got := m.Twin(HalfedgeID(h)); got != want {
			t.Errorf("halfedge %d of a fan of three has the twin %d, want %d", h, got, want)
		}
	}
	found := false
	for _, a := range m.Health() {
		found = found || a.Kind == "crowded-edge" && a.Count == 1
	}
	if !found {
		t.Errorf("health does not name the crowded edge: %v", m.Health())
	}
}

// Faces wound against each other, alone on their edge, are cut.
func TestFlippedFacesAreCut(t *testing.T) {
	b := NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 1}, {Y: 1}, {Y: -1}} {
		b.Point(p)
	}
	b.Face(0, 1, 2)
	b.Face(0, 1, 3)
	m := build(t, b)
	for h := range m.NumCorners() {
		if m.Twin(HalfedgeID(h)) != None {
			t.Errorf("halfedge %d of flipped faces has a twin", h)
		}
	}
}

// A sheet without thickness has two sides of two faces each: each side stays together.
func TestBothSidesOfASheetStayTogether(t *testing.T) {
	b := NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 1}, {X: 1, Y: 1}, {Y: 1}, {X: 2, Z: 0.2}, {X: 2, Y: 1, Z: 0.2}} {
		b.Point(p)
	}
	b.Face(0, 1, 2, 3)
	b.Face(1, 4, 5, 2)
	b.Face(3, 2, 1, 0)
	b.Face(2, 5, 4, 1)
	m := build(t, b)
	pairs := map[[2]FaceID]bool{}
	for e := range m.NumEdges() {
		if f, g := m.EdgeFaces(EdgeID(e)); g != None && m.EdgeLength(EdgeID(e)) == 1 && m.Points[m.From(m.EdgeHalf(EdgeID(e)))].X == 1 && m.Points[m.To(m.EdgeHalf(EdgeID(e)))].X == 1 {
			pairs[[2]FaceID{f, g}] = true
		}
	}
	if len(pairs) != 2 || !pairs[[2]FaceID{0, 1}] || !pairs[[2]FaceID{2, 3}] {
		t.Errorf("joined in the middle: %v", pairs)
	}
}

func TestReduceCarriesWhatStandsInTheWay(t *testing.T) {
	b := NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 1}, {X: 1, Y: 1}, {Y: 1}, {X: 2}, {X: 2, Y: 1}, {X: 1}} { // the last doubles the second
		b.Point(p)
	}
	b.Face(0, 1, 2, 3)
	b.Face(1, 2, 1)       // folded between the two quads
	b.Face(1, 4, 5, 2)    //
	b.Face(3, 0, 6, 2)    // the first once more, from another corner
	b.Face(1, 4, 4, 5, 2) // the second once more, with a corner twice
	b.Face(2, 1, 4, 5)    // and plainly
	m := build(t, b)
	r := Reduce(m)
	if r.Mesh.NumFaces() != 2 || r.Folded != 1 || r.Double != 3 {
		t.Fatalf("%d faces are left, %d folded, %d doubled", r.Mesh.NumFaces(), r.Folded, r.Double)
	}
	if _, n := r.Mesh.Components(); n != 1 {
		t.Errorf("what is left falls into %d pieces", n)
	}
	for h, c := range r.From {
		if c == None || m.cornerPos(HalfedgeID(h)) != r.Mesh.cornerPos(c) {
			t.Errorf("corner %d follows %d, which lies elsewhere", h, c)
		}
	}
	for f, want := range []FaceID{0, 0, 1, 0, 1, 1} {
		if got := r.Carrier(m, FaceID(f)); got != want && f != 1 {
			t.Errorf("face %d is carried by %d, want %d", f, got, want)
		}
	}
	if again := Reduce(r.Mesh); again.Mesh != r.Mesh || again.From != nil {
		t.Error("a mesh with nothing in the way is not returned as it is")
	}
	alone := NewBuilder()
	alone.Point(r3.Vec{})
	alone.Face(0, 0, 0)
	one := build(t, alone)
	if r := Reduce(one); r.Mesh != one {
		t.Error("a mesh of which nothing would be left is not returned as it is")
	}
}

func TestPointsAtOnePlaceAreWelded(t *testing.T) {
	b := NewBuilder()
	quad := func(x float64) {
		a := b.Point(r3.Vec{X: x})
		b.Point(r3.Vec{X: x + 1})
		b.Point(r3.Vec{X: x + 1, Y: 1})
		b.Point(r3.Vec{X: x, Y: 1})
		b.Face(a, a+1, a+2, a+3)
	}
	quad(0)
	quad(1)
	if _, n := build(t, b).Components(); n != 1 {
		t.Errorf("two quads that share positions are %d pieces", n)
	}
}

func TestEarClipCoversConcavePolygons(t *testing.T) {
	cases := map[string][]r2.Vec{
		"arrow": {{X: 0}, {X: 2, Y: 1}, {X: 0, Y: 2}, {X: 0.5, Y: 1}},
		"comb":  {{}, {X: 5}, {X: 5, Y: 3}, {X: 4, Y: 3}, {X: 4, Y: 1}, {X: 3, Y: 1}, {X: 3, Y: 3}, {X: 2, Y: 3}, {X: 2, Y: 1}, {X: 1, Y: 1}, {X: 1, Y: 3}, {Y: 3}},
	}
	spiral := func(turns, n int) (p []r2.Vec) { // a long winding band, half of its corners reflex
		for i := range n {
			s, c := math.Sincos(2 * math.Pi * float64(turns) * float64(i) / float64(n))
			p = append(p, r2.Scale(1+float64(i), r2.Vec{X: c, Y: s}))
		}
		for i := n - 1; i >= 0; i-- {
			s, c := math.Sincos(2 * math.Pi * float64(turns) * float64(i) / float64(n))
			p = append(p, r2.Scale(0.6+float64(i), r2.Vec{X: c, Y: s}))
		}
		return p
	}
	cases["spiral"] = spiral(5, 3000)
	var round, wheel []r2.Vec
	for i := range 20_000 {
		s, c := math.Sincos(2 * math.Pi * float64(i) / 20_000)
		round = append(round, r2.Vec{X: c, Y: s})
		wheel = append(wheel, r2.Scale(1-0.2*float64(i/2%2), r2.Vec{X: c, Y: s}))
	}
	cases["round"], cases["toothed wheel"] = round, wheel
	for name, p := range cases {
		var want, got, size float64 // size: what the rounding of the sum is relative to
		for i := range p {
			c := r2.Cross(p[i], p[(i+1)%len(p)]) / 2
			want += c
			size += math.Abs(c)
		}
		tris := EarClip(p)
		for _, k := range tris {
			a := r2.Cross(r2.Sub(p[k[1]], p[k[0]]), r2.Sub(p[k[2]], p[k[0]])) / 2
			if a < 0 {
				t.Errorf("%s: triangle %v is turned over", name, k)
			}
			got += a
		}
		if len(tris) != len(p)-2 || math.Abs(got-want) > 1e-12*size {
			t.Errorf("%s: %d triangles of area %g, want %d of %g", name, len(tris), got, len(p)-2, want)
		}
	}
}

// Whatever a file holds, a face of n corners gives n-2 triangles over its corners.
func FuzzEarClip(f *testing.F) {
	f.Add([]byte("\x00\x00\x10\x10\x00\x10\x10\x00"))         // crosses itself
	f.Add([]byte("\x05\x05\x05\x05\x05\x05\x05\x05\x07\x05")) // one place
	f.Add([]byte("\xff\x7f\x00\x10\xfe\x7f\x10\x00\x20\x7f\x80\x00"))
	f.Fuzz(func(t *testing.T, b []byte) {
		var p []r2.Vec
		number := func(v byte) float64 { // small grids, so that things meet, and monsters
			switch v {
			case 0xff:
				return 1e308
			case 0xfe:
				return 1e-300
			}
			return float64(v % 16)
		}
		for ; len(b) >= 2 && len(p) < 400; b = b[2:] {
			p = append(p, r2.Vec{X: number(b[0]), Y: number(b[1])})
		}
		tris := EarClip(p)
		if len(tris) != max(0, len(p)-2) {
			t.Fatalf("%d corners give %d triangles", len(p), len(tris))
		}
		used := make([]bool, len(p))
		for _, k := range tris {
			if k[0] == k[1] || k[1] == k[2] || k[2] == k[0] {
				t.Fatalf("triangle %v", k)
			}
			used[k[0]], used[k[1]], used[k[2]] = true, true, true
		}
		if len(p) > 2 && slices.Contains(used, false) {
			t.Fatal("a corner is in no triangle")
		}
	})
}

func TestRaysAgainstEveryTriangle(t *testing.T) {
	m := tube(t, 17, 5)
	v := m.BVH()
	for i := range 300 {
		s, c := math.Sincos(float64(i) * 2.4)
		o := r3.Vec{X: 3 * s, Y: float64(i%11) * 0.5, Z: 3 * c}
		d := r3.Vec{X: -s + 0.1*math.Sin(float64(i)), Y: 0.2 * math.Cos(float64(3*i)), Z: -c}
		best := math.Inf(1)
		for k := range v.tris {
			if x, hit := v.meet(int32(k), o, d); hit && x > 0 && x < best {
				best = x
			}
		}
		_, x, ok := v.Hit(o, d, 0)
		if ok != !math.IsInf(best, 1) || ok && math.Abs(x-best) > 1e-12 {
			t.Fatalf("ray %d: tree says %v at %g, brute force %g", i, ok, x, best)
		}
		if v.Blocked(o, d, 0) != ok {
			t.Fatalf("ray %d: Blocked and Hit disagree", i)
		}
	}
}

func TestDifferentialOfAStretchedTriangle(t *testing.T) {
	d, ok := NewDifferential(r3.Vec{}, r3.Vec{X: 2}, r3.Vec{Z: 3}, [3]r2.Vec{{}, {X: 1}, {Y: 1}})
	if !ok {
		t.Fatal("a sound triangle has no differential")
	}
	if s1, s2 := d.Stretch(); math.Abs(s1-3) > 1e-12 || math.Abs(s2-2) > 1e-12 {
		t.Errorf("stretch %g, %g; want 3, 2", s1, s2)
	}
}

func TestBuildRefusesWhatIsWrong(t *testing.T) {
	cases := map[string]func(*Builder){
		"no faces":  func(b *Builder) {},
		"two sides": func(b *Builder) { b.Point(r3.Vec{}); b.Point(r3.Vec{X: 1}); b.Face(0, 1) },
		"range":     func(b *Builder) { b.Point(r3.Vec{}); b.Face(0, 1, 7) },
		"NaN":       func(b *Builder) { b.Point(r3.Vec{X: math.NaN()}); b.Face(0, 0, 0) },
	}
	for name, fill := range cases {
		b := NewBuilder()
		fill(b)
		if _, err := b.Build(); err == nil {
			t.Errorf("%s: built without an error", name)
		}
	}
}
