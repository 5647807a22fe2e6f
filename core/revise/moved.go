package revise

import (
	"cmp"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// motion is a rigid one: first the frame of a corner before, then that of the corner it became.
type motion struct {
	from, to r3.Vec
	was, is  [3]r3.Vec
}

func (t motion) of(p r3.Vec) r3.Vec { return r3.Add(t.to, t.turned(r3.Sub(p, t.from))) }

// turned is a direction after the motion.
func (t motion) turned(d r3.Vec) (out r3.Vec) {
	for k := range t.was {
		out = r3.Add(out, r3.Scale(r3.Dot(d, t.was[k]), t.is[k]))
	}
	return out
}

// mirrors tells whether it turns left into right.
func (t motion) mirrors() bool {
	return r3.Dot(r3.Cross(t.turned(r3.Vec{X: 1}), t.turned(r3.Vec{Y: 1})), t.turned(r3.Vec{Z: 1})) < 0
}

// still is the motion of what stays.
var still = motion{was: [3]r3.Vec{{X: 1}, {Y: 1}, {Z: 1}}, is: [3]r3.Vec{{X: 1}, {Y: 1}, {Z: 1}}}

// frame is the frame of a corner: along its side, square to that in the face, and square to both.
func frame(m *mesh.Mesh, h mesh.HalfedgeID) (f [3]r3.Vec, ok bool) {
	a := m.EdgeVec(h)
	n := m.FaceNormals()[m.FaceOf(h)]
	if r3.Norm(a) == 0 || r3.Norm(n) == 0 {
		return f, false
	}
	f[0] = r3.Unit(a)
	f[2] = r3.Unit(r3.Sub(n, r3.Scale(r3.Dot(n, f[0]), f[0])))
	f[1] = r3.Cross(f[2], f[0])
	return f, true
}

// mostSeeds bounds the faces that are tried as what a face became.
const mostSeeds = 200

// pair is a face of before with what it became, by a corner of each; where it was mirrored its corners go
// round the other way.
type pair struct {
	was, is  mesh.HalfedgeID
	mirrored bool
}

// after is the corner that became the next one of before.
func (p pair) after(now *mesh.Mesh, h mesh.HalfedgeID) mesh.HalfedgeID {
	if p.mirrored {
		return now.Prev(h)
	}
	return now.Next(h)
}

// moved finds what hangs together and moved rigidly, the largest first; mirrored what was mirrored too.
func (m *matcher) moved(ctx context.Context) error { return m.congruent(ctx, Moved) }

func (m *matcher) mirrored(ctx context.Context) error { return m.congruent(ctx, Mirrored) }

// congruent finds groups of faces that became others of the same shape.
func (m *matcher) congruent(ctx context.Context, as Kind) error {
	m.motions = nil
	free := map[string][]mesh.FaceID{} // new faces by their sides
	for f := range mesh.FaceID(m.now.NumFaces()) {
		if m.out.Kind[f] == New {
			k := m.sides(m.now, f)
			free[k] = append(free[k], f)
		}
	}
	var left []mesh.FaceID
	for f, taken := range m.taken {
		if !taken {
			left = append(left, mesh.FaceID(f))
		}
	}
	groups := m.old.Connected(left, func(mesh.EdgeID) bool { return false })
	slices.SortStableFunc(groups, func(a, b []mesh.FaceID) int { return cmp.Compare(len(b), len(a)) })
	for len(groups) > 0 {
		if err := ctx.Err(); err != nil {
			return err
		}
		group := groups[0]
		groups = groups[1:]
		found := m.became(group, free, as == Mirrored)
		if len(found) == 0 || len(found) == 1 && len(group) > 1 && !m.telling(found[0]) {
			continue
		}
		m.remember(found[0])
		for _, p := range found {
			f, of := m.now.FaceOf(p.is), m.old.FaceOf(p.was)
			lo, _ := m.now.Corners(f)
			was, _ := m.old.Corners(of)
			m.take(f, of, int(p.is-lo), int(p.was-was), as)
		}
		rest := slices.DeleteFunc(group, func(f mesh.FaceID) bool { return m.taken[f] })
		groups = append(groups, m.old.Connected(rest, func(mesh.EdgeID) bool { return false })...)
	}
	return nil
}

// leastTelling is how many corners a face has at least that is told from others by its shape alone.
const leastTelling = 5

// telling tells whether a face that moved alone is no likeness by chance: it has many corners and was only
// shifted.
func (m *matcher) telling(p pair) bool {
	lo, hi := m.old.Corners(m.old.FaceOf(p.was))
	return hi-lo >= leastTelling && m.turned(p) == 0
}

// turned is by how much the motion of a pair turns: 0 for a shift, 4 for half a turn.
func (m *matcher) turned(p pair) float64 {
	t, ok := m.motion(p)
	if !ok {
		return 4
	}
	by := 3.0
	for k := range t.was {
		by -= r3.Dot(t.was[k], t.is[k])
	}
	return math.Round(1e6*by) / 1e6
}

// seeds are the corners a corner of a face may have become: those first that a motion leads to which
// other faces made, then those that turn the face least and are nearest. So what is round lies as it
// lay, and what is equal is not mixed up.
func (m *matcher) seeds(was mesh.HalfedgeID, faces []mesh.FaceID, mirrored bool) (out []pair) {
	type seed struct {
		pair
		known       int // 0 where others moved like this
		turned, far float64
	}
	var all []seed
	for _, g := range faces {
		if m.out.Kind[g] != New {
			continue
		}
		lo, hi := m.now.Corners(g)
		for h := lo; h < hi; h++ {
			p := pair{was, h, mirrored}
			all = append(all, seed{p, m.strange(p), m.turned(p), r3.Norm(r3.Sub(m.old.Points[m.old.From(was)], m.now.Points[m.now.From(h)]))})
		}
	}
	slices.SortStableFunc(all, func(a, b seed) int {
		return cmp.Or(a.known-b.known, cmp.Compare(a.turned, b.turned), cmp.Compare(a.far, b.far))
	})
	for _, s := range all {
		out = append(out, s.pair)
	}
	return out
}

// strange is 0 where faces that were found before made the motion of a pair, else 1.
func (m *matcher) strange(p pair) int {
	for _, t := range m.motions {
		if m.takes(t, p) {
			return 0
		}
	}
	return 1
}

// mostMotions bounds the motions that are tried again.
const mostMotions = 64

// remember keeps the motion of a pair for what may have moved along.
func (m *matcher) remember(p pair) {
	if t, ok := m.motion(p); ok && len(m.motions) < mostMotions && m.strange(p) == 1 {
		m.motions = append(m.motions, t)
	}
}

// motion is the one that takes the corner of a pair to the other; false where a face has no area.
func (m *matcher) motion(p pair) (t motion, ok bool) { return motionOf(m.old, m.now, p) }

func motionOf(old, now *mesh.Mesh, p pair) (t motion, ok bool) {
	t.from, t.to = old.Points[old.From(p.was)], now.Points[now.From(p.is)]
	var okay bool
	t.was, ok = frame(old, p.was)
	if !p.mirrored {
		t.is, okay = frame(now, p.is)
		return t, ok && okay
	}
	t.is, okay = frame(now, now.Prev(p.is)) // the same side, the other way along
	t.is[0] = r3.Scale(-1, t.is[0])
	return t, ok && okay
}

// became is the largest set of faces of a group that moved together to faces that are new.
func (m *matcher) became(group []mesh.FaceID, free map[string][]mesh.FaceID, mirrored bool) (best []pair) {
	in := map[mesh.FaceID]bool{}
	for _, f := range group {
		in[f] = true
	}
	// Begin where there is least choice.
	seeds := slices.Clone(group)
	choice := map[mesh.FaceID]int{}
	for _, f := range group {
		choice[f] = len(free[m.sides(m.old, f)])
	}
	slices.SortStableFunc(seeds, func(a, b mesh.FaceID) int { return cmp.Compare(choice[a], choice[b]) })
	tried := 0
	for _, seed := range seeds {
		if choice[seed] == 0 {
			continue
		}
		was, _ := m.old.Corners(seed)
		for _, p := range m.seeds(was, free[m.sides(m.old, seed)], mirrored) {
			if found := m.grow(p, in); len(found) > len(best) {
				best = found
			}
			if tried++; len(best) == len(group) || tried >= mostSeeds {
				return best
			}
		}
		if len(best) > len(group)/2 {
			return best
		}
	}
	return best
}

// grow follows a motion that takes one corner to another over all faces of a group that it takes to
// new faces.
func (m *matcher) grow(seed pair, in map[mesh.FaceID]bool) []pair {
	t, ok := m.motion(seed)
	if !ok || !m.takes(t, seed) {
		return nil
	}
	seen, used := map[mesh.FaceID]bool{m.old.FaceOf(seed.was): true}, map[mesh.FaceID]bool{m.now.FaceOf(seed.is): true}
	out := []pair{seed}
	for k := 0; k < len(out); k++ {
		a, b := out[k].was, out[k].is
		lo, hi := m.old.Corners(m.old.FaceOf(a))
		for range hi - lo {
			p := m.across(pair{a, b, seed.mirrored})
			a, b = m.old.Next(a), seed.after(m.now, b)
			if p.was == mesh.None || p.is == mesh.None {
				continue
			}
			f, g := m.old.FaceOf(p.was), m.now.FaceOf(p.is)
			if seen[f] || used[g] || !in[f] || m.taken[f] || m.out.Kind[g] != New || !m.takes(t, p) {
				continue
			}
			seen[f], used[g] = true, true
			out = append(out, p)
		}
	}
	return out
}

// across is the pair of the faces beyond the sides that begin at the corners of one; None where there is none.
func (m *matcher) across(p pair) pair {
	p.was = m.old.Twin(p.was)
	if !p.mirrored {
		p.is = m.now.Twin(p.is)
		return p
	}
	if p.is = m.now.Twin(m.now.Prev(p.is)); p.is != mesh.None {
		p.is = m.now.Next(p.is)
	}
	return p
}

// takes tells whether a motion takes a face to another, corner by corner.
func (m *matcher) takes(t motion, p pair) bool {
	lo, hi := m.old.Corners(m.old.FaceOf(p.was))
	from, to := m.now.Corners(m.now.FaceOf(p.is))
	if hi-lo != to-from {
		return false
	}
	a, b := p.was, p.is
	for range hi - lo {
		if r3.Norm(r3.Sub(t.of(m.old.Points[m.old.From(a)]), m.now.Points[m.now.From(b)])) > 20*m.tol {
			return false
		}
		a, b = m.old.Next(a), p.after(m.now, b)
	}
	return true
}
