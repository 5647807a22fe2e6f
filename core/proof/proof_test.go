package proof_test

import (
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
	"morvek/core/seam"
)

// two is a mesh of two strips of 1 by 8 a unit apart, mapped true at a tenth.
func two(t *testing.T) (*mesh.Mesh, *atlas.Map) {
	t.Helper()
	w := meshtest.NewWelder()
	for k := range 2 {
		x := 2 * float64(k)
		w.Face(w.Point(r3.Vec{X: x}), w.Point(r3.Vec{X: x + 1}), w.Point(r3.Vec{X: x + 1, Y: 8}), w.Point(r3.Vec{X: x, Y: 8}))
	}
	m := w.Mesh(t)
	c := atlas.New(m)
	for h, p := range m.CornerPoint {
		v := m.Points[p]
		c.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.1 + 0.1*v.X, Y: 0.1 + 0.1*v.Y})
	}
	c.SetMapped(0, true)
	c.SetMapped(1, true)
	return m, c
}

func measure(m *mesh.Mesh, c *atlas.Map, change func(*proof.Input)) proof.Report {
	in := proof.Input{Mesh: m, Map: c, Part: func(f mesh.FaceID) int { return int(f) },
		Grain: func(int) flow.Grain { return flow.Grain{} }, Flow: flow.Settings{Up: r3.Vec{Y: 1}}, Sheet: proof.Sheet{Size: 1000, Padding: 8, Tiles: 1}}
	if change != nil {
		change(&in)
	}
	return proof.Measure(in)
}

func kinds(r proof.Report) (out []string) {
	for _, f := range r.Findings {
		out = append(out, f.Kind)
	}
	return out
}

func TestATrueMapIsFoundTrue(t *testing.T) {
	m, c := two(t)
	r := measure(m, c, nil)
	q := r.Totals
	if q.Unmapped+q.Mirrored+q.Outside != 0 || q.OverlapShare != 0 || len(r.Findings) != 0 || !r.Acceptable() {
		t.Errorf("a true map has faults: %+v, %v", q, kinds(r))
	}
	for what, pair := range map[string][2]float64{
		"coverage": {q.Coverage, 0.16}, "gap px": {q.MinGapPx, 100}, "rim px": {q.MinRimPx, 100}, "L2": {q.L2, 1}, "angular": {q.AngularP95, 1},
		"density": {q.MeanDensity, 100}, "spread": {q.DensitySpread, 1}, "shells": {float64(q.Shells), 2}, "straight": {q.Straight, 1},
	} {
		if math.Abs(pair[0]-pair[1]) > 1e-9 {
			t.Errorf("%s: %g, want %g", what, pair[0], pair[1])
		}
	}
}

// move lays a face of two elsewhere.
func move(c *atlas.Map, f int, at func(r2.Vec) r2.Vec) {
	for h := 4 * f; h < 4*f+4; h++ {
		c.Put(mesh.HalfedgeID(h), at(c.At(mesh.HalfedgeID(h))))
	}
}

// How near shells come to each other is one thing, how near to the rim another.
func TestGapsBetweenShellsAndToTheRim(t *testing.T) {
	for by, want := range map[float64][2]float64{0: {100, 100}, 0.55: {650, 50}, -0.06: {40, 100}, 0.6: {700, 0}, 0.7: {800, 0}} {
		m, c := two(t)
		move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X + by, Y: q.Y} })
		if q := measure(m, c, nil).Totals; math.Abs(q.MinGapPx-want[0]) > 1e-9 || math.Abs(q.MinRimPx-want[1]) > 1e-9 {
			t.Errorf("moved by %g: %g px between, %g px to the rim, want %v", by, q.MinGapPx, q.MinRimPx, want)
		}
	}
	m, c := two(t)
	c.SetMapped(1, false)
	if q := measure(m, c, nil).Totals; q.MinGapPx != -1 || math.Abs(q.MinRimPx-100) > 1e-9 {
		t.Errorf("one shell: %g px between, %g px to the rim", q.MinGapPx, q.MinRimPx)
	}
	c.SetMapped(0, false)
	if q := measure(m, c, nil).Totals; q.MinGapPx != -1 || q.MinRimPx != -1 {
		t.Errorf("none: %g px between, %g px to the rim", q.MinGapPx, q.MinRimPx)
	}
}

// Each thing done wrong on purpose is found, and only that.
func TestEachFaultIsFound(t *testing.T) {
	for _, c := range []struct {
		name   string
		spoil  func(*atlas.Map)
		want   string
		accept bool
	}{
		{"unmapped", func(c *atlas.Map) { c.SetMapped(1, false) }, proof.Unmapped, false},
		{"mirrored", func(c *atlas.Map) { move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: 0.7 - q.X, Y: q.Y} }) }, proof.Mirrored, false},
		{"overlapping", func(c *atlas.Map) { move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X - 0.15, Y: q.Y} }) }, proof.Overlap, false},
		{"outside", func(c *atlas.Map) { move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X + 0.65, Y: q.Y} }) }, proof.Outside, false},
		{"too close", func(c *atlas.Map) { move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X - 0.097, Y: q.Y} }) }, proof.TooClose, true},
		{"stretched", func(c *atlas.Map) {
			move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: 0.3 + (q.X-0.3)*1.25, Y: 0.1 + (q.Y-0.1)*0.8} })
		}, proof.Stretched, true},
		{"another density", func(c *atlas.Map) {
			move(c, 1, func(q r2.Vec) r2.Vec { return r2.Vec{X: 0.3 + (q.X-0.3)*0.7, Y: 0.1 + (q.Y-0.1)*0.7} })
		}, proof.Density, true},
	} {
		m, good := two(t)
		c.spoil(good)
		r := measure(m, good, nil)
		if !slices.Contains(kinds(r), c.want) {
			t.Errorf("%s: found %v", c.name, kinds(r))
		}
		if r.Acceptable() != c.accept {
			t.Errorf("%s: acceptable %v", c.name, r.Acceptable())
		}
		for _, f := range r.Findings {
			if f.Kind != c.want && f.Kind != proof.TooClose && f.Kind != proof.Density {
				t.Errorf("%s: also found %s", c.name, f.Kind)
			}
			if len(f.Faces) == 0 {
				t.Errorf("%s: a finding leads nowhere", c.name)
			}
		}
	}
}

// What lies on others or beside the sheet covers no more of it; a sheet that is hardly used
// leads to the shell that rules it.
func TestCoverageIsOfTheUnion(t *testing.T) {
	m, c := two(t)
	c.Transform([]mesh.FaceID{1}, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X - 0.15, Y: q.Y} }) // half of it lies on the other
	if r := measure(m, c, nil); math.Abs(r.Totals.Coverage-0.12) > 2e-3 {
		t.Errorf("coverage %g with half of one on the other, want 0.12", r.Totals.Coverage)
	}
	m, c = two(t)
	c.Transform([]mesh.FaceID{1}, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X + 0.65, Y: q.Y} }) // half of it is beyond the border
	if r := measure(m, c, nil); math.Abs(r.Totals.Coverage-0.12) > 2e-3 {
		t.Errorf("coverage %g with half of one outside, want 0.12", r.Totals.Coverage)
	}
	m, c = two(t)
	for f, high := range []float64{0.5, 0.4} {
		c.Transform([]mesh.FaceID{mesh.FaceID(f)}, func(q r2.Vec) r2.Vec { return r2.Vec{X: 0.1 + (q.X-0.1)*0.5, Y: 0.1 + (q.Y-0.1)*high} })
	}
	r := measure(m, c, nil)
	k := slices.IndexFunc(r.Findings, func(f proof.Finding) bool { return f.Kind == proof.Wasted })
	if r.Acceptable() || k < 0 || !slices.Equal(r.Findings[k].Faces, []mesh.FaceID{0}) || math.Abs(r.Findings[k].Value-0.036) > 1e-9 {
		t.Errorf("a sheet used to %g %%: found %+v", 100*r.Totals.Coverage, r.Findings)
	}
	c.SetMapped(1, false)
	if r := measure(m, c, nil); slices.Contains(kinds(r), proof.Wasted) {
		t.Error("a map that is not whole yet is said to waste the sheet")
	}
}

// The numbers of a known stretch: 1.25 along, 0.8 across keeps the area.
func TestStretchNumbers(t *testing.T) {
	m, c := two(t)
	for h := range c.UV() {
		c.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.1 + (c.At(mesh.HalfedgeID(h)).X-0.1)*1.25, Y: 0.1 + (c.At(mesh.HalfedgeID(h)).Y-0.1)*0.8})
	}
	r := measure(m, c, nil)
	want := math.Sqrt((1/(1.25*1.25) + 1/(0.8*0.8)) / 2)
	if math.Abs(r.Totals.L2-want) > 1e-12 || math.Abs(r.Totals.AngularP95-1.25/0.8) > 1e-12 {
		t.Errorf("L2 %g, want %g; angular %g, want %g", r.Totals.L2, want, r.Totals.AngularP95, 1.25/0.8)
	}
	if l := r.Shells[0].Linf; math.Abs(l-1.25) > 1e-12 {
		t.Errorf("L∞ %g, want 1.25", l)
	}
}

func TestGrainErrorIsMeasured(t *testing.T) {
	m, c := two(t)
	const turn = 7 * math.Pi / 180
	for h := range c.UV() {
		q := r2.Sub(c.At(mesh.HalfedgeID(h)), r2.Vec{X: 0.4, Y: 0.4})
		s, co := math.Sincos(turn)
		c.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.4 + co*q.X - s*q.Y, Y: 0.4 + s*q.X + co*q.Y})
	}
	r := measure(m, c, func(in *proof.Input) {
		in.Grain = func(int) flow.Grain { return flow.Grain{Mode: flow.Toward, Axis: r3.Vec{X: 1}} }
	})
	if math.Abs(r.Totals.GrainRMSDeg-7) > 1e-9 || math.Abs(r.Totals.GrainOverDeg-7) > 1e-9 || !slices.Contains(kinds(r), proof.OffGrain) {
		t.Errorf("grain error %g°, %g° above the floor, want 7°, found %v", r.Totals.GrainRMSDeg, r.Totals.GrainOverDeg, kinds(r))
	}
}

// A grain that bends within a part cannot be met by turning: that is its floor. What a turn
// adds to it is the shell's own fault.
func TestGrainFloor(t *testing.T) {
	m := meshtest.Grid(t, 6, 1, func(u, v float64) r3.Vec { return r3.Vec{X: 6 * u, Y: v} })
	c := atlas.New(m)
	for h, p := range m.CornerPoint {
		c.Put(mesh.HalfedgeID(h), r2.Scale(0.1, r2.Vec{X: m.Points[p].X, Y: m.Points[p].Y}))
	}
	for f := range c.Mapped() {
		c.SetMapped(mesh.FaceID(f), true)
	}
	bent := flow.Grain{Mode: flow.Along, Axis: r3.Vec{X: 1}, Path: []r3.Vec{{}, {X: 3}, {X: 6, Y: 3}}}
	grained := func(in *proof.Input) {
		in.Grain = func(int) flow.Grain { return bent }
		in.Part = func(mesh.FaceID) int { return 0 }
	}
	least := measure(m, c, grained).Totals
	best := math.Inf(1) // over all turns
	var over, rms []float64
	for deg := range 180 {
		turned := c.Draft()
		sin, cos := math.Sincos(float64(deg) * math.Pi / 180)
		for h, q := range slices.Clone(turned.UV()) {
			q = r2.Sub(q, r2.Vec{X: 0.4, Y: 0.4})
			turned.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.4 + cos*q.X - sin*q.Y, Y: 0.4 + sin*q.X + cos*q.Y})
		}
		r := measure(m, turned, grained).Totals
		best = min(best, r.GrainRMSDeg)
		over, rms = append(over, r.GrainOverDeg), append(rms, r.GrainRMSDeg)
	}
	if best < 1 || least.GrainRMSDeg < best {
		t.Fatalf("%g° at the best turn: this grain should bend", best)
	}
	for deg := range over {
		if want := math.Sqrt(max(0, rms[deg]*rms[deg]-best*best)); math.Abs(over[deg]-want) > 1.5 {
			t.Errorf("turned by %d°: %g° above the floor, want %g°", deg, over[deg], want)
		}
	}
}

// A stack is no overlap and covers its place once; a wished weight is no fault.
func TestStacksAndWeights(t *testing.T) {
	m, c := two(t)
	for h := range mesh.HalfedgeID(4) {
		c.Put(4+h, c.At(h))
	}
	if r := measure(m, c, nil); r.Totals.OverlapShare == 0 {
		t.Error("two shells at one place by accident are an overlap")
	}
	r := measure(m, c, func(in *proof.Input) { in.Stack = func(f mesh.FaceID) (int, bool) { return 0, f > 0 } })
	if r.Totals.OverlapShare != 0 || r.Shells[1].StackedOn == nil || *r.Shells[1].StackedOn != 0 || r.Shells[0].StackedOn != nil {
		t.Errorf("a stack: overlap %g, stacked on %v", r.Totals.OverlapShare, r.Shells[1].StackedOn)
	}
	if math.Abs(r.Totals.Coverage-0.08) > 1e-12 {
		t.Errorf("a stack of two covers %g, want the place of one", r.Totals.Coverage)
	}
	m, c = two(t)
	for h := 4; h < 8; h++ {
		c.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.3 + (c.At(mesh.HalfedgeID(h)).X-0.3)*0.5, Y: 0.1 + (c.At(mesh.HalfedgeID(h)).Y-0.1)*0.5})
	}
	r = measure(m, c, func(in *proof.Input) {
		in.Weight = func(shell []mesh.FaceID) float64 { return 1 / (1 + float64(shell[0])) }
	})
	if math.Abs(r.Totals.DensitySpread-1) > 1e-12 || slices.Contains(kinds(r), proof.Density) {
		t.Errorf("a wished density counts as spread %g, found %v", r.Totals.DensitySpread, kinds(r))
	}
	if math.Abs(r.Totals.L2-1) > 1e-12 || math.Abs(float64(r.Stretch[0])*r.Scale-1) > 1e-6 || math.Abs(float64(r.Stretch[1])*r.Scale-1) > 1e-6 {
		t.Errorf("a wished density counts as stretch: L2 %g, faces %v", r.Totals.L2, r.Stretch)
	}
}

// Seams are sorted by how much they bend; openings do not count as seams on flat.
func TestSeamShares(t *testing.T) {
	// Three squares: flat, flat, then bent by 90°.
	w := meshtest.NewWelder()
	p := func(x, y float64) mesh.PointID {
		v := r3.Vec{X: x, Y: y}
		if x > 2 {
			v = r3.Vec{X: 2, Y: y, Z: x - 2}
		}
		return w.Point(v)
	}
	for k := range 3 {
		x := float64(k)
		w.Face(p(x, 0), p(x+1, 0), p(x+1, 1), p(x, 1))
	}
	m := w.Mesh(t)
	c := atlas.New(m)
	for f := range 3 {
		for k, q := range []r2.Vec{{}, {X: 0.1}, {X: 0.1, Y: 0.1}, {Y: 0.1}} {
			c.Put(mesh.HalfedgeID(4*f+k), r2.Add(q, r2.Vec{X: 0.2 * float64(f)}))
		}
		c.SetMapped(mesh.FaceID(f), true)
	}
	r := measure(m, c, nil)
	if math.Abs(r.Totals.SeamLength-2) > 1e-12 || math.Abs(r.Totals.SeamOnFlat-0.5) > 1e-12 {
		t.Errorf("seams %g, on flat %g; want 2 and a half", r.Totals.SeamLength, r.Totals.SeamOnFlat)
	}
}

// A seam across a smooth area is found where it is in view, unless it is too short for anybody to see.
func TestShortSeamsAreNotFoundInView(t *testing.T) {
	for _, c := range []struct {
		long  float64 // of a strip as wide as 1, halved
		found bool
	}{{50, true}, {190, true}, {210, false}} {
		w := meshtest.NewWelder()
		p := func(x, y float64) mesh.PointID { return w.Point(r3.Vec{X: c.long / 2 * x, Y: y}) }
		w.Face(p(0, 0), p(1, 0), p(1, 1), p(0, 1))
		w.Face(p(1, 0), p(2, 0), p(2, 1), p(1, 1))
		m := w.Mesh(t)
		a := atlas.New(m)
		for f := range mesh.FaceID(2) {
			for k, q := range []r2.Vec{{}, {X: 0.8}, {X: 0.8, Y: 1.6 / c.long}, {Y: 1.6 / c.long}} {
				a.Put(mesh.HalfedgeID(4*int(f)+k), r2.Add(q, r2.Vec{X: 0.1, Y: 0.1 + 0.5*float64(f)}))
			}
			a.SetMapped(f, true)
		}
		r := measure(m, a, func(in *proof.Input) {
			in.Part, in.Exposure = func(mesh.FaceID) int { return 0 }, seam.NewExposure(m, seam.UpY, seam.DefaultSides())
		})
		if got := kinds(r); slices.Contains(got, proof.InView) != c.found {
			t.Errorf("a strip %g times as long as wide: %v", c.long, got)
		}
	}
}
