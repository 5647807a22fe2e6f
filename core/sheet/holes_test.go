package sheet

import (
	"context"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// framed is a square of some side with a square hole in its middle, in 24 triangles, turned over or not.
func framed(side, hole float64, over bool) Shell {
	ring := func(s float64) []r2.Vec {
		a, b := (side-s)/2, (side+s)/2
		return []r2.Vec{{X: a, Y: a}, {X: b, Y: a}, {X: b, Y: b}, {X: a, Y: b}}
	}
	var s Shell
	out, in := ring(side), ring(hole)
	for k := range 4 {
		n := (k + 1) % 4
		for _, t := range []planar.Triangle{{out[k], out[n], in[n]}, {out[k], in[n], in[k]}} {
			if over {
				t[1], t[2] = t[2], t[1]
			}
			mid := r2.Scale(1./3, r2.Add(t[0], r2.Add(t[1], t[2])))
			s.Tris = append(s.Tris, planar.Triangle{t[0], t[1], mid}, planar.Triangle{t[1], t[2], mid}, planar.Triangle{t[2], t[0], mid})
		}
	}
	return s.Measured()
}

// A hole takes part in what is in the way of what only where something lies in it.
func TestHolesInWhichNothingLiesAreFilled(t *testing.T) {
	o := Options{SizePx: 1024, PaddingPx: 8, MarginPx: 8, Turns: NoTurns, Tiles: 1}
	for name, c := range map[string]struct {
		at   r2.Vec
		want int
	}{"beside": {r2.Vec{X: 0.8, Y: 0.1}, 4}, "in it": {r2.Vec{X: 0.3, Y: 0.3}, 8}} {
		for _, over := range []bool{false, true} {
			shells := []Shell{framed(6, 4, over), rect(1, 1)}
			k := newPacker(shells, o).newCompactor(laidIn(0.1, r2.Vec{X: 0.05, Y: 0.05}, c.at))
			if got := len(k.rims[0]); got != c.want {
				t.Errorf("a square %s, turned over %v: %d edges in the way, want %d", name, over, got, c.want)
			}
			if err := k.grow(context.Background()); err != nil {
				t.Fatal(err)
			}
			if k.scale <= 0.1 {
				t.Errorf("a square %s, turned over %v: not enlarged", name, over)
			}
			checkPlaced(t, shells, k.placements(), o)
		}
	}
	// What stays counts too.
	stays := Placement{Scale: 0.1, Shift: r2.Vec{X: 0.3, Y: 0.3}}
	p := newPacker([]Shell{framed(6, 4, false)}, o)
	var around []planar.Triangle
	for _, q := range rect(1, 1).Tris {
		around = append(around, stays.triangle(q))
	}
	p.ground = newGround(around, o)
	if got := len(p.newCompactor(laidIn(0.1, r2.Vec{X: 0.05, Y: 0.05})).rims[0]); got != 8 {
		t.Errorf("around what stays: %d edges, want 8", got)
	}
}

// Loops are told apart where an edge does not go on where the one before ends.
func TestLoopsOfAnOutline(t *testing.T) {
	at := func(x float64) r2.Vec { return r2.Vec{X: x} }
	edge := func(a, b float64) rimEdge { return rimEdge{a: at(a), b: at(b)} }
	rim := []rimEdge{edge(0, 1), edge(1, 2), edge(2, 0), edge(5, 6), edge(6, 5), edge(7, 7)}
	var got []int
	for loop := range loopsOf(rim) {
		got = append(got, len(loop))
	}
	if !slices.Equal(got, []int{3, 2, 1}) {
		t.Errorf("loops of %v edges", got)
	}
	for range loopsOf(nil) {
		t.Error("no outline has a loop")
	}
}
