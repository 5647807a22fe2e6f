package proof

import (
	"cmp"
	"math"
	"slices"

	"morvek/core/mesh"
)

// Worst is a place where a field is far from what is wished: faces of one shell that hang together.
type Worst struct {
	Value float64 // the worst of it
	Faces []mesh.FaceID
}

// spread is how bad a face is at least, against the worst of its place, that belongs to it.
const spread = 0.5

// good is how bad a place must be to be told.
var good = map[Measured]float64{OfStretch: math.Log(1.005), OfArea: math.Log(1.01), OfDensity: math.Log(1.01), OfGrain: 0.5}

// Worst returns the n worst places of a field, the worst first; fewer where the rest is as wished.
// There are none of exposure, of which nothing is wished.
func (f Field) Worst(n int) (out []Worst) {
	least, ok := good[f.Of]
	if !ok {
		return nil
	}
	var order []mesh.FaceID
	bad := make([]float64, len(f.Values))
	for g, v := range f.Values {
		if bad[g] = f.bad(v); bad[g] >= least { // not of NaN
			order = append(order, mesh.FaceID(g))
		}
	}
	slices.SortStableFunc(order, func(a, b mesh.FaceID) int { return cmp.Compare(bad[b], bad[a]) })
	taken := make([]bool, len(bad))
	for _, seed := range order {
		if taken[seed] {
			continue
		}
		if len(out) == n {
			break
		}
		out = append(out, Worst{f.Values[seed], f.around(seed, bad, taken, max(least, spread*bad[seed]))})
	}
	return out
}

// around gathers what hangs together with a face in its shell and is at least so bad.
func (f Field) around(seed mesh.FaceID, bad []float64, taken []bool, least float64) []mesh.FaceID {
	taken[seed] = true
	out := []mesh.FaceID{seed}
	for k := 0; k < len(out); k++ {
		lo, hi := f.mesh.Corners(out[k])
		for h := lo; h < hi; h++ {
			t := f.mesh.Twin(h)
			if t == mesh.None {
				continue
			}
			if g := f.mesh.FaceOf(t); !taken[g] && f.shell[g] == f.shell[seed] && bad[g] >= least {
				taken[g] = true
				out = append(out, g)
			}
		}
	}
	return out
}
