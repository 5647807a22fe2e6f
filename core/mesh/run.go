package mesh

import (
	"math"
	"slices"
)

// Run is a line of edges with what lies beyond the ends of its loop, so that it
// can be shortened or carried on by hand.
type Run struct {
	Edges    []EdgeID
	Points   []PointID // one more than edges, in walking order
	From, To int       // Edges[From:To] is the loop itself
	Closed   bool
	Stops    []Stop // where a loop would end, in walking order
}

// Stop is a place on a run where no continuation is clear.
type Stop struct {
	At  int    // index into Points
	Why string // as in "ends at a five-way point"
}

// carryTurn is the largest turn over which a run is carried on beyond its end.
const carryTurn = 75 * math.Pi / 180

// Run extends an edge to its loop, as Loop does, and beyond each end over the
// irregular point by the straightest continuation, until it meets a point it
// passed before, comes to a border, or would have to turn by more than 75°.
func (m *Mesh) Run(e EdgeID) Run {
	h := m.edgeHalf[e]
	if loop := m.Loop(e); loop.Closed {
		// Loop walks along the halfedge of its first edge.
		points := make([]PointID, 0, len(loop.Edges)+1)
		at := m.From(h)
		for _, id := range loop.Edges {
			points = append(points, at)
			at = m.otherEnd(id, at)
		}
		return Run{Edges: loop.Edges, Points: append(points, at), To: len(loop.Edges), Closed: true}
	}
	passed := map[PointID]bool{m.From(h): true, m.To(h): true}
	ahead, stopsAhead := m.carry(step{h, true}, passed)
	back, stopsBack := m.carry(step{h, false}, passed)
	slices.Reverse(back)
	r := Run{Edges: slices.Concat(back, []EdgeID{e}, ahead)}
	for _, s := range slices.Backward(stopsBack) {
		r.Stops = append(r.Stops, Stop{len(back) - s.At, s.Why})
	}
	first := len(back) + 1
	for _, s := range stopsAhead {
		r.Stops = append(r.Stops, Stop{first + s.At, s.Why})
	}
	r.From, r.To = len(back)-stopsBack[0].At, first+stopsAhead[0].At
	at := m.From(h)
	for _, id := range slices.Backward(r.Edges[:len(back)]) {
		at = m.otherEnd(id, at)
	}
	r.Points = []PointID{at}
	for _, id := range r.Edges {
		at = m.otherEnd(id, at)
		r.Points = append(r.Points, at)
	}
	return r
}

// carry walks on from the tip of s. It returns the edges after s and the stops,
// each as a number of edges after s; the last one is where the run ends.
func (m *Mesh) carry(s step, passed map[PointID]bool) (run []EdgeID, stops []Stop) {
	for {
		next, why := m.continuation(s)
		if why != "" {
			stops = append(stops, Stop{len(run), why})
			var ok bool
			if next, ok = m.straightest(s); !ok {
				return run, stops
			}
		}
		tip := m.tip(next)
		if passed[tip] {
			if why == "" {
				stops = append(stops, Stop{len(run), "meets itself"})
			}
			return run, stops
		}
		passed[tip] = true
		run = append(run, m.edge[next.h])
		s = next
	}
}

// straightest is the continuation with the smallest turn, whatever its bend; a
// run on a border stays there and an inner one never goes along it.
func (m *Mesh) straightest(s step) (best step, ok bool) {
	spokes, _, _ := m.spokes(s)
	least := carryTurn
	dir := m.walk(s)
	for _, o := range spokes {
		if (m.twin[s.h] == None) != (m.twin[o.h] == None) {
			continue
		}
		if turn := Angle(dir, m.walk(o)); turn < least {
			best, least, ok = o, turn, true
		}
	}
	return best, ok
}

// tip is the point a step leads to.
func (m *Mesh) tip(s step) PointID {
	if s.forward {
		return m.To(s.h)
	}
	return m.From(s.h)
}

func (m *Mesh) otherEnd(e EdgeID, p PointID) PointID {
	h := m.edgeHalf[e]
	if m.From(h) == p {
		return m.To(h)
	}
	return m.From(h)
}
