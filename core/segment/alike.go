package segment

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
)

// groups lists shells with their repeats, which are divided alike.
func (r *ruling) groups() (out [][]int) {
	at := map[int]int{}
	for i, b := range r.bands {
		if b.still {
			continue
		}
		if k, ok := at[b.like]; ok {
			out[k] = append(out[k], i)
			continue
		}
		at[b.like] = len(out)
		out = append(out, []int{i})
	}
	return out
}

// divide plans to part each of some shells in n.
func (r *ruling) divide(plan map[int]laneCut, group []int, n int) {
	for _, i := range group {
		if c := r.cut(i, n); len(c.edges) > 0 {
			plan[i] = c
		}
	}
}

// piecesFor is the number of pieces that makes none of a shell longer than a limit, 0
// if it is short enough or cannot be divided so.
func (r *ruling) piecesFor(i int, limit float64) int {
	long := r.bands[i].long()
	if long <= limit*(1+1e-9) || !(long < mostLanes*limit) {
		return 0
	}
	least := int(math.Ceil(long/limit - 1e-9))
	for n := least; n <= min(2*least+1, mostLanes); n++ {
		c := r.cut(i, n)
		if len(c.edges) > 0 && !slices.ContainsFunc(c.sizes, func(s r2.Vec) bool { return longest(s) > 1.02*limit }) {
			return n
		}
	}
	return 0
}

// mostLanes bounds the pieces one shell is divided in.
const mostLanes = 24
