package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

type weighted struct {
	d      r2.Vec
	weight float64
}

// prevailingAngle returns the direction, modulo a quarter turn, in which most
// length runs, and the share of length within 3° of it or across it. A
// histogram finds the peak, weighted means of fourth powers make it exact.
func prevailingAngle(edges []weighted) (angle, share float64) {
	const bins = 180
	var hist [bins]float64
	var total float64
	at := make([]float64, len(edges)) // angles in [0, quarter)
	long := make([]float64, len(edges))
	for i, e := range edges {
		long[i] = math.Sqrt(r2.Norm2(e.d)) * e.weight
		total += long[i]
		at[i] = math.Mod(math.Atan2(e.d.Y, e.d.X)+2*math.Pi, math.Pi/2)
		hist[int(at[i]/(math.Pi/2)*bins)%bins] += long[i]
	}
	if total == 0 {
		return 0, 0
	}
	best, peak := 0, -1.0
	for i := range hist {
		var sum float64
		for k := -6; k <= 6; k++ {
			sum += hist[(i+k+bins)%bins] * (7 - math.Abs(float64(k)))
		}
		if sum > peak*(1+1e-9) {
			best, peak = i, sum
		}
	}
	angle = (float64(best) + 0.5) / bins * math.Pi / 2
	for _, width := range []float64{6, 3, 1.5, 0.75, 0.4, 0.2, 0.1} {
		width *= math.Pi / 180
		var re, im float64
		for i, a := range at {
			off := wrapped(a - angle)
			if math.Abs(off) > 6*width {
				continue // its weight would be nothing
			}
			w := long[i] * math.Exp(-off*off/(2*width*width))
			s, c := math.Sincos(4 * off)
			re += w * c
			im += w * s
		}
		angle += math.Atan2(im, re) / 4
	}
	for i, a := range at {
		if math.Abs(wrapped(a-angle)) < 3*math.Pi/180 {
			share += long[i]
		}
	}
	return angle, share / total
}

// wrapped is an angle within a quarter turn or so of 0 modulo a quarter turn, in ±45°.
func wrapped(d float64) float64 {
	switch {
	case d > math.Pi/4:
		return d - math.Pi/2
	case d < -math.Pi/4:
		return d + math.Pi/2
	}
	return d
}

// quarterOff is the difference of two angles modulo a quarter turn, in ±45°.
func quarterOff(a, b float64) float64 {
	d := math.Mod(a-b, math.Pi/2)
	if d > math.Pi/4 {
		d -= math.Pi / 2
	} else if d < -math.Pi/4 {
		d += math.Pi / 2
	}
	return d
}

// Direction is an angle in radians with the area, or length, that has it.
type Direction struct{ Angle, Weight float64 }

// Prevailing returns the direction modulo a period that most of the weight has, within a
// degree or so, and the share that has it.
func Prevailing(list []Direction, period float64) (angle, share float64) {
	const width = math.Pi / 180
	bins := int(math.Round(period / width))
	hist := make([]float64, bins)
	var total float64
	bin := func(a float64) int {
		f := a / period
		return int((f-math.Floor(f))*float64(bins)) % bins
	}
	for _, d := range list {
		hist[bin(d.Angle)] += d.Weight
		total += d.Weight
	}
	if total == 0 {
		return 0, 0
	}
	at, most := 0, -1.0
	for i := range hist {
		sum := hist[(i+bins-1)%bins] + 2*hist[i] + hist[(i+1)%bins]
		if sum > most*(1+1e-9) {
			at, most = i, sum
		}
	}
	centre := (float64(at) + 0.5) / float64(bins) * period
	for range 3 {
		var sum, off float64
		for _, d := range list {
			if o := math.Remainder(d.Angle-centre, period); math.Abs(o) <= 1.5*width {
				sum += d.Weight
				off += d.Weight * o
			}
		}
		if sum > 0 {
			centre += off / sum
		}
		share = sum / total
	}
	return centre, share
}

// StraightEnough is the share of a bent grain that must run one way for its straights to
// decide how a shell is turned, rather than the mean of straights and bends.
const StraightEnough = 0.3
