package seam

import (
	"container/heap"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Divide returns the edges that part a connected patch in two pieces of similar
// reach: each face goes to the nearer of two faces far from each other, by
// distance over the surface. For shells that cannot lie flat in one piece.
func Divide(p *mesh.Patch) []mesh.EdgeID {
	if len(p.Faces) < 2 {
		return nil
	}
	a := furthest(p, reach(p, 0))
	da := reach(p, a)
	b := furthest(p, da)
	db := reach(p, b)
	faceOf := p.CornerFaces()
	side := func(f int32) bool { return da[f] <= db[f] }
	var out []mesh.EdgeID
	for c := range p.Corner {
		if o := p.Across(int32(c)); o != mesh.None && o > int32(c) && side(faceOf[c]) != side(faceOf[o]) {
			out = append(out, p.Mesh.Edge(p.Corner[c]))
		}
	}
	return out
}

// reach returns the distance over the faces, centre to centre, from one face.
func reach(p *mesh.Patch, from int) []float64 {
	const far = 1e300
	d := make([]float64, len(p.Faces))
	for i := range d {
		d[i] = far
	}
	faceOf := p.CornerFaces()
	centre := make([]r3.Vec, len(p.Faces))
	for f, id := range p.Faces {
		centre[f] = p.Mesh.FaceCentre(id)
	}
	d[from] = 0
	step := 1e-6 * math.Sqrt(p.Area()/float64(len(p.Faces))) // faces may have one centre and still be apart
	q := &ways{{int32(from), 0}}
	for q.Len() > 0 {
		w := heap.Pop(q).(way)
		if w.cost > d[w.vert] {
			continue
		}
		for c := p.FaceStart[w.vert]; c < p.FaceStart[w.vert+1]; c++ {
			o := p.Across(c)
			if o == mesh.None {
				continue
			}
			g := faceOf[o]
			if nd := w.cost + step + r3.Norm(r3.Sub(centre[g], centre[w.vert])); nd < d[g] {
				d[g] = nd
				heap.Push(q, way{g, nd})
			}
		}
	}
	return d
}

func furthest(p *mesh.Patch, d []float64) int {
	best := 0
	for f := range p.Faces {
		if d[f] > d[best]*(1+1e-9) {
			best = f
		}
	}
	return best
}
