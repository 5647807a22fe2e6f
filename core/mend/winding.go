package mend

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// winding finds the faces that are wound against the others of their piece: of closed pieces those
// that face inward, all of them perhaps, of open ones and of those that lie in others the smaller
// side by area.
func winding(m *mesh.Mesh, _ Options) plan {
	w := &wound{m: m, piece: make([]int32, m.NumFaces()), against: make([]bool, m.NumFaces())}
	w.neighbours()
	w.flood()
	var turned []mesh.FaceID
	for _, p := range w.pieces {
		turned = append(turned, w.toTurn(p)...)
	}
	slices.Sort(turned)
	return changing(m, turned, func(f mesh.FaceID) []mesh.Recut {
		r := m.Whole(f)
		slices.Reverse(r.Corners[1:]) // the first corner stays the first
		return []mesh.Recut{r}
	})
}

// wound is who is a neighbour of whom, however they are wound.
type wound struct {
	m       *mesh.Mesh
	other   []mesh.HalfedgeID // of each halfedge the one beside it, None where there is none or more than one
	piece   []int32
	against []bool // whether a face is wound against the first of its piece
	pieces  [][]mesh.FaceID
	closed  []bool
}

// neighbours pairs halfedges between the same places of the same object, where there are just two.
func (w *wound) neighbours() {
	m := w.m
	place := m.Places()
	type span struct {
		a, b   mesh.PointID
		object int32
		h      mesh.HalfedgeID
	}
	list := make([]span, m.NumCorners())
	for h := range list {
		h := mesh.HalfedgeID(h)
		a, b := place[m.From(h)], place[m.To(h)]
		list[h] = span{min(a, b), max(a, b), m.FaceObject[m.FaceOf(h)], h}
	}
	slices.SortFunc(list, func(x, y span) int {
		return cmp.Or(cmp.Compare(x.a, y.a), cmp.Compare(x.b, y.b), cmp.Compare(x.object, y.object), cmp.Compare(x.h, y.h))
	})
	w.other = make([]mesh.HalfedgeID, m.NumCorners())
	for i := 0; i < len(list); {
		j := i + 1
		for j < len(list) && list[j].a == list[i].a && list[j].b == list[i].b && list[j].object == list[i].object {
			j++
		}
		for k := i; k < j; k++ {
			w.other[list[k].h] = mesh.None
		}
		if j == i+2 && list[i].a != list[i].b {
			w.other[list[i].h], w.other[list[i+1].h] = list[i+1].h, list[i].h
		}
		i = j
	}
}

func (w *wound) flood() {
	m := w.m
	for f := range w.piece {
		w.piece[f] = mesh.None
	}
	place := m.Places()
	for f := range mesh.FaceID(m.NumFaces()) {
		if w.piece[f] != mesh.None {
			continue
		}
		k := int32(len(w.pieces))
		w.piece[f] = k
		list, closed := []mesh.FaceID{f}, true
		for at := 0; at < len(list); at++ {
			lo, hi := m.Corners(list[at])
			for h := lo; h < hi; h++ {
				o := w.other[h]
				if o == mesh.None {
					closed = false
					continue
				}
				g := m.FaceOf(o)
				if w.piece[g] != mesh.None {
					continue
				}
				w.piece[g] = k
				alike := place[m.From(h)] == place[m.From(o)] // run the same way, so one is wound against the other
				w.against[g] = w.against[list[at]] != alike
				list = append(list, g)
			}
		}
		w.pieces, w.closed = append(w.pieces, list), append(w.closed, closed)
	}
}

// toTurn are the faces of a piece that are to be turned over.
func (w *wound) toTurn(piece []mesh.FaceID) []mesh.FaceID {
	var with, against []mesh.FaceID
	var a, b float64
	for _, f := range piece {
		if area := w.m.FaceAreas()[f]; w.against[f] {
			against = append(against, f)
			b += area
		} else {
			with = append(with, f)
			a += area
		}
	}
	if w.closed[w.piece[piece[0]]] && !w.within(piece) { // what lies in another may be a thing or a hollow
		v := w.volume(with) - w.volume(against) // as if all were wound like the first
		switch least := 1e-12 * math.Pow(w.m.Diagonal(), 3); {
		case v < -least:
			return with
		case v > least:
			return against
		}
	}
	if b > a {
		return with
	}
	return against
}

// volume is that between faces and the origin of the box, signed.
func (w *wound) volume(faces []mesh.FaceID) (v float64) {
	o, _ := w.m.Bounds()
	tris := w.m.Triangles()
	for _, f := range faces {
		for _, t := range tris.Corner[tris.FaceStart[f]:tris.FaceStart[f+1]] {
			var p [3]r3.Vec
			for k, h := range t {
				p[k] = r3.Sub(w.m.Points[w.m.From(h)], o)
			}
			v += r3.Dot(p[0], r3.Cross(p[1], p[2])) / 6
		}
	}
	return v
}

// mostHits bounds how often a ray is followed on.
const mostHits = 2000

// within tells whether a closed piece lies inside others that are closed: a ray from it leaves an
// odd number of times more than it enters.
func (w *wound) within(piece []mesh.FaceID) bool {
	m := w.m
	from := m.Points[m.FacePoints(piece[0])[0]]
	dir := r3.Unit(r3.Vec{X: 0.5717, Y: 0.2113, Z: 0.7927})
	eps := 1e-9 * m.Diagonal()
	at, inside := eps, false
	for range mostHits {
		f, t, ok := m.BVH().Hit(from, dir, at)
		if !ok {
			break
		}
		if k := w.piece[f]; k != w.piece[piece[0]] && w.closed[k] {
			inside = !inside
		}
		at = t + eps
	}
	return inside
}
