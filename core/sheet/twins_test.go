package sheet

import (
	"context"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// Shells that are the same but for where they lie share their rasters, and are laid where each
// would lie with its own.
func TestTwinsAreLaidAsTheyWouldBeAlone(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 6))
	var shells []Shell
	for _, s := range somewhere(rng, 12, 0.12) {
		for range 4 {
			by := r2.Vec{X: rng.Float64(), Y: rng.Float64()}
			var moved Shell
			for _, q := range s.Tris {
				moved.Tris = append(moved.Tris, planar.Triangle{r2.Add(q[0], by), r2.Add(q[1], by), r2.Add(q[2], by)})
			}
			shells = append(shells, moved)
		}
	}
	o := Options{SizePx: 1024, PaddingPx: 5, MarginPx: 5, Turns: AnyTurns, Tiles: 1}
	p := newPacker(shells, o)
	for i := range shells {
		if p.twin[i] != i-i%4 {
			t.Errorf("shell %d is the same as %d", i, p.twin[i])
		}
	}
	p.some = true
	if _, err := p.place(context.Background(), 0.6, p.fineCells()); err != nil {
		t.Fatal(err)
	}
	apart(t, shells, p.found, p.laid, nil, o)
	own := newPacker(shells, o)
	for i := range own.twin {
		own.twin[i] = i
	}
	own.some = true
	if _, err := own.place(context.Background(), 0.6, own.fineCells()); err != nil {
		t.Fatal(err)
	}
	for i, s := range shells {
		if a, b := p.found[i].Apply(s.Tris[0][0]), own.found[i].Apply(s.Tris[0][0]); p.laid[i] != own.laid[i] || r2.Norm(r2.Sub(a, b)) > 1e-9 {
			t.Errorf("shell %d lies at %v, with its own raster at %v", i, a, b)
		}
	}
}
