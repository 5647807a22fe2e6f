package seam

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/shape"
)

// Lane is a shell laid flat with the way along it: straight where it fills its box, along
// its bend where it is a curved band.
type Lane struct {
	Length float64 // model units
	Width  float64 // in the mean

	patch *mesh.Patch
	uv    []r2.Vec
	grain []float64     // wished direction of each face on the sheet, radians, NaN for none
	bends bool          // it is measured along its bend
	start []mesh.EdgeID // where a ring is open; nil for what has ends
	costs *[slots][slots + 1]float64
	empty [slots]bool // slots without a face
	along []float64   // of each face, 0 at one end
	side  []int8      // of each vertex: 0 inside, left or right on the rim, hole on the rim of a hole
	hole  []int32     // which hole, per vertex
}

const (
	left  = 1
	right = 2
	hole  = 3
)

// bandFill is the share of its box below which a shell is a curved band.
const bandFill = 0.55

// NewLane measures a shell; uv is its map at true scale, grain the direction on the sheet
// that each face wishes, in radians, NaN for none, and nil where no face does. It is nil for
// what closes on itself.
func NewLane(p *mesh.Patch, uv []r2.Vec, grain []float64) *Lane {
	l := &Lane{patch: p, uv: uv, grain: grain, side: make([]int8, len(p.Pos)), hole: make([]int32, len(p.Pos))}
	borders := p.Borders()
	if len(borders) == 0 || len(p.Faces) < 2 {
		return nil
	}
	size := planar.Bounds(uv...).Size()
	area := p.Area()
	if area >= bandFill*size.X*size.Y && !l.turns() {
		l.straight(size.Y > size.X)
	} else if ring := l.opened(borders); ring != nil {
		return ring
	} else {
		l.bent(borders)
	}
	return l.measured(borders)
}

// measured tells width and sides of a lane whose length is known.
func (l *Lane) measured(borders [][]int32) *Lane {
	l.Width = l.patch.Area() / math.Max(l.Length, 1e-300)
	l.sides(borders)
	return l
}

// straight measures along an axis of the sheet.
func (l *Lane) straight(onV bool) {
	at := func(v int32) float64 {
		if onV {
			return l.uv[v].Y
		}
		return l.uv[v].X
	}
	lo, hi := math.Inf(1), math.Inf(-1)
	for v := range l.uv {
		lo, hi = min(lo, at(int32(v))), max(hi, at(int32(v)))
	}
	l.Length = hi - lo
	l.along = make([]float64, len(l.patch.Faces))
	for f := range l.patch.Faces {
		a, b := l.patch.FaceStart[f], l.patch.FaceStart[f+1]
		for _, v := range l.patch.CornerVert[a:b] {
			l.along[f] += (at(v) - lo) / float64(b-a)
		}
	}
}

// bent measures along the surface, between its two ends or, if it has none, the two faces
// that are furthest apart.
func (l *Lane) bent(borders [][]int32) {
	l.bends = true
	p := l.patch
	var da, db, between []float64
	if a, b := ends(p, borders); a != nil {
		da, db = fromRim(p, a), fromRim(p, b)
		between = level(p, a, b)
	} else {
		a := furthest(p, reach(p, 0))
		da = reach(p, a)
		db = reach(p, furthest(p, da))
	}
	areas := make([]float64, len(da))
	for f := range da {
		areas[f] = l.area(f)
		l.Length += (da[f] + db[f]) * areas[f]
	}
	rim := 0.0
	for _, loop := range borders {
		rim = max(rim, rimLength(p, loop))
	}
	l.Length = min(l.Length/p.Area(), rim/2) // from centre to centre of long triangles is no straight way
	l.along = make([]float64, len(da))
	for f := range da {
		l.along[f] = l.Length * da[f] / max(da[f]+db[f], 1e-300)
	}
	if between != nil {
		l.along = inLength(between, l.along, areas)
	}
}

// sides tells the two long sides of the rim apart, and the holes.
func (l *Lane) sides(borders [][]int32) {
	outer, most := 0, -1.0
	for i, loop := range borders {
		var a float64
		for _, c := range loop {
			s, t := l.patch.Ends(c)
			a += r2.Cross(l.uv[s], l.uv[t])
		}
		if math.Abs(a) > most {
			outer, most = i, math.Abs(a)
		}
	}
	faceOf := l.patch.CornerFaces()
	for i, loop := range borders {
		if i != outer {
			for _, c := range loop {
				v := l.patch.CornerVert[c]
				l.side[v], l.hole[v] = hole, int32(i+1)
			}
			continue
		}
		first, last := 0, 0
		for k, c := range loop {
			switch t := l.along[faceOf[c]]; {
			case t < l.along[faceOf[loop[first]]]:
				first = k
			case t > l.along[faceOf[loop[last]]]:
				last = k
			}
		}
		for k := range loop {
			v := l.patch.CornerVert[loop[(first+k)%len(loop)]]
			l.side[v] = left
			if k >= (last-first+len(loop))%len(loop) {
				l.side[v] = right
			}
		}
	}
}

// Divide returns the edges that part a lane in n pieces, one list for each cut: the
// straightest ways across near the places that suit it, among these the least costly. The
// pieces are about equally long but where it bends. A cut that would have to zigzag is left
// out.
func (l *Lane) Divide(n int, cost Cost) (cuts [][]mesh.EdgeID) {
	for _, at := range l.places(n) {
		if at == 0 {
			cuts = append(cuts, l.start)
			continue
		}
		if cut := l.near(at, l.Length/float64(n), cost); cut != nil {
			cuts = append(cuts, cut)
		}
	}
	return cuts
}

// near is the best cut across near a place, nil for none; pieces are about so long. What is
// very long is better parted by a crooked cut than not at all.
func (l *Lane) near(at, piece float64, cost Cost) []mesh.EdgeID {
	turns := []float64{mostTurn}
	if l.Length > veryLong*l.Width {
		turns = append(turns, crookedTurn)
	}
	if l.Length > longest*l.Width {
		turns = append(turns, stepTurn)
	}
	for _, turn := range turns {
		var best []mesh.EdgeID
		for _, share := range []float64{0.12, 0.35, 0.55} { // of the length of a piece
			if best != nil && (share > farthest || l.bend(best) > flatCut) {
				break
			}
			cut := l.across(at, share*piece, turn, cost)
			if cut != nil && l.patch.Mesh.Length(cut) < slantest*l.Width && (best == nil || l.bend(cut) > creaseCut) {
				best = cut
			}
		}
		if best != nil {
			return best
		}
	}
	return nil
}

// Rather than through a flat, a cut goes along a crease that is so much farther away, as a share of the length of
// a piece.
const (
	farthest  = 0.35
	flatCut   = 5 * math.Pi / 180
	creaseCut = 20 * math.Pi / 180
)

// bend is how far faces bend along a cut in the mean.
func (l *Lane) bend(cut []mesh.EdgeID) float64 {
	var sum, all float64
	for _, e := range cut {
		length := l.patch.Mesh.EdgeLength(e)
		sum, all = sum+length*math.Abs(l.patch.Mesh.Dihedral(e)), all+length
	}
	return sum / math.Max(all, 1e-300)
}

// slantest is how long a cut across may be, in widths of the lane: on long triangles there are
// edges from one side to the other that run along it.
const slantest = 3

// What a cut across costs beyond its length, in widths of the lane: turning by 45°, and
// lying at the end of the window that is searched.
const (
	turnCost = 0.6
	awayCost = 0.4
	mostTurn = 35 * math.Pi / 180

	// From so many widths on a lane may be cut crookedly, with turns up to this.
	veryLong    = 8
	crookedTurn = 65 * math.Pi / 180

	// From so many on, in steps along its loops too: where rulings of its rows do not meet, there is no other way.
	longest  = 24
	stepTurn = 100 * math.Pi / 180
)

// directed is an inner edge in one of its directions.
type directed struct {
	from, to int32
	edge     mesh.EdgeID
	cost     float64
	dir      r2.Vec
}

// across finds a cut from the left to the right near a place; turning has its price, holes
// are crossed for nothing.
func (l *Lane) across(at, window, most float64, cost Cost) (cut []mesh.EdgeID) {
	p := l.patch
	faceOf := p.CornerFaces()
	var edges []directed
	out := map[int32][]int32{} // directed edges from each vertex
	holes := map[int32][]int32{}
	add := func(d directed) {
		out[d.from] = append(out[d.from], int32(len(edges)))
		if l.side[d.from] == hole && len(out[d.from]) == 1 {
			holes[l.hole[d.from]] = append(holes[l.hole[d.from]], d.from)
		}
		edges = append(edges, d)
	}
	for c := range p.Corner {
		o := p.Across(int32(c))
		if o == mesh.None || o < int32(c) {
			continue
		}
		off := ((l.along[faceOf[c]]+l.along[faceOf[o]])/2 - at) / window
		if math.Abs(off) > 1 {
			continue
		}
		a, b := p.Ends(int32(c))
		e := p.Mesh.Edge(p.Corner[c])
		d := r2.Sub(l.uv[b], l.uv[a])
		size := r2.Norm(d)
		price := size * (cost(e) + awayCost*off*off)
		if math.IsInf(price, 1) || size == 0 {
			continue
		}
		d = r2.Scale(1/size, d)
		add(directed{a, b, e, price, d})
		add(directed{b, a, e, price, r2.Scale(-1, d)})
	}
	crossed := map[int32]bool{}
	found := searchRuns(len(edges), func(push func(int32, float64)) {
		for i, d := range edges {
			if l.side[d.from] == left {
				push(int32(i), d.cost)
			}
		}
	}, func(i int32) bool { return l.side[edges[i].to] == right }, func(i int32, soFar float64, push func(int32, float64)) {
		here := edges[i].to
		switch l.side[here] {
		case left: // along the rim is no way across
		case hole:
			if h := l.hole[here]; !crossed[h] {
				crossed[h] = true
				for _, v := range holes[h] {
					for _, j := range out[v] {
						push(j, soFar+edges[j].cost)
					}
				}
			}
		default:
			for _, j := range out[here] {
				turn := math.Acos(max(-1, min(1, r2.Dot(edges[i].dir, edges[j].dir))))
				if t := turn / (math.Pi / 4); turn <= most {
					push(j, soFar+edges[j].cost+turnCost*l.Width*t*t)
				}
			}
		}
	})
	for _, i := range found {
		cut = append(cut, edges[i].edge)
	}
	return cut
}

// LaneCost prefers creases and hidden places for cuts across a lane.
func LaneCost(m *mesh.Mesh, x *Exposure) Cost {
	hidden := HiddenCost(m, x, shape.Fit{})
	return func(e mesh.EdgeID) float64 { return 0.3 + hidden(e) }
}
