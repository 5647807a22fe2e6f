package atlas

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// Set writes the coordinates of a patch, given per vertex, into the map and
// marks its faces as mapped.
func (c *Map) Set(p *mesh.Patch, uv []r2.Vec) {
	for i, h := range p.Corner {
		c.Put(h, uv[p.CornerVert[i]])
	}
	for _, f := range p.Faces {
		c.SetMapped(f, true)
	}
}

// Get reads the coordinates of a patch per vertex.
func (c *Map) Get(p *mesh.Patch) []r2.Vec {
	uv := make([]r2.Vec, len(p.Pos))
	for i, h := range p.Corner {
		uv[p.CornerVert[i]] = c.uv[h]
	}
	return uv
}

// Patch takes faces out of the mesh, apart where they are cut.
func (c *Map) Patch(faces []mesh.FaceID) *mesh.Patch { return mesh.NewPatch(c.mesh, faces, c.IsCut) }

// PatchOf takes a shell out of the mesh, apart where it is apart on the sheet.
func (c *Map) PatchOf(shell Shell) *mesh.Patch { return mesh.NewPatch(c.mesh, shell.Faces, c.Ends) }

// Density returns the size of faces on the sheet per model unit, 0 if they have none.
func (c *Map) Density(faces []mesh.FaceID) float64 {
	var flat, area float64
	for _, t := range c.Triangles(faces) {
		flat += math.Abs(t.Area())
	}
	for _, f := range faces {
		area += c.mesh.FaceAreas()[f]
	}
	if area > 0 {
		return math.Sqrt(flat / area)
	}
	return 0
}

// Transform moves the corners of faces.
func (c *Map) Transform(faces []mesh.FaceID, to func(r2.Vec) r2.Vec) {
	for _, f := range faces {
		lo, hi := c.mesh.Corners(f)
		for h := lo; h < hi; h++ {
			c.Put(h, to(c.uv[h]))
		}
	}
}

// TakeBack gives faces the coordinates they have in another map of the mesh.
func (c *Map) TakeBack(faces []mesh.FaceID, from *Map) {
	for _, f := range faces {
		lo, hi := c.mesh.Corners(f)
		for h := lo; h < hi; h++ {
			c.Put(h, from.uv[h])
		}
	}
}

// Follow copies cuts and coordinates from corners to those that correspond. Mirrored, these
// get the mirror image, so that it still faces up.
func (c *Map) Follow(pair map[mesh.HalfedgeID]mesh.HalfedgeID, mirrored bool) {
	m := c.mesh
	inverse := make(map[mesh.HalfedgeID]bool, len(pair))
	for _, b := range pair {
		inverse[b] = true
	}
	for a, b := range pair {
		q := c.uv[a]
		if mirrored {
			q.X = -q.X
		}
		c.Put(b, q)
		c.SetMapped(m.FaceOf(b), c.mapped[m.FaceOf(a)])
		// The halfedge from a's corner answers the one between the same two places.
		h := b
		if mirrored {
			h = pair[m.Next(a)]
		}
		if t := m.Twin(h); t != mesh.None && inverse[t] {
			c.SetCut(m.Edge(h), c.cut[m.Edge(a)])
		}
	}
}
