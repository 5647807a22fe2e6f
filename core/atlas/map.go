// Package atlas is a map of a mesh: where its shells end, and a sheet coordinate for
// every corner. It tells where the map is torn, which faces hang together on the sheet
// (shells), where their borders run, and moves shells about: off the sheet and back,
// to a free place, to the rack, onto each other.
package atlas

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// Map is a sheet coordinate per corner. Sheet units: 1 is the edge of a tile.
type Map struct {
	UV     []r2.Vec // per corner
	Mapped []bool   // per face
	Cut    []bool   // per edge: shells end here
}

// New returns a map of a mesh on which nothing is mapped.
func New(m *mesh.Mesh) Map {
	return Map{UV: make([]r2.Vec, m.NumCorners()), Mapped: make([]bool, m.NumFaces()), Cut: make([]bool, m.NumEdges())}
}

// FromSource returns the map that came with a mesh; faces with a corner that
// has no coordinate are unmapped.
func FromSource(m *mesh.Mesh) Map {
	c := New(m)
	if m.CornerUV == nil {
		return c
	}
	for f := range m.NumFaces() {
		lo, hi := m.Corners(mesh.FaceID(f))
		c.Mapped[f] = !slices.Contains(m.CornerUV[lo:hi], mesh.None)
		if c.Mapped[f] {
			for h := lo; h < hi; h++ {
				c.UV[h] = m.SourceUV[m.CornerUV[h]]
			}
		}
	}
	return c
}

// Clone returns a copy that can be changed on its own.
func (c Map) Clone() Map { return Map{UV: slices.Clone(c.UV), Mapped: slices.Clone(c.Mapped), Cut: slices.Clone(c.Cut)} }

// tear is the distance on the sheet above which two coordinates of one point
// are two places; files round to about seven digits.
const tear = 1e-6

// IsCut tells whether shells end at an edge.
func (c Map) IsCut(e mesh.EdgeID) bool { return c.Cut[e] }

// Ends tells whether shells end at an edge, since it is cut or the map is torn there.
func (c Map) Ends(m *mesh.Mesh, e mesh.EdgeID) bool { return c.Cut[e] || c.Torn(m, e) }

// Torn tells whether the map is apart at an edge that two mapped faces share.
func (c Map) Torn(m *mesh.Mesh, e mesh.EdgeID) bool {
	h := m.EdgeHalf(e)
	t := m.Twin(h)
	if t == mesh.None || !c.Mapped[m.FaceOf(h)] || !c.Mapped[m.FaceOf(t)] {
		return true
	}
	return apart(c.UV[h], c.UV[m.Next(t)]) || apart(c.UV[m.Next(h)], c.UV[t])
}

func apart(a, b r2.Vec) bool {
	d := r2.Sub(a, b)
	return max(d.X, -d.X) > tear || max(d.Y, -d.Y) > tear
}

// Shell is a set of faces that hang together on the sheet.
type Shell struct {
	Faces []mesh.FaceID // ascending
}

// Shells returns the shells of the mapped faces, in order of their first face,
// and the shell of each face (None if unmapped).
func (c Map) Shells(m *mesh.Mesh) (shells []Shell, of []int32) {
	region, n := m.Regions(func(e mesh.EdgeID) bool { return c.Ends(m, e) })
	index := make([]int32, n)
	for i := range index {
		index[i] = mesh.None
	}
	of = region
	for f, r := range region {
		if !c.Mapped[f] {
			of[f] = mesh.None
			continue
		}
		if index[r] == mesh.None {
			index[r] = int32(len(shells))
			shells = append(shells, Shell{})
		}
		of[f] = index[r]
		shells[index[r]].Faces = append(shells[index[r]].Faces, mesh.FaceID(f))
	}
	return shells, of
}

// Triangles returns the triangles of faces on the sheet.
func (c Map) Triangles(m *mesh.Mesh, faces []mesh.FaceID) []planar.Triangle {
	t := m.Triangles()
	var out []planar.Triangle
	for _, f := range faces {
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			q := t.Corner[k]
			out = append(out, planar.Triangle{c.UV[q[0]], c.UV[q[1]], c.UV[q[2]]})
		}
	}
	return out
}

// Border returns the segments along which a shell ends on the sheet.
func (c Map) Border(m *mesh.Mesh, faces []mesh.FaceID, group int32) []planar.Segment {
	var out []planar.Segment
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if m.Twin(h) == mesh.None || c.Ends(m, m.Edge(h)) {
				out = append(out, planar.Segment{A: c.UV[h], B: c.UV[m.Next(h)], Group: group})
			}
		}
	}
	return out
}

// Set writes the coordinates of a patch, given per vertex, into the map and
// marks its faces as mapped.
func (c Map) Set(p *mesh.Patch, uv []r2.Vec) {
	for i, h := range p.Corner {
		c.UV[h] = uv[p.CornerVert[i]]
	}
	for _, f := range p.Faces {
		c.Mapped[f] = true
	}
}

// Get reads the coordinates of a patch per vertex.
func (c Map) Get(p *mesh.Patch) []r2.Vec {
	uv := make([]r2.Vec, len(p.Pos))
	for i, h := range p.Corner {
		uv[p.CornerVert[i]] = c.UV[h]
	}
	return uv
}
