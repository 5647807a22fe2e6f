package parts

import (
	"math"
	"strconv"

	"gonum.org/v1/gonum/spatial/r3"
)

// Programs write coordinates with so many significant digits; numbers of fewer are rather what somebody chose,
// those of more are all that there is.
const (
	fewestDigits = 5
	mostDigits   = 7
	digitSamples = 3000
	fullShare    = 0.2 // of the coordinates that need all digits, at the least
)

// lastDigit is the most that writing the points with few digits moved them along an axis, 0 where they were not
// written like that: what was a cylinder before is one but for this. Some programs write so many significant
// digits, others so many decimals, of which the smaller numbers have fewer digits.
func lastDigit(points []r3.Vec) float64 {
	var values []float64
	var most float64
	step := max(1, 3*len(points)/digitSamples)
	for i, p := range points {
		most = max(most, math.Abs(p.X), math.Abs(p.Y), math.Abs(p.Z))
		if i%step == 0 {
			values = append(values, p.X, p.Y, p.Z)
		}
	}
	if most == 0 || math.IsInf(most, 1) {
		return 0
	}
	before := int(math.Floor(math.Log10(most))) + 1 // digits of the largest before the point
	for _, way := range []func(v float64, n int) float64{
		func(v float64, n int) float64 { return decimals(v, n-before) }, // first: the smaller have fewer digits than n
		significant,
	} {
		for n := fewestDigits; n <= mostDigits; n++ {
			if writtenWith(values, n, way) {
				return 0.5 * math.Pow(10, float64(before-n))
			}
		}
	}
	return 0
}

// writtenWith tells whether all numbers are as a way of writing with n digits rounds them, and enough of them
// need the last of these.
func writtenWith(values []float64, n int, rounded func(v float64, n int) float64) bool {
	full := 0
	for _, v := range values {
		switch {
		case rounded(v, n) != v:
			return false
		case rounded(v, n-1) != v:
			full++
		}
	}
	return float64(full) >= fullShare*float64(len(values))
}

// significant is a number with so many significant digits.
func significant(v float64, digits int) float64 { return written(v, 'e', digits-1) }

// decimals is a number with so many digits after the point; it has all of those before it.
func decimals(v float64, digits int) float64 {
	if digits < 0 {
		return math.NaN()
	}
	return written(v, 'f', digits)
}

func written(v float64, format byte, digits int) float64 {
	out, err := strconv.ParseFloat(strconv.FormatFloat(v, format, digits, 64), 64)
	if err != nil {
		return math.NaN()
	}
	return out
}
