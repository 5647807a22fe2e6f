package segment

import (
	"slices"

	"morvek/core/atlas"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/seam"
)

// cut divides a shell in n, as far as edges lead across it.
func (r *ruling) cut(i, n int) laneCut {
	key := [2]int{i, n}
	if c, ok := r.known[key]; ok {
		return c
	}
	b := &r.bands[i]
	c := laneCut{band: i}
	if b.like != i && r.opensAlike(b) {
		c.edges = r.within(b, r.doc.OnRepeats(r.cut(b.like, n).edges))
	} else if l := r.lane(b); l != nil {
		for _, chain := range l.Divide(n, r.cost) {
			c.edges = ids.With(c.edges, chain)
		}
	}
	if len(c.edges) > 0 {
		r.measure(&c)
	}
	r.known[key] = c
	return c
}

// lane measures a shell along, nil for what has no ends.
func (r *ruling) lane(b *band) *seam.Lane {
	if b.lane == nil && r.doc.Exposure().Prepare(r.ctx, b.faces, nil) == nil {
		b.lane = seam.NewLane(b.laid.Patch, b.laid.UV, r.wishes(b.laid.Patch, b.laid.UV))
	}
	return b.lane
}

// opensAlike tells whether a shell is open at the same places as the one whose repeat it is: rings
// and walls look alike all round, and each is opened where it is seen least.
func (r *ruling) opensAlike(b *band) bool {
	if alike, ok := r.alike[b]; ok {
		return alike
	}
	cuts := r.doc.State.Map.CutsWithin
	images := r.doc.OnRepeats(cuts(r.bands[b.like].faces))
	r.alike[b] = len(ids.Without(cuts(b.faces), images)) == 0
	return r.alike[b]
}

// within keeps the edges between faces of a shell.
func (r *ruling) within(b *band, edges []mesh.EdgeID) []mesh.EdgeID {
	own := ids.Set(b.faces)
	return slices.DeleteFunc(slices.Clone(edges), func(e mesh.EdgeID) bool {
		f, g := r.doc.Mesh.EdgeFaces(e)
		return g == mesh.None || !own[f] || !own[g] || r.doc.State.Map.IsCut(e)
	})
}

// measure finds the pieces a cut leaves and how they would lie.
func (r *ruling) measure(c *laneCut) {
	m, s, b := r.doc.Mesh, r.doc.State, &r.bands[c.band]
	own := ids.Set(c.edges)
	if x := r.doc.Exposure(); x.Prepare(r.ctx, b.faces, nil) == nil {
		for _, e := range c.edges {
			c.seen += m.EdgeLength(e) * x.Edge(e)
		}
	}
	isCut := func(e mesh.EdgeID) bool { return own[e] || s.Map.Ends(e) }
	for _, faces := range m.Connected(b.faces, isCut) {
		p := mesh.NewPatch(m, faces, isCut)
		uv := s.Map.Get(p)
		atlas.Scale(uv, b.weight/b.laid.Density)
		lay.OrientOwn(s, p, uv)
		c.pieces = append(c.pieces, r.shell(b, p, uv))
		c.areas = append(c.areas, p.Area()*b.weight*b.weight)
		c.sizes = append(c.sizes, planar.Bounds(uv...).Size())
		c.off += b.weight * b.weight * r.offGrain(p, uv)
	}
	if len(c.areas) < 2 {
		*c = laneCut{band: c.band}
	}
}
