package atlas

import "morvek/core/mesh"

// TakeOver gives faces the place, and their edges the cuts, that they have in another map of
// the same mesh. Faces that are not mapped there come off this one too.
func (c *Map) TakeOver(from *Map, faces []mesh.FaceID) {
	for _, f := range faces {
		lo, hi := c.mesh.Corners(f)
		for h := lo; h < hi; h++ {
			c.Put(h, from.uv[h])
			e := c.mesh.Edge(h)
			c.SetCut(e, from.cut[e])
		}
		c.SetMapped(f, from.mapped[f])
	}
}
