package meshtest

import (
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Scattered is a sheet of triangles in no rows over a function of two parameters in 0 to 1, as meshers of solids make
// them: about n × rows points, each but those on the rim off its place by up to a quarter of the way to the next.
// Points that coincide are one.
func Scattered(t testing.TB, n, rows int, at func(u, v float64) r3.Vec) *mesh.Mesh {
	t.Helper()
	random := rand.New(rand.NewPCG(1, uint64(n)<<32|uint64(rows)))
	off := func() float64 { return (random.Float64() - 0.5) / 2 }
	b := NewWelder()
	type point struct {
		u  float64
		id mesh.PointID
	}
	row := func(r int) (out []point) {
		add := func(u, v float64) { out = append(out, point{u, b.Point(at(u, v))}) }
		v := float64(r) / float64(rows)
		add(0, v)
		for i := range n {
			u := float64(i)/float64(n) + 0.5*float64(r%2)/float64(n)
			switch {
			case u == 0: // there is one already
			case r > 0 && r < rows:
				add(u+off()/float64(n), v+off()/float64(rows))
			default:
				add(u, v)
			}
		}
		add(1, v)
		return out
	}
	low := row(0)
	for r := range rows {
		high := row(r + 1)
		for i, j := 0, 0; i+1 < len(low) || j+1 < len(high); {
			if j+1 == len(high) || i+1 < len(low) && low[i+1].u < high[j+1].u {
				b.Face(low[i].id, low[i+1].id, high[j].id)
				i++
			} else {
				b.Face(low[i].id, high[j+1].id, high[j].id)
				j++
			}
		}
		low = high
	}
	return b.Mesh(t)
}
