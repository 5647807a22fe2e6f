package atlas_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// strip is a flat strip of n × 2 unit quads, mapped as it lies.
func strip(t *testing.T, n int) (*mesh.Mesh, *atlas.Map) {
	t.Helper()
	m := meshtest.Grid(t, n, 2, func(u, v float64) r3.Vec { return r3.Vec{X: u * float64(n), Y: 2 * v} })
	c := atlas.New(m)
	p := meshtest.Whole(m)
	uv := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		uv[i] = r2.Vec{X: q.X, Y: q.Y}
	}
	c.Set(p, uv)
	return m, c
}

func noCut(mesh.EdgeID) bool { return false }

func shift(m *mesh.Mesh, c *atlas.Map, by r2.Vec, faces ...mesh.FaceID) {
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			c.Put(h, r2.Add(c.At(h), by))
		}
	}
}

func TestShellsPartWhereCutOrTorn(t *testing.T) {
	m, c := strip(t, 4)
	if s, of := c.Shells(); len(s) != 1 || len(s[0].Faces) != 8 || slices.Max(of) != 0 {
		t.Fatalf("the whole strip is %d shells", len(s))
	}
	// Faces 3 and 7 are the last column.
	torn := c.Draft()
	shift(m, torn, r2.Vec{X: 1}, 3, 7)
	s, of := torn.Shells()
	if len(s) != 2 || !slices.Equal(s[1].Faces, []mesh.FaceID{3, 7}) || of[7] != 1 || of[6] != 0 {
		t.Errorf("torn it is %v", s)
	}
	if s, _ := c.Shells(); len(s) != 1 {
		t.Error("the copy was not its own")
	}
	column := func(e mesh.EdgeID) bool { // the line x = 1
		a := m.Points[m.From(m.EdgeHalf(e))]
		b := m.Points[m.To(m.EdgeHalf(e))]
		return a.X == 1 && b.X == 1
	}
	split := c.Draft()
	for e := range split.Cuts() {
		split.SetCut(mesh.EdgeID(e), column(mesh.EdgeID(e)))
	}
	if s, _ := split.Shells(); len(s) != 2 || len(s[0].Faces) != 2 {
		t.Errorf("cut along a column it is %v", s)
	}
	// What is not mapped is in no shell and separates.
	c.SetMapped(1, false)
	c.SetMapped(5, false)
	if s, of := c.Shells(); len(s) != 2 || of[1] != mesh.None || of[5] != mesh.None {
		t.Errorf("with a column unmapped it is %v, %v", s, of)
	}
}

func TestRoundingIsNoTear(t *testing.T) {
	m, c := strip(t, 2)
	shift(m, c, r2.Vec{X: 4e-7, Y: -4e-7}, 1)
	if s, _ := c.Shells(); len(s) != 1 {
		t.Errorf("a shift within the rounding of files makes %d shells", len(s))
	}
	shift(m, c, r2.Vec{X: 4e-6}, 1)
	if s, _ := c.Shells(); len(s) != 2 {
		t.Errorf("a shift beyond it makes %d", len(s))
	}
}

func TestBorderRunsOnceRound(t *testing.T) {
	_, c := strip(t, 3)
	s, _ := c.Shells()
	border := c.Border(s[0].Faces, 7)
	var length float64
	var sum r2.Vec
	for _, g := range border {
		length += r2.Norm(r2.Sub(g.B, g.A))
		sum = r2.Add(sum, r2.Sub(g.B, g.A))
		if g.Group != 7 {
			t.Errorf("group %d", g.Group)
		}
	}
	if math.Abs(length-10) > 1e-12 || r2.Norm(sum) > 1e-12 {
		t.Errorf("a border of length %g, want 10; it ends %g from where it began", length, r2.Norm(sum))
	}
}

func TestTrianglesCoverTheirFaces(t *testing.T) {
	_, c := strip(t, 3)
	var area float64
	for _, q := range c.Triangles([]mesh.FaceID{0, 4, 5}) {
		area += q.Area()
	}
	if math.Abs(area-3) > 1e-12 {
		t.Errorf("area %g, want 3", area)
	}
}

func TestWhatIsSetIsGot(t *testing.T) {
	m, c := strip(t, 3)
	p := mesh.NewPatch(m, []mesh.FaceID{1, 2, 4}, noCut)
	uv := make([]r2.Vec, len(p.Pos))
	for i := range uv {
		uv[i] = r2.Vec{X: float64(i), Y: -float64(i)}
	}
	c.Set(p, uv)
	if !slices.Equal(c.Get(p), uv) {
		t.Error("a patch reads other coordinates than were set")
	}
}

func TestSourceMapLacksFacesWithAnOpenCorner(t *testing.T) {
	b := mesh.NewBuilder()
	for _, p := range []r3.Vec{{}, {X: 1}, {X: 1, Y: 1}, {Y: 1}} {
		b.Point(p)
	}
	b.Face(0, 1, 2)
	b.Face(0, 2, 3)
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	if c := atlas.FromSource(m, 1); c.IsMapped(0) || c.IsMapped(1) {
		t.Error("a file without a map gives one")
	}
	m.SourceUV = []r2.Vec{{X: 0.25}, {X: 0.5}, {Y: 0.5}}
	m.CornerUV = []int32{0, 1, 2, 0, 2, mesh.None}
	c := atlas.FromSource(m, 1)
	if !c.IsMapped(0) || c.IsMapped(1) || c.At(1) != (r2.Vec{X: 0.5}) {
		t.Errorf("mapped %v, corner 1 at %v", c.Mapped(), c.At(1))
	}
}
