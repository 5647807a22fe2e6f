package seam

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// cornerDefect is the angle defect from which a point of a sheet-metal part
// needs a cut: the corner of a plate whose edges are turned down has 25° and
// more, the points of a curved chamfer a few.
const cornerDefect = 8 * math.Pi / 180

// Corners returns the cuts that let a plate with turned edges lie flat: from each
// inner point with a large angle defect to the nearest border, along creases and
// never over spared edges.
func Corners(p *mesh.Patch, spared func(mesh.EdgeID) bool) []mesh.EdgeID {
	defect, border := p.Defects()
	var corners []int32
	for v, k := range defect {
		if !border[v] && math.Abs(k) > cornerDefect {
			corners = append(corners, int32(v))
		}
	}
	if len(corners) == 0 {
		return nil
	}
	// Sharpest first: its cut may pass another corner on the way.
	slices.SortStableFunc(corners, func(a, b int32) int {
		if x, y := float32(math.Abs(defect[a])), float32(math.Abs(defect[b])); x > y {
			return -1
		} else if x < y {
			return 1
		}
		return int(a - b)
	})
	cost := Sparing(func(e mesh.EdgeID) float64 {
		return 1 + 8*max(0, 1-math.Abs(p.Mesh.Dihedral(e))/0.3)
	}, spared)
	var out []mesh.EdgeID
	done := make([]bool, len(border)) // on a cut already
	for _, v := range corners {
		if done[v] {
			continue
		}
		chain := cheapest(p, []int32{v}, border, cost)
		for _, e := range chain {
			a, b := p.VertsOf(e)
			done[a], done[b] = true, true
		}
		out = append(out, chain...)
	}
	return out
}

// dartRoom is how far darts may begin off their even places, as a share of the way between
// these, to go straight.
const dartRoom = 0.25

// Darts returns cuts from the rim of a dome towards its middle, about evenly spaced:
// they let a disk that bulges lie flatter in one piece. share is how far they
// reach, 0 to 1.
func Darts(p *mesh.Patch, n int, share float64, cost Cost) []mesh.EdgeID {
	loops := p.Borders()
	if len(loops) != 1 || n < 1 {
		return nil
	}
	rim := loops[0]
	var length float64
	at := make([]float64, len(rim))
	for i, c := range rim {
		at[i] = length
		a, b := p.Ends(c)
		length += r3.Norm(r3.Sub(p.Pos[b], p.Pos[a]))
	}
	// The turn of the pattern that costs least, in steps of the rim.
	goal, most := middleOf(p, rim, share)
	var best []mesh.EdgeID
	least := math.Inf(1)
	steps := max(1, len(rim)/n)
	r := newRuns(p)
	for s := 0; s < steps; s += max(1, steps/6) {
		var chains []mesh.EdgeID
		var sum float64
		for k := range n {
			var from []int32
			for i, x := range at {
				off := math.Abs(math.Remainder(x-at[s]-length*float64(k)/float64(n), length))
				if off <= dartRoom*length/float64(n)+1e-9*length {
					from = append(from, p.CornerVert[rim[i]])
				}
			}
			chain := cheapest(p, from, goal, func(mesh.EdgeID) float64 { return 1 })
			var run float64
			for i, e := range chain {
				if run += p.Mesh.EdgeLength(e); run > share*most {
					chain = chain[:i]
					break
				}
				sum += cost(e) * p.Mesh.EdgeLength(e)
			}
			sum += r.bends(chain)
			chains = append(chains, chain...)
		}
		if sum < least*(1-1e-6) {
			best, least = chains, sum
		}
	}
	return best
}

// middleOf marks the vertices of a dome that are a share of the longest way and more over the
// surface from its rim, and returns that way. One point would draw all darts aside where holes
// bite into the rim.
func middleOf(p *mesh.Patch, rim []int32, share float64) (goal []bool, most float64) {
	from := make([]int32, len(rim))
	for i, c := range rim {
		from[i] = p.CornerVert[c]
	}
	dist := distances(p, from)
	for _, d := range dist {
		if !math.IsInf(d, 1) {
			most = max(most, d)
		}
	}
	goal = make([]bool, len(dist))
	for v, d := range dist {
		goal[v] = d >= share*most && !math.IsInf(d, 1)
	}
	return goal, most
}
