package parts

import "math"

// A corrugated wall, such as that of a bellows, is one though its radii differ by more than those of other walls: its
// radius rises and falls so often, over creases no steeper than those of a coarse round.
const (
	leastWaves = 4
	waveSpread = 1.45 // of its radii
)

// waves joins walls that follow each other as one corrugated wall, and tells by their first parts which those are.
func (t *walls) waves(wall joined) map[int]bool {
	next := map[int][]int{}
	for i, list := range t.near {
		for _, b := range list {
			x, y := wall.first(i), wall.first(b.other)
			u, v := wall.of[x], wall.of[y]
			if x != y && u != nil && v != nil && math.Abs(b.bend) <= coarseBar.rail && coaxial(t.mesh, u, v) && allRound(b.length, min(u.lo, v.lo)) {
				next[x] = append(next[x], y)
			}
		}
	}
	waved := map[int]bool{}
	seen := map[int]bool{}
	for i := range t.parts {
		if len(next[i]) != 1 || seen[i] { // from one end to the other
			continue
		}
		chain := []int{i}
		for at := i; at >= 0; {
			seen[at] = true
			on := -1
			for _, o := range next[at] {
				if !seen[o] {
					on = o
				}
			}
			if at = on; on >= 0 {
				chain = append(chain, on)
			}
		}
		for len(chain) > 0 {
			n := t.wave(wall, chain)
			if n == 0 {
				chain = chain[1:]
				continue
			}
			first := chain[0]
			for _, i := range chain[1:n] {
				first = wall.join(first, i)
			}
			waved[first] = true
			chain = chain[n:]
		}
	}
	return waved
}

// wave returns how many walls of a chain, from its first on, are one corrugated wall; none if its first begins none.
func (t *walls) wave(wall joined, chain []int) int {
	mean := func(k int) float64 { return (wall.of[chain[k]].lo + wall.of[chain[k]].hi) / 2 }
	lo, hi := math.Inf(1), 0.
	n, turns := 0, 0
	for ; n < len(chain); n++ {
		b := wall.of[chain[n]]
		if lo, hi = min(lo, b.lo), max(hi, b.hi); hi > waveSpread*lo {
			break
		}
		if n > 1 && (mean(n)-mean(n-1))*(mean(n-1)-mean(n-2)) < 0 {
			turns++
		}
	}
	if turns < leastWaves {
		return 0
	}
	return n
}
