package mend

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// left is which corners stay of faces that lose some when what stands in the way of connection
// goes, and which faces lose corners or go, since they repeat them or lie on others.
func left(m *mesh.Mesh) (stays map[mesh.FaceID][]mesh.HalfedgeID, folded, doubled []mesh.FaceID) {
	r := mesh.Reduce(m)
	stays = map[mesh.FaceID][]mesh.HalfedgeID{}
	for i, f := range r.Face {
		lo, hi := m.Corners(f)
		a, b := r.Mesh.Corners(mesh.FaceID(i))
		if b-a == hi-lo {
			continue
		}
		next := a // corners that stay follow each other there as they do here
		for h := lo; h < hi && next < b; h++ {
			if r.From[h] == next {
				stays[f] = append(stays[f], h)
				next++
			}
		}
		folded = append(folded, f)
	}
	for _, a := range r.Health(m) {
		switch a.Kind {
		case "folded":
			folded = append(folded, a.Faces...)
		case "doubled":
			doubled = a.Faces
		}
	}
	slices.Sort(folded)
	return stays, folded, doubled
}

func folded(m *mesh.Mesh, _ Options) plan {
	stays, some, _ := left(m)
	return changing(m, some, func(f mesh.FaceID) []mesh.Recut {
		if c := stays[f]; len(c) >= 3 {
			return []mesh.Recut{{Of: f, Corners: c}}
		}
		return nil
	})
}

func doubled(m *mesh.Mesh, _ Options) plan {
	_, _, gone := left(m)
	return without(m, gone)
}

// sliver is the share of the whole area below which a piece is next to nothing.
const sliver = 1e-9

// slivers are pieces of next to no area.
func slivers(m *mesh.Mesh, _ Options) plan {
	piece, n := m.Components()
	area := make([]float64, n)
	all := 0.
	for f, a := range m.FaceAreas() {
		area[piece[f]] += a
		all += a
	}
	var gone []mesh.FaceID
	for f, p := range piece {
		if area[p] <= sliver*all {
			gone = append(gone, mesh.FaceID(f))
		}
	}
	return without(m, gone)
}

// How far a corner of a polygon may lie from its plane, as a share of its size, and still be flat.
const notFlat = 0.02

// flat are polygons that are not flat or cross themselves.
func flat(m *mesh.Mesh, _ Options) plan {
	var bent []mesh.FaceID
	for f := range mesh.FaceID(m.NumFaces()) {
		if pts := m.FacePoints(f); len(pts) > 4 && (offPlane(m, f) > notFlat || crossed(m.Flatten(f))) || len(pts) == 4 && crossed(m.Flatten(f)) {
			bent = append(bent, f)
		}
	}
	tris := m.Triangles()
	return changing(m, bent, func(f mesh.FaceID) (list []mesh.Recut) {
		for _, t := range tris.Corner[tris.FaceStart[f]:tris.FaceStart[f+1]] {
			list = append(list, mesh.Recut{Of: f, Corners: t[:]})
		}
		return list
	})
}

// offPlane is how far corners of a face lie from its plane through their middle, as a share of
// its size.
func offPlane(m *mesh.Mesh, f mesh.FaceID) float64 {
	n := m.FaceNormals()[f]
	var mid r3.Vec
	pts := m.FacePoints(f)
	for _, p := range pts {
		mid = r3.Add(mid, r3.Scale(1/float64(len(pts)), m.Points[p]))
	}
	var off, size float64
	for _, p := range pts {
		d := r3.Sub(m.Points[p], mid)
		off, size = max(off, math.Abs(r3.Dot(d, n))), max(size, r3.Norm(d))
	}
	if size == 0 {
		return 0
	}
	return off / size
}

// mostCompared bounds the polygons whose sides are compared in pairs.
const mostCompared = 400

// crossed tells whether two sides of a polygon cross.
func crossed(p []r2.Vec) bool {
	n := len(p)
	if n > mostCompared {
		return false
	}
	side := func(a, b, c r2.Vec) float64 { return r2.Cross(r2.Sub(b, a), r2.Sub(c, a)) }
	for i := range n {
		a, b := p[i], p[(i+1)%n]
		for j := i + 2; j < n; j++ {
			if i == 0 && j == n-1 {
				continue
			}
			c, d := p[j], p[(j+1)%n]
			if side(a, b, c)*side(a, b, d) < 0 && side(c, d, a)*side(c, d, b) < 0 {
				return true
			}
		}
	}
	return false
}
