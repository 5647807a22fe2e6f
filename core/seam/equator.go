package seam

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// ballCurvature is the whole curvature from which a ball is better laid in two halves: that
// of two thirds of a sphere.
const ballCurvature = 8 * math.Pi / 3

// What is looked at for a way round a ball: so many edges in all, planes at some heights over
// its middle, as shares of the radius, and ways no longer than so many times the circle; and
// how dear a way is whose darts will zigzag, and one that does so itself.
const (
	equatorEdges = 4_000_000
	equatorLong  = 1.2
	aslantPrice  = 4
	crookedPrice = 8
)

var equatorHeights = [...]float64{0, 0.04, -0.04, 0.12, -0.12}

// Equator returns the edges that part most of a ball in two halves along the least costly way
// round it that is nearly a circle, nil for what is less than two thirds of a sphere or has
// no such way.
func Equator(p *mesh.Patch, fit shape.Fit, cost Cost) []mesh.EdgeID {
	if fit.Kind != shape.Sphere || p.Curvature() < ballCurvature {
		return nil
	}
	centres := make([]r3.Vec, len(p.Faces))
	for i, f := range p.Faces {
		centres[i] = r3.Sub(p.Mesh.FaceCentre(f), fit.Origin)
	}
	type inner struct {
		a, b int32
		edge mesh.EdgeID
		long float64
		dir  r3.Vec
		at   r3.Vec // its middle, from that of the ball
	}
	var edges []inner
	faceOf := p.CornerFaces()
	for c := range p.Corner {
		if o := p.Across(int32(c)); o != mesh.None && o > int32(c) {
			e := p.Mesh.Edge(p.Corner[c])
			s, t := p.Ends(int32(c))
			d := r3.Sub(p.Pos[t], p.Pos[s])
			edges = append(edges, inner{faceOf[c], faceOf[o], e, r3.Norm(d), d, r3.Sub(r3.Add(p.Pos[s], r3.Scale(0.5, d)), fit.Origin)})
		}
	}
	type circle struct {
		way           []mesh.EdgeID
		price, aslant float64
	}
	var circles []circle
	height := make([]float64, len(centres)) // of each face, along the axis
	for _, n := range poles(p, fit, equatorEdges/(len(equatorHeights)*max(1, len(edges)))) {
		// Edges that run neither round this axis nor towards it: the darts of the halves will
		// have to zigzag.
		var aslant, all float64
		for _, e := range edges {
			round := r3.Cross(n, e.at)
			aslant += min(math.Abs(r3.Dot(e.dir, n)), math.Abs(r3.Dot(e.dir, round))/max(r3.Norm(round), 1e-300))
			all += e.long
		}
		for f, c := range centres {
			height[f] = r3.Dot(c, n)
		}
		for _, h := range equatorHeights {
			above := func(f int32) bool { return height[f] > h*fit.Radius }
			var way []mesh.EdgeID
			long, round, price := 0.0, 0.0, 0.0
			most := equatorLong * 2 * math.Pi * fit.Radius
			for _, e := range edges {
				if above(e.a) != above(e.b) {
					way = append(way, e.edge)
					long += e.long
					if r := r3.Cross(n, e.at); r != (r3.Vec{}) {
						round += math.Abs(r3.Dot(e.dir, r)) / r3.Norm(r)
					}
					price += e.long * (0.3 + cost(e.edge))
				}
			}
			if len(way) == 0 || long > most {
				continue
			}
			// How far from a circle counts twice, so that rings win.
			price *= max(1, long/(2*math.Pi*fit.Radius)) * (1 + crookedPrice*(long/max(round, 1e-9*long)-1))
			circles = append(circles, circle{way, price, aslant / all})
		}
	}
	straightest := math.Inf(1)
	for _, c := range circles {
		straightest = min(straightest, c.aslant)
	}
	best, least := []mesh.EdgeID(nil), math.Inf(1)
	for _, c := range circles {
		// The diagonals of triangles run aslant whatever the pole: what counts is the difference.
		if price := c.price * (1 + aslantPrice*(c.aslant-straightest)/(straightest+0.1)); price < least-1e-9 {
			best, least = c.way, price
		}
	}
	if best != nil {
		own := ids.Set(best)
		if len(p.Mesh.Connected(p.Faces, func(e mesh.EdgeID) bool { return own[e] })) != 2 {
			return nil // islands on either side
		}
	}
	return best
}

// poles are directions from the middle of a ball about which a way round it is sought: the
// axes, the middle of what is open, and corners, those with most faces first.
func poles(p *mesh.Patch, fit shape.Fit, most int) []r3.Vec {
	out := []r3.Vec{{X: 1}, {Y: 1}, {Z: 1}}
	var open r3.Vec
	for _, loop := range p.Borders() {
		for _, c := range loop {
			s, _ := p.Ends(c)
			open = r3.Add(open, r3.Sub(p.Pos[s], fit.Origin))
		}
	}
	if r3.Norm(open) > 1e-9*fit.Radius {
		out = append(out, r3.Unit(open))
	}
	valence := make([]int, len(p.Pos))
	for _, v := range p.CornerVert {
		valence[v]++
	}
	order := make([]int32, len(p.Pos))
	for v := range order {
		order[v] = int32(v)
	}
	slices.SortStableFunc(order, func(a, b int32) int { return valence[b] - valence[a] })
	step := max(1, len(order)/max(1, most))
	for k := 0; k < len(order) && len(out) < most; k++ {
		if k >= 8 && k%step != 0 { // the few with most faces are poles of rings
			continue
		}
		if d := r3.Sub(p.Pos[order[k]], fit.Origin); r3.Norm(d) > 0 {
			out = append(out, r3.Unit(d))
		}
	}
	return out
}
