package atlas

import (
	"slices"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// Shells returns the shells of the mapped faces, in order of their first face,
// and the shell of each face (None if unmapped). They are found once; both are shared and
// not to be changed.
func (c *Map) Shells() (shells []Shell, of []int32) {
	if d := c.draft; d != nil {
		if d.stale {
			c.found.search(c)
			d.stale = false
		}
		return c.found.shells, c.found.of
	}
	c.once.Do(func() {
		if c.found.of == nil {
			c.found.search(c)
		}
	})
	return c.found.shells, c.found.of
}

func (s *found) search(c *Map) {
	region, n := c.mesh.Regions(c.Ends)
	index := make([]int32, n)
	for i := range index {
		index[i] = mesh.None
	}
	s.shells, s.of = nil, region
	for f, r := range region {
		if !c.mapped[f] {
			s.of[f] = mesh.None
			continue
		}
		if index[r] == mesh.None {
			index[r] = int32(len(s.shells))
			s.shells = append(s.shells, Shell{})
		}
		s.of[f] = index[r]
		s.shells[index[r]].Faces = append(s.shells[index[r]].Faces, mesh.FaceID(f))
	}
}

// from takes the shells of the map that one was made from over, but for those where something
// was cut, closed, torn, mapped or taken off: these are searched anew.
func (s *found) from(c, base *Map) {
	if s.of != nil {
		return
	}
	m := c.mesh
	old, of := base.Shells()
	anew := map[int32]bool{}
	var faces []mesh.FaceID // of what is searched anew
	take := func(f mesh.FaceID) {
		if k := of[f]; k == mesh.None {
			faces = append(faces, f)
		} else if !anew[k] {
			anew[k] = true
			faces = append(faces, old[k].Faces...)
		}
	}
	beside := func(e mesh.EdgeID) {
		if c.Ends(e) == base.Ends(e) {
			return
		}
		f, g := m.EdgeFaces(e)
		if take(f); g != mesh.None {
			take(g)
		}
	}
	for _, f := range c.from.faces {
		take(f)
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None {
				take(m.FaceOf(t))
			}
		}
	}
	for _, e := range c.from.edges {
		beside(e)
	}
	for _, at := range c.from.corners {
		beside(m.Edge(at))
		beside(m.Edge(m.Prev(at)))
	}
	if len(faces) == 0 {
		s.shells, s.of = old, of
		return
	}
	if len(faces) > len(of)/4 {
		return // searched all at once when somebody asks
	}
	faces = slices.DeleteFunc(ids.Once(faces), func(f mesh.FaceID) bool { return !c.mapped[f] })
	fresh := m.Connected(faces, c.Ends)
	number := make([]int32, len(old))
	s.shells = make([]Shell, 0, len(old)+len(fresh))
	for k, sh := range old {
		if anew[int32(k)] {
			number[k] = mesh.None
			continue
		}
		for len(fresh) > 0 && fresh[0][0] < sh.Faces[0] {
			s.shells, fresh = append(s.shells, Shell{fresh[0]}), fresh[1:]
		}
		number[k] = int32(len(s.shells))
		s.shells = append(s.shells, sh)
	}
	for _, f := range fresh {
		s.shells = append(s.shells, Shell{f})
	}
	s.of = make([]int32, len(of))
	for f, k := range of {
		if s.of[f] = mesh.None; k != mesh.None {
			s.of[f] = number[k]
		}
	}
	for k, sh := range s.shells {
		if s.of[sh.Faces[0]] == mesh.None || s.of[sh.Faces[0]] != int32(k) {
			for _, f := range sh.Faces {
				s.of[f] = int32(k)
			}
		}
	}
}

// ShellsOf returns the faces of the shells that have some of the given ones.
func (c *Map) ShellsOf(faces []mesh.FaceID) (out []mesh.FaceID) {
	shells, of := c.Shells()
	seen := map[int32]bool{mesh.None: true}
	for _, f := range faces {
		if !seen[of[f]] {
			seen[of[f]] = true
			out = append(out, shells[of[f]].Faces...)
		}
	}
	return out
}

// Triangles returns the triangles of faces on the sheet.
func (c *Map) Triangles(faces []mesh.FaceID) []planar.Triangle {
	t := c.mesh.Triangles()
	var out []planar.Triangle
	for _, f := range faces {
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			q := t.Corner[k]
			out = append(out, planar.Triangle{c.uv[q[0]], c.uv[q[1]], c.uv[q[2]]})
		}
	}
	return out
}

// Border returns the segments along which a shell ends on the sheet.
func (c *Map) Border(faces []mesh.FaceID, group int32) []planar.Segment {
	m := c.mesh
	var out []planar.Segment
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if m.Twin(h) == mesh.None || c.Ends(m.Edge(h)) {
				out = append(out, planar.Segment{A: c.uv[h], B: c.uv[m.Next(h)], Group: group})
			}
		}
	}
	return out
}

// Box is the smallest box on the sheet that holds faces, one at least.
func (c *Map) Box(faces []mesh.FaceID) planar.Box {
	lo, _ := c.mesh.Corners(faces[0])
	b := planar.Box{Min: c.uv[lo], Max: c.uv[lo]}
	for _, f := range faces {
		lo, hi := c.mesh.Corners(f)
		for _, q := range c.uv[lo:hi] {
			b.Min.X, b.Min.Y = min(b.Min.X, q.X), min(b.Min.Y, q.Y)
			b.Max.X, b.Max.Y = max(b.Max.X, q.X), max(b.Max.Y, q.Y)
		}
	}
	return b
}

// PointAt returns the corners that are one point of a shell, ascending from the lowest.
func (c *Map) PointAt(at mesh.HalfedgeID) []mesh.HalfedgeID {
	m := c.mesh
	out := []mesh.HalfedgeID{at}
	for h := at; ; {
		t := m.Twin(h)
		if t == mesh.None || c.Ends(m.Edge(h)) {
			break
		}
		if h = m.Next(t); h == at {
			return ids.Once(out)
		}
		out = append(out, h)
	}
	for h := at; ; {
		p := m.Prev(h)
		t := m.Twin(p)
		if t == mesh.None || c.Ends(m.Edge(p)) {
			break
		}
		h = t
		out = append(out, h)
	}
	return ids.Once(out)
}
