package proof

import (
	"math"

	"morvek/core/mesh"
)

// Measured names something that is measured of every face.
type Measured string

// What is measured of every face.
const (
	OfStretch  Measured = "stretch"  // σ₁/σ₂, 1 and more
	OfArea     Measured = "area"     // in space against on the sheet, 1 where it is true to size
	OfDensity  Measured = "density"  // against the mean, weights aside
	OfGrain    Measured = "grain"    // degrees off it
	OfExposure Measured = "exposure" // 0 hidden to 1 in view
)

// levels are the values that iso-lines are drawn at. Ratios go both ways from 1.
var levels = map[Measured][]float64{
	OfStretch:  {1.01, 1.02, 1.05, 1.1, 1.2, 1.5, 2, 4},
	OfArea:     {0.25, 0.5, 0.67, 0.8, 0.9, 0.95, 1.05, 1.1, 1.25, 1.5, 2, 4},
	OfDensity:  {0.25, 0.5, 0.67, 0.8, 0.9, 0.95, 1.05, 1.1, 1.25, 1.5, 2, 4},
	OfGrain:    {1, 2, 5, 10, 20, 45},
	OfExposure: {0.1, 0.3, 0.5, 0.7, 0.9},
}

// Field is a value of each face of a map.
type Field struct {
	Of     Measured
	Values []float64 // by face; NaN where there is none
	mesh   *mesh.Mesh
	shell  []int32
}

// Field returns what was measured of every face; exposure is that of each face where it is asked for.
// It is false for what is not measured.
func (r Report) Field(m *mesh.Mesh, of Measured, exposure []float32) (f Field, ok bool) {
	if _, ok := levels[of]; !ok || of == OfExposure && len(exposure) != m.NumFaces() {
		return f, false
	}
	f = Field{Of: of, Values: make([]float64, m.NumFaces()), mesh: m, shell: r.ShellOf}
	for i := range f.Values {
		f.Values[i] = r.value(of, i, exposure)
	}
	return f, true
}

func (r Report) value(of Measured, f int, exposure []float32) float64 {
	s := r.ShellOf[f]
	none := math.NaN()
	switch {
	case of == OfExposure:
		return float64(exposure[f])
	case s < 0:
		return none
	}
	area := float64(r.Stretch[f]) * r.Scale
	switch of {
	case OfStretch:
		return max(1, float64(r.Angular[f]))
	case OfArea:
		return above0(area)
	case OfDensity:
		return above0(1 / math.Sqrt(area) / r.Shells[s].Weight)
	case OfGrain:
		if r.GrainErr[f] >= 0 {
			return float64(r.GrainErr[f])
		}
	}
	return none
}

// above0 is a ratio, NaN where it is none.
func above0(x float64) float64 {
	if x > 0 && !math.IsInf(x, 0) {
		return x
	}
	return math.NaN()
}

// bad tells how far a value is from what is wished, 0 and more; ratios count by their logarithm.
func (f Field) bad(x float64) float64 {
	switch f.Of {
	case OfArea, OfDensity:
		return math.Abs(math.Log(x))
	case OfStretch:
		return math.Log(max(1, x))
	}
	return math.Abs(x)
}
