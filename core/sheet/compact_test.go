package sheet

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// laidIn places rectangles by their lower left corners.
func laidIn(scale float64, corners ...r2.Vec) []Placement {
	out := make([]Placement, len(corners))
	for i, c := range corners {
		out[i] = Placement{Scale: scale, Shift: c}
	}
	return out
}

// Four squares grow until they and the padding between them fill the sheet, from wherever they lie.
func TestCompactorFillsTheSheetWithSquares(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 16, MarginPx: 8, Turns: NoTurns, Tiles: 1}
	shells := []Shell{rect(1, 1), rect(1, 1), rect(1, 1), rect(1, 1)}
	p := newPacker(shells, o)
	c := p.newCompactor(laidIn(0.4, r2.Vec{X: 0.02, Y: 0.03}, r2.Vec{X: 0.5, Y: 0.05}, r2.Vec{X: 0.05, Y: 0.52}, r2.Vec{X: 0.55, Y: 0.5}))
	if err := c.grow(context.Background()); err != nil {
		t.Fatal(err)
	}
	want := (1024. - 2*8 - 16) / 2 / 1024
	if got := c.placements()[0].Scale; got > want || got < 0.999*want {
		t.Errorf("squares of %g, room is for %g", got, want)
	}
	checkPlaced(t, shells, c.placements(), o)
}

// Around what stays shells are enlarged in exact geometry too, whichever side of them it is on.
func TestShellsGrowUpToWhatStays(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 16, MarginPx: 8, Turns: NoTurns, Tiles: 2}
	want := (513. - 8 - 16) / 1024
	for name, corners := range map[string][2]r2.Vec{
		"beside": {{X: 513. / 1024}, {X: 1.5, Y: -0.1}}, "above": {{Y: 513. / 1024}, {X: 1.5}}, "on the second tile": {{X: -0.01}, {X: 1 + 513./1024}},
	} {
		var around []planar.Triangle
		for _, c := range corners {
			for _, q := range rect(1, 1).Tris {
				around = append(around, Placement{Scale: 1, Shift: c}.triangle(q))
			}
		}
		shells := []Shell{rect(1, 1)}
		placed, err := PackAround(context.Background(), shells, around, o, nil)
		if err != nil {
			t.Fatal(name, err)
		}
		if got := placed[0].Scale; got > want || got < 0.999*want {
			t.Errorf("%s: a square of %g, room is for %g", name, got, want)
		}
		apart(t, shells, placed, yes(1), around, o)
	}
}

// What was packed keeps all distances in exact geometry when it is enlarged there, and never
// becomes smaller.
func TestCompactorKeepsDistances(t *testing.T) {
	for seed := range uint64(6) {
		rng := rand.New(rand.NewPCG(seed, 5))
		o := Options{SizePx: 1024, PaddingPx: float64(1 + rng.IntN(12)), MarginPx: float64(rng.IntN(9)),
			Turns: []Turns{HalfTurns, AnyTurns}[seed%2], Tiles: 1 + int(seed%3)}
		if err := o.check(); err != nil {
			t.Fatal(err)
		}
		shells := append(somewhere(rng, 20, 0.2), Shell{})
		p := newPacker(shells, o)
		if ok, err := p.place(context.Background(), 0.8*p.largest()/4, 384); err != nil || !ok {
			t.Fatal(ok, err)
		}
		c := p.newCompactor(p.found)
		was := c.scale
		if err := c.grow(context.Background()); err != nil {
			t.Fatal(err)
		}
		if c.scale <= was {
			t.Errorf("seed %d: not enlarged at all", seed)
		}
		checkPlaced(t, shells, c.placements(), o)
		var tris []planar.Triangle
		var of []int
		for i, at := range c.placements() {
			for _, q := range shells[i].Tris {
				tris, of = append(tris, planar.Triangle{at.Apply(q[0]), at.Apply(q[1]), at.Apply(q[2])}), append(of, i)
			}
		}
		for _, over := range planar.Overlaps(tris, 1e-9) {
			if of[over.A] != of[over.B] {
				t.Fatalf("seed %d: shell %d lies on %d", seed, of[over.A], of[over.B])
			}
		}
	}
}

// Shells that overlap a little are moved apart where there is room, and left alone where not.
func TestCompactorMovesApart(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 8, Turns: NoTurns, Tiles: 1}
	shells := []Shell{rect(1, 1), rect(1, 1)}
	from := laidIn(0.4, r2.Vec{X: 0.1, Y: 0.1}, r2.Vec{X: 0.498, Y: 0.1})
	c := newPacker(shells, o).newCompactor(from)
	if !c.fit(0.4) {
		t.Fatal("there is room beside each other")
	}
	checkPlaced(t, shells, c.placements(), o)
	before := c.placements()
	if c.fit(0.6) {
		t.Error("two squares of 0.6 do not fit side by side")
	}
	for i, at := range c.placements() {
		if at != before[i] {
			t.Errorf("shell %d was moved in vain", i)
		}
	}
}

// A shell that lies inside another, touching nothing, is not taken for one that keeps its distance.
func TestCompactorKnowsInside(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 4, Turns: NoTurns, Tiles: 1}
	p := newPacker([]Shell{rect(0.8, 0.8), rect(0.1, 0.1)}, o)
	inside := p.newCompactor(laidIn(1, r2.Vec{X: 0.1, Y: 0.1}, r2.Vec{X: 0.4, Y: 0.4}))
	if inside.keeps(inside.mid, 1) {
		t.Error("one inside the other passes")
	}
	beside := p.newCompactor(laidIn(1, r2.Vec{X: 0.01, Y: 0.01}, r2.Vec{X: 0.85, Y: 0.4}))
	if !beside.keeps(beside.mid, 1) {
		t.Error("one beside the other does not")
	}
}

// Straightened, an outline has the same corners, closes, and lies nowhere farther off than it may.
func TestStraightenedKeepsToTheOutline(t *testing.T) {
	const n, slack = 400, 1e-3
	var rim []rimEdge
	at := func(k int) r2.Vec { // a square with 100 points on each side, then half a circle
		k %= n
		if k < n/2 {
			s := float64(k) / (n / 2)
			return r2.Vec{X: min(1, 2*s), Y: max(0, 2*s-1)}
		}
		s, c := math.Sincos(math.Pi/4 + math.Pi*float64(k-n/2)/(n/2))
		return r2.Vec{X: 0.5 + math.Sqrt2/2*c, Y: 0.5 + math.Sqrt2/2*s}
	}
	for k := range n {
		rim = append(rim, rimEdge{a: at(k), b: at(k + 1)})
	}
	out := straightened(rim, slack)
	if len(out) > 60 {
		t.Errorf("%d edges are left of %d", len(out), n)
	}
	for k, e := range out {
		if e.b != out[(k+1)%len(out)].a {
			t.Fatalf("edge %d does not go on", k)
		}
	}
	for _, e := range rim {
		far := math.Inf(1)
		for _, o := range out {
			far = min(far, planar.PointDistance(e.a, o.a, o.b))
		}
		if far > slack {
			t.Fatalf("%v lies %g off", e.a, far)
		}
	}
}
