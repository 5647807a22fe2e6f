package mesh

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"
)

// Chain is a run of edges, each touching the next.
type Chain struct {
	Edges  []EdgeID
	Closed bool
	Ends   [2]string // why it stops before its first and after its last edge, "" when closed
}

// Length sums the lengths of edges in model units.
func (m *Mesh) Length(edges []EdgeID) float64 {
	var l float64
	for _, e := range edges {
		l += m.EdgeLength(e)
	}
	return l
}

// Loop extends an edge in both directions: straight over points where four
// quads meet, along the border on borders, elsewhere by the straightest
// continuation whose bend resembles the edge's own. It stops, and says why,
// where no continuation is clear.
func (m *Mesh) Loop(e EdgeID) Chain {
	h := m.edgeHalf[e]
	ahead, closed, why := m.follow(step{h, true})
	if closed {
		return Chain{Edges: ahead, Closed: true}
	}
	back, _, whyBack := m.follow(step{h, false})
	slices.Reverse(back)
	return Chain{Edges: append(back[:len(back)-1], ahead...), Ends: [2]string{whyBack, why}}
}

// step is an edge walked in a direction; it may run against its halfedge,
// which is how borders are walked backwards.
type step struct {
	h       HalfedgeID
	forward bool
}

// follow walks from a step until the run closes on itself or stops.
func (m *Mesh) follow(s step) (run []EdgeID, closed bool, why string) {
	seen := map[EdgeID]bool{}
	for {
		e := m.edge[s.h]
		if seen[e] {
			return run, e == run[0], "meets itself"
		}
		seen[e] = true
		run = append(run, e)
		if s, why = m.continuation(s); why != "" {
			return run, false, why
		}
	}
}

// continuation picks the step that carries on over the tip of s.
func (m *Mesh) continuation(s step) (step, string) {
	spokes, quads, border := m.spokes(s)
	if len(spokes) == 3 && quads && !border {
		return spokes[1], "" // three others at a four-way point: the middle one is opposite
	}
	dir := m.walk(s)
	own := m.Dihedral(m.edge[s.h])
	onBorder := m.twin[s.h] == None
	best, bestTurn, second := step{}, math.Inf(1), math.Inf(1)
	for _, o := range spokes {
		if onBorder != (m.twin[o.h] == None) {
			continue
		}
		turn := Angle(dir, m.walk(o))
		if !onBorder {
			if math.Abs(m.Dihedral(m.edge[o.h])-own) > 25*math.Pi/180 || turn > math.Pi/3 {
				continue
			}
		}
		if turn < bestTurn {
			best, bestTurn, second = o, turn, bestTurn
		} else {
			second = min(second, turn)
		}
	}
	if math.IsInf(bestTurn, 1) || (!onBorder && second-bestTurn < math.Pi/18) {
		return step{}, fmt.Sprintf("ends at a %s point", wayName(len(spokes)+1))
	}
	return best, ""
}

func wayName(n int) string {
	names := []string{"no-way", "one-way", "two-way", "three-way", "four-way", "five-way", "six-way", "seven-way", "eight-way"}
	if n < len(names) {
		return names[n]
	}
	return fmt.Sprintf("%d-way", n)
}

func (m *Mesh) walk(s step) r3.Vec {
	v := m.EdgeVec(s.h)
	if !s.forward {
		return r3.Scale(-1, v)
	}
	return v
}

// spokes lists the other edges around the tip of s as steps that leave it, in
// turning order, and tells whether only quads meet there and whether it is on
// a border.
func (m *Mesh) spokes(s step) (out []step, quads, border bool) {
	quads = true
	// The halfedge that leaves the tip inside the face of s.h.
	start := s.h
	if s.forward {
		start = m.Next(s.h)
	}
	isQuad := func(h HalfedgeID) bool { lo, hi := m.Corners(m.cornerFace[h]); return hi-lo == 4 }
	var around []step
	h := start
	for {
		around = append(around, step{h, true})
		quads = quads && isQuad(h)
		in := m.Prev(h) // comes into the tip
		t := m.twin[in]
		if t == None {
			around = append(around, step{in, false})
			border = true
			break
		}
		if t == start {
			break
		}
		h = t
	}
	if border {
		for h = start; m.twin[h] != None; {
			h = m.Next(m.twin[h])
			quads = quads && isQuad(h)
			around = slices.Insert(around, 0, step{h, true})
		}
	}
	own := m.edge[s.h]
	at := slices.IndexFunc(around, func(o step) bool { return m.edge[o.h] == own })
	for i := 1; i < len(around); i++ {
		out = append(out, around[(at+i)%len(around)])
	}
	return out, quads, border
}

// Ring returns the edges opposite to each other across a run of quads,
// starting at e and going both ways until the run closes or ends.
func (m *Mesh) Ring(e EdgeID) (edges []EdgeID, closed bool) {
	h := m.edgeHalf[e]
	ahead, closed := m.across(h)
	if closed || m.twin[h] == None {
		return ahead, closed
	}
	back, _ := m.across(m.twin[h])
	slices.Reverse(back)
	return append(back[:len(back)-1], ahead...), false
}

func (m *Mesh) across(h HalfedgeID) (edges []EdgeID, closed bool) {
	first := m.edge[h]
	seen := map[EdgeID]bool{}
	for {
		e := m.edge[h]
		if seen[e] {
			return edges, e == first
		}
		seen[e] = true
		edges = append(edges, e)
		if lo, hi := m.Corners(m.cornerFace[h]); hi-lo != 4 {
			return edges, false
		}
		o := m.Next(m.Next(h))
		if m.twin[o] == None {
			if m.edge[o] != first {
				edges = append(edges, m.edge[o])
			}
			return edges, false
		}
		h = m.twin[o]
	}
}
