// Package words is how numbers are said in sentences for people.
package words

import (
	"fmt"
	"math"
)

// Count is so many of something, in the plural but for one: 3 edges.
func Count(n int, of string) string { return fmt.Sprintf("%d %s", n, Plural(n, of)) }

// Plural is a word for so many things: edges, but for one edge.
func Plural(n int, of string) string {
	if n == 1 {
		return of
	}
	return of + "s"
}

// Be is the verb for so many things: is, but are for several.
func Be(n int) string {
	if n == 1 {
		return "is"
	}
	return "are"
}

var metres = map[string]float64{"m": 1, "cm": 0.01, "mm": 0.001, "in": 0.0254}

// Convert is a length in another unit.
func Convert(x float64, from, to string) float64 { return x * metres[from] / metres[to] }

// Length is a length in model units of so many metres' name (m, cm, mm, in), in what people
// would say it in.
func Length(x float64, unit string) string {
	switch mm := x * metres[unit] * 1000; {
	case math.IsNaN(mm) || math.IsInf(mm, 0):
		return "–"
	case mm < 0.0005:
		return "0 mm"
	case mm < 10:
		return fmt.Sprintf("%.2g mm", mm)
	case mm < 1000:
		return fmt.Sprintf("%.0f mm", mm)
	default:
		return fmt.Sprintf("%.2f m", mm/1000)
	}
}

// Endless is the ratio from which on a stretch has no number.
const Endless = 1e6

// Times is a ratio such as a stretch: ×1.05.
func Times(x float64, digits int) string {
	if !(x < Endless) {
		return "endless"
	}
	return fmt.Sprintf("×%.*f", digits, x)
}
