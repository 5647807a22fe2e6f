// Package atlas is a map of a mesh: where its shells end, and a sheet coordinate for
// every corner. It tells where the map is torn, which faces hang together on the sheet
// (shells), where their borders run, and moves shells about: off the sheet and back,
// to a free place, to the rack, onto each other. It knows nothing of parts or of how
// anything is laid flat.
//
// A map is frozen and may be read by many, or a draft that one goroutine changes; a draft
// shares with its base what it has not changed, and remembers what it has.
package atlas

import (
	"slices"
	"sync"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// Map is a sheet coordinate per corner, and which edges are cut. Sheet units: 1 is the
// edge of a tile.
type Map struct {
	mesh   *mesh.Mesh
	uv     []r2.Vec // per corner
	mapped []bool   // per face
	cut    []bool   // per edge: shells end here

	draft *draft  // nil: frozen
	from  *origin // nil: nothing is known of what was before
	once  *sync.Once
	found found // once for all that is frozen
}

// draft is what is known of a map that is being changed.
type draft struct {
	base    *Map // nil: nothing before it
	uv      bool // these are its own, not those of its base
	mapped  bool
	cut     bool
	corners []mesh.HalfedgeID // changed, with repeats
	faces   []mesh.FaceID
	edges   []mesh.EdgeID
	stale   bool // found is of a state before
}

// New returns a draft on which nothing is mapped or cut.
func New(m *mesh.Mesh) *Map {
	return &Map{mesh: m, uv: make([]r2.Vec, m.NumCorners()), mapped: make([]bool, m.NumFaces()), cut: make([]bool, m.NumEdges()),
		draft: &draft{uv: true, mapped: true, cut: true, stale: true}}
}

// FromSource returns a draft of the map that came with a mesh, cut where that is torn;
// faces with a corner that has no coordinate are unmapped. In files a picture goes from 0 to 1 both
// ways; here it is so many units wide.
func FromSource(m *mesh.Mesh, wide float64) *Map { return fromLayer(m, m.SourceUV, m.CornerUV, wide) }

// FromLayer is FromSource of a further map that came along.
func FromLayer(m *mesh.Mesh, k int, wide float64) *Map {
	return fromLayer(m, m.Layers[k].UV, m.Layers[k].Corner, wide)
}

func fromLayer(m *mesh.Mesh, uv []r2.Vec, corner []int32, wide float64) *Map {
	c := New(m)
	for f := range m.NumFaces() {
		lo, hi := m.Corners(mesh.FaceID(f))
		if corner == nil || slices.Contains(corner[lo:hi], mesh.None) {
			continue
		}
		c.mapped[f] = true
		for h := lo; h < hi; h++ {
			q := uv[corner[h]]
			c.uv[h] = r2.Vec{X: wide * q.X, Y: q.Y}
		}
	}
	for i := range c.cut {
		e := mesh.EdgeID(i)
		a, b := m.EdgeFaces(e)
		// Faces nobody has mapped hang together; there is no seam to keep.
		c.cut[i] = b == mesh.None || c.mapped[a] && c.mapped[b] && c.Torn(e)
	}
	return c
}

// Of returns a frozen map of a mesh with what was stored of one: a coordinate per corner,
// and flags per face and per edge. It takes the slices over. It returns false if they do
// not belong to the mesh.
func Of(m *mesh.Mesh, uv []r2.Vec, mapped, cut []bool) (*Map, bool) {
	if len(uv) != m.NumCorners() || len(mapped) != m.NumFaces() || len(cut) != m.NumEdges() {
		return nil, false
	}
	return &Map{mesh: m, uv: uv, mapped: mapped, cut: cut, once: new(sync.Once)}, true
}

// Mesh is what is mapped.
func (c *Map) Mesh() *mesh.Mesh { return c.mesh }

// At is the coordinate of a corner, 0, 0 where its face is not mapped.
func (c *Map) At(h mesh.HalfedgeID) r2.Vec { return c.uv[h] }

// IsMapped tells whether a face lies on the sheet or the rack.
func (c *Map) IsMapped(f mesh.FaceID) bool { return c.mapped[f] }

// AnyMapped tells whether any face does.
func (c *Map) AnyMapped() bool { return slices.Contains(c.mapped, true) }

// IsCut tells whether shells end at an edge.
func (c *Map) IsCut(e mesh.EdgeID) bool { return c.cut[e] }

// CutsWithin lists the cuts between two of some faces, ascending.
func (c *Map) CutsWithin(faces []mesh.FaceID) []mesh.EdgeID {
	return slices.DeleteFunc(c.mesh.EdgesWithin(faces), func(e mesh.EdgeID) bool { return !c.cut[e] })
}

// Ends tells whether shells end at an edge, since it is cut or the map is torn there.
func (c *Map) Ends(e mesh.EdgeID) bool { return c.cut[e] || c.Torn(e) }

// tear is the distance on the sheet above which two coordinates of one point
// are two places; files round to about seven digits.
const tear = 1e-6

// Torn tells whether the map is apart at an edge that two mapped faces share.
func (c *Map) Torn(e mesh.EdgeID) bool {
	m := c.mesh
	h := m.EdgeHalf(e)
	t := m.Twin(h)
	if t == mesh.None || !c.mapped[m.FaceOf(h)] || !c.mapped[m.FaceOf(t)] {
		return true
	}
	return apart(c.uv[h], c.uv[m.Next(t)]) || apart(c.uv[m.Next(h)], c.uv[t])
}

func apart(a, b r2.Vec) bool {
	d := r2.Sub(a, b)
	return max(d.X, -d.X) > tear || max(d.Y, -d.Y) > tear
}

// UV are all coordinates, Mapped which faces have them, Cuts which edges are cut: shared,
// not to be changed.
func (c *Map) UV() []r2.Vec { return c.uv }

// Mapped tells of each face whether it lies on the sheet or the rack; see UV.
func (c *Map) Mapped() []bool { return c.mapped }

// Cuts tells of each edge whether shells end there; see UV.
func (c *Map) Cuts() []bool { return c.cut }

// origin is what a map was made from, and what may differ from that, with repeats.
type origin struct {
	base    *Map
	corners []mesh.HalfedgeID
	faces   []mesh.FaceID
	edges   []mesh.EdgeID
}

// Shell is a set of faces that hang together on the sheet.
type Shell struct {
	Faces []mesh.FaceID // ascending; shared, not to be changed
}

// found are the shells of a map.
type found struct {
	shells []Shell
	of     []int32
}
