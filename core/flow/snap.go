package flow

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// Snapped says what snapping did.
type Snapped struct {
	Chains int     // straight stretches of the border that lie on whole pixels
	Left   int     // those that are less than a pixel from another one and stay
	Moved  float64 // farthest that a point went, pixels
}

// onAxis is how far the ends of an edge may be apart across its axis, in pixels, for the
// edge to lie along it.
const onAxis = 1e-3

// SnapToPixels moves straight stretches of the border that run along U or V to whole
// pixels of a sheet of the given size. All of the map is stretched with them, each axis on
// its own and evenly between the stretches, so what runs straight along an axis still
// does. The map is in units of the sheet.
func SnapToPixels(p *mesh.Patch, uv []r2.Vec, size int) (out []r2.Vec, s Snapped) {
	k := float64(size)
	var at [2][]float64 // pixels: V of stretches along U in 1, U of those along V in 0
	for _, loop := range p.Borders() {
		for _, c := range loop {
			a, b := p.Ends(c)
			d := r2.Scale(k, r2.Sub(uv[b], uv[a]))
			switch {
			case math.Abs(d.Y) < onAxis && math.Abs(d.X) > 1:
				at[1] = append(at[1], k*(uv[a].Y+uv[b].Y)/2)
			case math.Abs(d.X) < onAxis && math.Abs(d.Y) > 1:
				at[0] = append(at[0], k*(uv[a].X+uv[b].X)/2)
			}
		}
	}
	out = slices.Clone(uv)
	warp := [2]func(float64) float64{}
	for axis := range at {
		var chains, left int
		warp[axis], chains, left = toWhole(at[axis])
		s.Chains += chains
		s.Left += left
	}
	for v, q := range uv {
		out[v] = r2.Vec{X: warp[0](k*q.X) / k, Y: warp[1](k*q.Y) / k}
		s.Moved = max(s.Moved, k*r2.Norm(r2.Sub(out[v], q)))
	}
	return out, s
}

// toWhole returns a rising function that takes places to whole numbers, evenly between
// them, and how many different places there are: those less than one apart from the one
// before are left.
func toWhole(at []float64) (f func(float64) float64, chains, left int) {
	slices.Sort(at)
	var from, to []float64
	last := math.Inf(-1)
	for _, x := range at {
		if x-last < 2*onAxis {
			continue // the same stretch, or one level with it
		}
		last = x
		if n := len(from); n > 0 {
			if math.Round(x) <= to[n-1] {
				left++
				continue
			}
		}
		from, to = append(from, x), append(to, math.Round(x))
	}
	return func(x float64) float64 {
		n := len(from)
		if n == 0 {
			return x
		}
		i, _ := slices.BinarySearch(from, x)
		switch {
		case i == 0:
			if math.Abs(x-from[0]) < 2*onAxis {
				return to[0]
			}
			return x + to[0] - from[0]
		case math.Abs(x-from[i-1]) < 2*onAxis:
			return to[i-1]
		case i < n && math.Abs(x-from[i]) < 2*onAxis:
			return to[i]
		case i == n:
			return x + to[n-1] - from[n-1]
		}
		t := (x - from[i-1]) / (from[i] - from[i-1])
		return to[i-1] + t*(to[i]-to[i-1])
	}, len(from), left
}
