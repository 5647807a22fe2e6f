package atlas

import (
	"math"
	"slices"
	"sync"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// Draft returns a copy that can be changed on its own.
func (c *Map) Draft() *Map {
	out := &Map{mesh: c.mesh, uv: c.uv, mapped: c.mapped, cut: c.cut, draft: &draft{base: c, stale: true}}
	if c.draft != nil { // what changes itself cannot be shared
		out.uv, out.mapped, out.cut = slices.Clone(c.uv), slices.Clone(c.mapped), slices.Clone(c.cut)
		out.draft = &draft{uv: true, mapped: true, cut: true, stale: true}
	}
	return out
}

func (c *Map) changing() *draft {
	if c.draft == nil {
		panic("atlas: a frozen map was changed")
	}
	c.draft.stale = true
	return c.draft
}

// own makes a list that a draft shares with its base its own, before it is written to.
func own[T any](list *[]T, mine *bool) {
	if !*mine {
		*list, *mine = slices.Clone(*list), true
	}
}

// Put sets the coordinate of a corner. It panics if the map is frozen, as do all that
// change one.
func (c *Map) Put(h mesh.HalfedgeID, q r2.Vec) {
	if same(c.uv[h], q) {
		return
	}
	d := c.changing()
	own(&c.uv, &d.uv)
	c.uv[h] = q
	if d.base != nil {
		d.corners = append(d.corners, h)
	}
}

// same tells whether two coordinates are the same to the bit.
func same(a, b r2.Vec) bool {
	return math.Float64bits(a.X) == math.Float64bits(b.X) && math.Float64bits(a.Y) == math.Float64bits(b.Y)
}

// SetMapped says whether a face lies on the sheet or the rack.
func (c *Map) SetMapped(f mesh.FaceID, to bool) {
	if c.mapped[f] == to {
		return
	}
	d := c.changing()
	own(&c.mapped, &d.mapped)
	c.mapped[f] = to
	if d.base != nil {
		d.faces = append(d.faces, f)
	}
}

// Unmap takes a face off the map.
func (c *Map) Unmap(f mesh.FaceID) {
	c.SetMapped(f, false)
	lo, hi := c.mesh.Corners(f)
	for h := lo; h < hi; h++ {
		c.Put(h, r2.Vec{})
	}
}

// SetCut says whether shells end at an edge.
func (c *Map) SetCut(e mesh.EdgeID, to bool) {
	if c.cut[e] == to {
		return
	}
	d := c.changing()
	own(&c.cut, &d.cut)
	c.cut[e] = to
	if d.base != nil {
		d.edges = append(d.edges, e)
	}
}

// Freeze ends a draft and returns what it became, which can be shared from now on: its base
// if it changed nothing of that.
func (c *Map) Freeze() *Map {
	d := c.draft
	if d == nil {
		return c
	}
	if d.base != nil && len(d.corners)+len(d.faces)+len(d.edges) == 0 {
		return d.base
	}
	if d.stale {
		c.found = found{}
	}
	c.draft, c.once = nil, new(sync.Once)
	if d.base != nil {
		c.from = &origin{d.base, d.corners, d.faces, d.edges}
		c.found.from(c, d.base)
	}
	return c
}

// Settle forgets what a frozen map was made from, so that it can be freed. It is for whoever
// froze the map and before others have it.
func (c *Map) Settle() {
	if c.from != nil { // a map that changed nothing is its base, which others have: it is not written to
		c.from = nil
	}
}

// Change is how one map differs from another.
type Change struct {
	Corners []Moved       // ascending
	Mapped  []mesh.FaceID // toggled, ascending
	Cut     []mesh.EdgeID // toggled, ascending
}

// Moved is a corner whose coordinate changed.
type Moved struct {
	Corner   mesh.HalfedgeID
	Old, New r2.Vec
}

// Empty tells whether nothing changed.
func (d Change) Empty() bool { return len(d.Corners)+len(d.Mapped)+len(d.Cut) == 0 }

// Diff returns how a frozen map differs from an earlier one of the same mesh. If it was made
// from that, however many drafts lie between, it takes time in proportion to the change.
func Diff(old, now *Map) (out Change) {
	var corners []mesh.HalfedgeID
	var faces []mesh.FaceID
	var edges []mesh.EdgeID
	for at := now; at != old; at = at.from.base {
		if at.from == nil { // it was not made from this one
			corners, faces, edges = ids.All[mesh.HalfedgeID](len(old.uv)), ids.All[mesh.FaceID](len(old.mapped)), ids.All[mesh.EdgeID](len(old.cut))
			break
		}
		corners, faces, edges = append(corners, at.from.corners...), append(faces, at.from.faces...), append(edges, at.from.edges...)
	}
	corners = ids.Once(corners)
	out.Corners = slices.Grow(out.Corners, len(corners))
	for _, h := range corners {
		if !same(old.uv[h], now.uv[h]) {
			out.Corners = append(out.Corners, Moved{h, old.uv[h], now.uv[h]})
		}
	}
	out.Mapped = slices.DeleteFunc(ids.Once(faces), func(f mesh.FaceID) bool { return old.mapped[f] == now.mapped[f] })
	out.Cut = slices.DeleteFunc(ids.Once(edges), func(e mesh.EdgeID) bool { return old.cut[e] == now.cut[e] })
	return out
}

// Fits tells whether a change can be one of a map of a mesh.
func (d Change) Fits(m *mesh.Mesh) bool {
	for _, q := range d.Corners {
		if q.Corner < 0 || int(q.Corner) >= m.NumCorners() {
			return false
		}
	}
	for _, f := range d.Mapped {
		if f < 0 || int(f) >= m.NumFaces() {
			return false
		}
	}
	for _, e := range d.Cut {
		if e < 0 || int(e) >= m.NumEdges() {
			return false
		}
	}
	return true
}

// Apply makes a change to a draft, or takes one back.
func (c *Map) Apply(d Change, back bool) {
	for _, q := range d.Corners {
		if back {
			c.Put(q.Corner, q.Old)
		} else {
			c.Put(q.Corner, q.New)
		}
	}
	for _, f := range d.Mapped {
		c.SetMapped(f, !c.mapped[f])
	}
	for _, e := range d.Cut {
		c.SetCut(e, !c.cut[e])
	}
}

// Faces lists the faces that moved, or came onto the map or off it, ascending.
func (d Change) Faces(m *mesh.Mesh) []mesh.FaceID {
	out := slices.Clone(d.Mapped)
	for _, q := range d.Corners {
		out = append(out, m.FaceOf(q.Corner))
	}
	return ids.Once(out)
}

// Touched lists the faces that a change has to do with, ascending: those that moved, and
// those on both sides of what was cut or closed.
func (d Change) Touched(m *mesh.Mesh) []mesh.FaceID {
	var beside []mesh.FaceID
	for _, e := range d.Cut {
		a, b := m.EdgeFaces(e)
		if beside = append(beside, a); b != mesh.None {
			beside = append(beside, b)
		}
	}
	return ids.With(d.Faces(m), beside)
}
