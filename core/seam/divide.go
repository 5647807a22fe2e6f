package seam

import (
	"container/heap"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Divide returns the edges that part a connected patch in two pieces of similar reach, for
// shells that cannot lie flat in one piece: of all ways between two ends far from each
// other the shortest, creases counting less, by a minimal cut (Ford & Fulkerson 1956) of the
// faces around the middle.
func Divide(p *mesh.Patch) []mesh.EdgeID {
	if len(p.Faces) < 2 {
		return nil
	}
	a := furthest(p, reach(p, 0))
	da := reach(p, a)
	b := furthest(p, da)
	db := reach(p, b)
	faceOf := p.CornerFaces()
	long := da[b]
	side := make([]int8, len(p.Faces)) // which end a face is of for certain
	for f := range side {
		switch off := da[f] - db[f]; {
		case f == a || off < -2*middleShare*long:
			side[f] = -1
		case f == b || off > 2*middleShare*long:
			side[f] = 1
		}
	}
	free := make([]float64, len(p.Corner)) // what still fits through, from the face of a corner across its edge
	for c := range p.Corner {
		if p.Across(int32(c)) != mesh.None {
			e := p.Mesh.Edge(p.Corner[c])
			f, g := faceOf[c], faceOf[p.Across(int32(c))]
			off := (da[f] - db[f] + da[g] - db[g]) / long // -2 at one end, 2 at the other
			free[c] = p.Mesh.EdgeLength(e) * foldShare(p.Mesh.Dihedral(e)) * (1 + off*off)
		}
	}
	came := make([]int32, len(p.Faces)) // the corner a face was reached across
	for {
		end := fill(p, faceOf, side, free, came)
		if end < 0 {
			break
		}
		least := math.Inf(1)
		for f := end; came[f] >= 0; f = faceOf[came[f]] {
			least = min(least, free[came[f]])
		}
		for f := end; came[f] >= 0; f = faceOf[came[f]] {
			free[came[f]] -= least
			free[p.Across(came[f])] += least
		}
	}
	var out []mesh.EdgeID
	for c := range p.Corner {
		if o := p.Across(int32(c)); o != mesh.None && o > int32(c) && (came[faceOf[c]] == unseen) != (came[faceOf[o]] == unseen) {
			out = append(out, p.Mesh.Edge(p.Corner[c]))
		}
	}
	return out
}

// middleShare is how far from the middle of a patch a cut may lie, as a share of its length;
// there it costs three times as much.
const middleShare = 0.35

// foldShare is what an edge counts for in a cut, by its bend: creases hide a seam.
func foldShare(bend float64) float64 {
	switch {
	case bend < -0.5:
		return 0.3
	case bend > 0.5:
		return 0.6
	}
	return 1
}

// fill goes from the faces of one end wherever something still fits through and returns a
// face of the other end if it gets there, else -1. came is the corner each face was reached
// across, -1 at the start.
func fill(p *mesh.Patch, faceOf []int32, side []int8, free []float64, came []int32) int32 {
	var queue []int32
	for f := range came {
		came[f] = unseen
		if side[f] < 0 {
			came[f] = -1
			queue = append(queue, int32(f))
		}
	}
	for k := 0; k < len(queue); k++ {
		f := queue[k]
		for c := p.FaceStart[f]; c < p.FaceStart[f+1]; c++ {
			o := p.Across(c)
			if o == mesh.None || !(free[c] > 1e-12*free[o]) {
				continue
			}
			g := faceOf[o]
			if came[g] != unseen {
				continue
			}
			came[g] = c
			if side[g] > 0 {
				return g
			}
			queue = append(queue, g)
		}
	}
	return -1
}

// unseen marks faces that were not reached.
const unseen = -2

// reach returns the distance over the faces, centre to centre, from one face.
func reach(p *mesh.Patch, from int) []float64 { return reachFrom(p, []way{{int32(from), 0}}) }

// reachFrom starts at several faces, each with a distance of its own.
func reachFrom(p *mesh.Patch, from []way) []float64 {
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
	step := 1e-6 * math.Sqrt(p.Area()/float64(len(p.Faces))) // faces may have one centre and still be apart
	q := &ways{}
	for _, w := range from {
		if w.cost < d[w.at] {
			d[w.at] = w.cost
			heap.Push(q, w)
		}
	}
	for q.Len() > 0 {
		w := heap.Pop(q).(way)
		if w.cost > d[w.at] {
			continue
		}
		for c := p.FaceStart[w.at]; c < p.FaceStart[w.at+1]; c++ {
			o := p.Across(c)
			if o == mesh.None {
				continue
			}
			g := faceOf[o]
			if nd := w.cost + step + r3.Norm(r3.Sub(centre[g], centre[w.at])); nd < d[g] {
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
