package bake

import (
	"image"
	"image/color"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Normals is where the surface faces, in model space: red, green and blue are x, y and z, 0 to 255
// from -1 to 1. Normals of the file are taken where it has some; others are smooth over edges that
// bend less than a crease.
func (r *Raster) Normals(creaseDeg float64) *image.NRGBA {
	at := cornerNormals(r.in.Mesh, creaseDeg)
	byte := func(v float64) uint8 { return uint8(math.Round(127.5 + 127.5*max(-1, min(1, v)))) }
	return r.Picture(func(t [3]mesh.HalfedgeID, w [3]float64) color.NRGBA {
		n := unit(r3.Add(r3.Scale(w[0], at[t[0]]), r3.Add(r3.Scale(w[1], at[t[1]]), r3.Scale(w[2], at[t[2]]))))
		return color.NRGBA{byte(n.X), byte(n.Y), byte(n.Z), 255}
	})
}

// Exposure is how open the surface lies, white open and black hidden, from the value of each face, 0
// to 1; smooth over edges that bend less than a crease.
func (r *Raster) Exposure(of []float32, creaseDeg float64) *image.NRGBA {
	m := r.in.Mesh
	area := m.FaceAreas()
	at := make([]float64, m.NumCorners())
	fans(m, creaseDeg, func(corners []mesh.HalfedgeID) {
		sum, all := 0.0, 0.0
		for _, h := range corners {
			f := m.FaceOf(h)
			sum, all = sum+area[f]*float64(of[f]), all+area[f]
		}
		for _, h := range corners {
			if at[h] = float64(of[m.FaceOf(h)]); all > 0 {
				at[h] = sum / all
			}
		}
	})
	return r.Picture(func(t [3]mesh.HalfedgeID, w [3]float64) color.NRGBA {
		v := uint8(math.Round(255 * max(0, min(1, w[0]*at[t[0]]+w[1]*at[t[1]]+w[2]*at[t[2]]))))
		return color.NRGBA{v, v, v, 255}
	})
}

// cornerNormals are those of the file, or of the faces around a corner up to the next crease, by the
// angle they have there (Thürmer and Wüthrich 1998).
func cornerNormals(m *mesh.Mesh, creaseDeg float64) []r3.Vec {
	faces := m.FaceNormals()
	out := make([]r3.Vec, m.NumCorners())
	fans(m, creaseDeg, func(corners []mesh.HalfedgeID) {
		var sum r3.Vec
		for _, h := range corners {
			sum = r3.Add(sum, r3.Scale(angle(m, h), faces[m.FaceOf(h)]))
		}
		sum = unit(sum)
		for _, h := range corners {
			if out[h] = sum; sum == (r3.Vec{}) {
				out[h] = faces[m.FaceOf(h)]
			}
		}
	})
	for h := range out {
		if m.CornerNormal != nil && m.CornerNormal[h] != mesh.None {
			if n := unit(m.Normals[m.CornerNormal[h]]); n != (r3.Vec{}) {
				out[h] = n
			}
		}
	}
	return out
}

// fans calls do for the corners around each point that hang together over edges that bend less than
// a crease. Each corner is in one fan.
func fans(m *mesh.Mesh, creaseDeg float64, do func(corners []mesh.HalfedgeID)) {
	crease := creaseDeg * math.Pi / 180
	smooth := func(h mesh.HalfedgeID) bool { // over the edge that begins at a corner
		return m.Twin(h) != mesh.None && math.Abs(m.Dihedral(m.Edge(h))) <= crease
	}
	seen := make([]bool, m.NumCorners())
	var fan []mesh.HalfedgeID
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		if seen[h] {
			continue
		}
		first := h
		for smooth(first) { // back over the outgoing edge to where the fan begins
			next := m.Next(m.Twin(first))
			if next == h || seen[next] {
				break
			}
			first = next
		}
		fan = fan[:0]
		for c := first; !seen[c]; {
			seen[c] = true
			fan = append(fan, c)
			in := m.Prev(c) // ends at the corner
			if !smooth(in) {
				break
			}
			c = m.Twin(in)
		}
		do(fan)
	}
}

// angle is that of a face at a corner, in radians.
func angle(m *mesh.Mesh, h mesh.HalfedgeID) float64 {
	p := m.Points[m.From(h)]
	a, b := r3.Sub(m.Points[m.To(h)], p), r3.Sub(m.Points[m.From(m.Prev(h))], p)
	return math.Atan2(r3.Norm(r3.Cross(a, b)), r3.Dot(a, b))
}

func unit(v r3.Vec) r3.Vec {
	if n := r3.Norm(v); n > 0 {
		return r3.Scale(1/n, v)
	}
	return r3.Vec{}
}
