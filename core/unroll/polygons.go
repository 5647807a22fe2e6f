package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// flatPair is the bend up to which two triangles may be the halves of one quad.
const flatPair = 20 * math.Pi / 180

// Polygons returns the faces of a patch as vertex lists. Triangles that share their
// longest side, and make a quad with four like corners, are put together: a triangulated
// strip of quads has the loops of the quads.
func Polygons(p *mesh.Patch) [][]int32 {
	var out [][]int32
	faceOf := p.CornerFaces()
	n := len(p.Faces)
	size := func(f int32) int32 { return p.FaceStart[f+1] - p.FaceStart[f] }
	longest := make([]int32, n) // corner whose side is the longest of a triangle
	for f := range int32(n) {
		longest[f] = mesh.None
		if size(f) != 3 {
			continue
		}
		best := 0.0
		for c := p.FaceStart[f]; c < p.FaceStart[f+1]; c++ {
			a, b := p.Ends(c)
			if l := r3.Norm(r3.Sub(p.Pos[b], p.Pos[a])); l > best*(1+1e-9) {
				best, longest[f] = l, c
			}
		}
	}
	taken := make([]bool, n)
	normals := p.Mesh.FaceNormals()
	for f := range int32(n) {
		if taken[f] {
			continue
		}
		if c := longest[f]; c != mesh.None {
			if o := p.Across(c); o != mesh.None && longest[faceOf[o]] == o && !taken[faceOf[o]] &&
				mesh.Angle(normals[p.Faces[f]], normals[p.Faces[faceOf[o]]]) < flatPair {
				a, b := p.Ends(c)
				q := []int32{a, p.CornerVert[p.PrevCorner(o)], b, p.CornerVert[p.PrevCorner(c)]}
				if rectangular(p, q) {
					taken[f], taken[faceOf[o]] = true, true
					out = append(out, q)
					continue
				}
			}
		}
		taken[f] = true
		out = append(out, p.CornerVert[p.FaceStart[f]:p.FaceStart[f+1]])
	}
	return out
}

// rectangular tells whether the corners of a quad are all nearer to a right angle than
// to a flat or a sharp one.
func rectangular(p *mesh.Patch, q []int32) bool {
	for k := range q {
		a := mesh.Angle(r3.Sub(p.Pos[q[(k+1)%4]], p.Pos[q[k]]), r3.Sub(p.Pos[q[(k+3)%4]], p.Pos[q[k]]))
		if a < math.Pi/4 || a > 3*math.Pi/4 {
			return false
		}
	}
	return true
}
