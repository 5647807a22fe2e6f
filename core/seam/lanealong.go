package seam

import (
	"context"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// level returns a harmonic function of the faces of a patch, 0 at one end and 1 at the other,
// by finite volumes: on a straight band it grows along it, on a fan it is the angle. nil if
// it cannot be had.
func level(p *mesh.Patch, a, b []int32) []float64 {
	n := len(p.Faces)
	m := sparse.NewBuilder(n, 5*n)
	right := make([]float64, n)
	faceOf := p.CornerFaces()
	off := func(c int32) float64 { // of the centre of its face from the middle of its edge
		v, w := p.Ends(c)
		return r3.Norm(r3.Sub(p.Mesh.FaceCentre(p.Faces[faceOf[c]]), r3.Scale(0.5, r3.Add(p.Pos[v], p.Pos[w]))))
	}
	size := p.Mesh.Diagonal()
	tie := func(c int32, apart float64) float64 {
		return p.Mesh.EdgeLength(p.Mesh.Edge(p.Corner[c])) / max(apart, 1e-9*size)
	}
	for f := range n {
		m.Add(f, f, 1e-12) // what hangs on to nothing
	}
	for c := range p.Corner {
		if o := p.Across(int32(c)); o > int32(c) {
			f, g := int(faceOf[c]), int(faceOf[o])
			w := tie(int32(c), off(int32(c))+off(o))
			m.Add(f, f, w)
			m.Add(g, g, w)
			m.Add(f, g, -w)
		}
	}
	for k, rim := range [2][]int32{a, b} {
		for _, c := range rim {
			f, w := int(faceOf[c]), tie(c, off(c))
			m.Add(f, f, w)
			right[f] += float64(k) * w
		}
	}
	x, err := sparse.Solve(context.Background(), m.Build(), right)
	if err != nil {
		return nil
	}
	return x
}

// bins is into how many steps a level is divided to be measured.
const bins = 64

// inLength turns a level into lengths: where it grows evenly from end to end, lengths along
// the way do.
func inLength(t, length, area []float64) []float64 {
	var sum, weight [bins]float64
	bin := func(t float64) int { return min(bins-1, max(0, int(t*bins))) }
	for f, x := range t {
		k := bin(x)
		sum[k] += area[f] * length[f]
		weight[k] += area[f]
	}
	// A curve through the means of the steps that have any, never falling.
	var at, to []float64
	last := 0.0
	for k := range sum {
		if weight[k] > 0 {
			last = max(last, sum[k]/weight[k])
			at, to = append(at, (float64(k)+0.5)/bins), append(to, last)
		}
	}
	out := make([]float64, len(t))
	for f, x := range t {
		k := 0
		for k+2 < len(at) && at[k+1] < x {
			k++
		}
		if len(at) < 2 {
			out[f] = length[f]
			continue
		}
		share := (x - at[k]) / (at[k+1] - at[k])
		out[f] = to[k] + share*(to[k+1]-to[k])
	}
	return out
}
