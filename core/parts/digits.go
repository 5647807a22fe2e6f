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
// written like that: what was a cylinder before is one but for this.
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
	for n := fewestDigits; n <= mostDigits; n++ {
		full := 0
		for _, v := range values {
			switch {
			case rounded(v, n) != v:
				full = -1
			case rounded(v, n-1) != v:
				full++
			}
			if full < 0 {
				break
			}
		}
		if full < 0 {
			continue
		}
		if float64(full) < fullShare*float64(len(values)) {
			return 0
		}
		return 0.5 * math.Pow(10, math.Floor(math.Log10(most))-float64(n)+1)
	}
	return 0
}

// rounded is a number with so many significant digits.
func rounded(v float64, digits int) float64 {
	out, err := strconv.ParseFloat(strconv.FormatFloat(v, 'e', digits-1, 64), 64)
	if err != nil {
		return math.NaN()
	}
	return out
}
