package unroll

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// Ring lays a band of quads, or of triangles that are their halves, that went all round something before it was
// opened along one of its rulings, as a rectangle, straight along its loops: the bead of a can, the rim of a case, a
// wire. What is wide keeps its lengths, and bevels beside it give way. ok is false for anything else.
func Ring(p *mesh.Patch) (uv []r2.Vec, ok bool) {
	first := make(map[mesh.PointID]int, len(p.Pos))
	var seam [][2]int // vertices that were one before
	for v, q := range p.VertPoint {
		if o, met := first[q]; met {
			seam = append(seam, [2]int{o, v})
		} else {
			first[q] = v
		}
	}
	if len(seam) == 0 {
		return nil, false
	}
	if uv, ok = gridBy(p, Polygons(p), func(across float64) float64 { return across * across * across * across }); !ok || flatten.Flips(p, uv) > 0 {
		return nil, false
	}
	box := planar.Bounds(uv...)
	onU, onV := 0, 0 // how many lie opposite each other on two sides of the rectangle
	for _, s := range seam {
		a, b := uv[s[0]], uv[s[1]]
		if a.Y == b.Y && min(a.X, b.X) == box.Min.X && max(a.X, b.X) == box.Max.X {
			onU++
		}
		if a.X == b.X && min(a.Y, b.Y) == box.Min.Y && max(a.Y, b.Y) == box.Max.Y {
			onV++
		}
	}
	return uv, len(seam) == max(onU, onV)
}

// ringStretch is the angular stretch up to which a band is rather laid straight than cut at its corners.
const ringStretch = 1.1

// Straightens returns the ruling along which a band that goes all round is opened so that it lies straight
// as a ring without stretching too much; nil if there is none.
func Straightens(p *mesh.Patch) []mesh.EdgeID {
	borders := p.Borders()
	if p.Euler() != 0 || len(borders) != 2 {
		return nil
	}
	type side struct{ a, b int32 }
	type place struct{ quad, side int }
	quads, at, edge := Polygons(p), map[side]place{}, map[side]mesh.EdgeID{}
	for c, h := range p.Corner {
		a, b := p.Ends(int32(c))
		edge[side{a, b}] = p.Mesh.Edge(h)
	}
	for n, q := range quads {
		for k := range q {
			at[side{q[k], q[(k+1)%len(q)]}] = place{n, k}
		}
	}
	a, b := p.Ends(borders[0][0])
	var chain []mesh.EdgeID
	for here, ok := at[side{a, b}]; ok && len(chain) <= len(quads); {
		q := quads[here.quad]
		if len(q) != 4 {
			return nil
		}
		c, d := q[(here.side+2)%4], q[(here.side+3)%4]
		chain = append(chain, edge[side{q[(here.side+1)%4], c}])
		here, ok = at[side{d, c}]
	}
	open := mesh.NewPatch(p.Mesh, p.Faces, mesh.AlsoCut(func(e mesh.EdgeID) bool { return false }, chain))
	uv, ok := Ring(open)
	if !ok {
		return nil
	}
	if _, angular := open.Stretch(uv); angular > ringStretch {
		return nil
	}
	return chain
}
