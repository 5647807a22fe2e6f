package sheet

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// rimSlack is how far, in tiles, an outline may lie from the straight edges that stand for it:
// the fiftieth of a pixel of a large sheet. Gaps are as much wider on either side.
const rimSlack = 1e-5

// mostStraight bounds how many edges become one.
const mostStraight = 64

// straightened returns the loops of an outline in fewer edges, none of whose corners lies off
// by more than a slack.
func straightened(rim []rimEdge, slack float64) (out []rimEdge) {
	from := make(map[r2.Vec][]int32, len(rim))
	for k := len(rim) - 1; k >= 0; k-- { // the first is taken from the end
		from[rim[k].a] = append(from[rim[k].a], int32(k))
	}
	done := make([]bool, len(rim))
	var loop []r2.Vec
	for k := range rim {
		if done[k] {
			continue
		}
		loop = append(loop[:0], rim[k].a)
		for at := int32(k); ; {
			done[at] = true
			end := rim[at].b
			loop = append(loop, end)
			next := from[end]
			for len(next) > 0 && done[next[len(next)-1]] {
				next = next[:len(next)-1]
			}
			if from[end] = next; len(next) == 0 {
				break
			}
			at = next[len(next)-1]
		}
		for i := 0; i+1 < len(loop); {
			j := i + 1
			for j+1 < len(loop) && j-i < mostStraight && straight(loop[i:j+2], slack) {
				j++
			}
			out = append(out, rimEdge{a: loop[i], b: loop[j]})
			i = j
		}
	}
	return out
}

// straight tells whether all places lie along the line from the first to the last.
func straight(line []r2.Vec, slack float64) bool {
	a, b := line[0], line[len(line)-1]
	for _, q := range line[1 : len(line)-1] {
		if planar.PointDistance(q, a, b) > slack {
			return false
		}
	}
	return true
}
