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

// Darts returns cuts from the rim of a dome towards its middle, evenly spaced:
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
	goal := middleOf(p, rim)
	var best []mesh.EdgeID
	least := math.Inf(1)
	steps := max(1, len(rim)/n)
	for s := 0; s < steps; s += max(1, steps/6) {
		var chains []mesh.EdgeID
		var sum float64
		for k := range n {
			want := math.Mod(at[s]+length*float64(k)/float64(n), length)
			i, _ := slices.BinarySearch(at, want-1e-9*length)
			v := p.CornerVert[rim[min(i, len(rim)-1)]]
			chain := cheapest(p, []int32{v}, goal, func(mesh.EdgeID) float64 { return 1 })
			whole := p.Mesh.Length(chain)
			var run float64
			for _, e := range chain {
				if run += p.Mesh.EdgeLength(e); run > share*whole {
					break
				}
				chains = append(chains, e)
				sum += cost(e) * p.Mesh.EdgeLength(e)
			}
		}
		if sum < least*(1-1e-6) {
			best, least = chains, sum
		}
	}
	return best
}

// middleOf marks the vertices furthest over the surface from a border loop: one, or all of a
// ring about as far.
func middleOf(p *mesh.Patch, rim []int32) []bool {
	from := make([]int32, len(rim))
	for i, c := range rim {
		from[i] = p.CornerVert[c]
	}
	dist := distances(p, from)
	var most float64
	for _, d := range dist {
		if !math.IsInf(d, 1) {
			most = max(most, d)
		}
	}
	out := make([]bool, len(dist))
	for v, d := range dist {
		out[v] = d >= 0.995*most && !math.IsInf(d, 1)
	}
	return out
}
