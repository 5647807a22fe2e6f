package revise

import (
	"context"
	"errors"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// mostStretch is how much what is laid in its place may be stretched beyond what the job made of it.
const mostStretch = 0.02

// inPlace lays what changed of a part into the hole that it left between the faces of it that stay,
// where it fits: a flat that was cut otherwise, a bore that is gone. Other parts are laid anew.
type inPlace struct {
	from, job *document.Document
	m         Match
	stays     []bool // faces that lie already
}

// changed goes through the parts that changed and returns the state in which those lie that fit, and how many
// faces these are that lay nowhere.
func (p *inPlace) changed(ctx context.Context, d *document.Document, parts map[document.PartID]bool) (*document.Document, int, error) {
	_, shells := p.from.State.Map.Shells()
	was := slices.Repeat([]int32{mesh.None}, d.Mesh.NumFaces())
	n := 0
	for part, faces := range d.State.PartFaces() {
		if !parts[document.PartID(part)] {
			continue
		}
		before := make([]bool, len(faces)) // whether they stayed
		var there, fresh []mesh.FaceID
		for i, f := range faces {
			before[i] = p.stays[f]
			if k := p.m.Kind[f]; (k == Kept || k == Remeshed) && p.from.State.Map.IsMapped(p.m.Of[f]) {
				was[f], p.stays[f] = shells[p.m.Of[f]], true
				there = append(there, f)
			} else if p.job.State.Map.IsMapped(f) {
				fresh = append(fresh, f)
			}
		}
		next, err := p.part(ctx, d, faces, there, fresh, was)
		if ctx.Err() != nil {
			return nil, n, ctx.Err()
		}
		for i, f := range faces {
			was[f] = mesh.None
			p.stays[f] = before[i]
			if err == nil {
				p.stays[f] = p.job.State.Map.IsMapped(f)
			}
		}
		switch {
		case err == nil:
			d, n = next, n+len(fresh)
		case !errors.Is(err, document.ErrRefused):
			return nil, n, err
		}
	}
	return d, n, nil
}

// part lays the fresh faces of one part between those that are there, or refuses. was is the shell before of these.
func (p *inPlace) part(ctx context.Context, d *document.Document, faces, there, fresh []mesh.FaceID, was []int32) (*document.Document, error) {
	if len(there) == 0 {
		return nil, document.Refuse("nothing of this part stays")
	}
	s := d.Begin()
	place(s, d.Mesh, p.m, there, p.stays)
	p.openings(s, d.Mesh, faces)
	for _, f := range fresh {
		s.Map.SetMapped(f, false)
	}
	for _, group := range d.Mesh.Connected(fresh, s.Map.IsCut) {
		if err := lay.IntoHole(ctx, s, group, was); err != nil {
			return nil, err
		}
		if _, now := lay.ShellStretch(s.State, d.Mesh, group); !(now <= p.stretch(group)+mostStretch) {
			return nil, document.Refuse("these faces would be stretched in their hole")
		}
	}
	next := d.With(s.Done())
	if p.collides(next, faces, fresh) {
		return nil, document.Refuse("something else lies in this hole")
	}
	return next, nil
}

// stretch is that of faces as the job laid them.
func (p *inPlace) stretch(faces []mesh.FaceID) float64 {
	_, angular := lay.ShellStretch(p.job.State, p.job.Mesh, faces)
	return max(1, angular)
}

// openings cuts a part as it was cut, and where the job cuts what is fresh.
func (p *inPlace) openings(s *document.Tx, m *mesh.Mesh, faces []mesh.FaceID) {
	old, stays := p.from, p.stays
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None || stays[f] && stays[m.FaceOf(t)] {
				continue
			}
			g := m.FaceOf(t)
			if s.PartOf(g) != s.PartOf(f) {
				s.Map.SetCut(m.Edge(h), true)
				continue
			}
			cut := p.job.State.Map.IsCut(m.Edge(h))
			if stays[f] != stays[g] {
				if cut = false; stays[f] && p.m.Corner[h] != mesh.None {
					e := old.Mesh.Edge(p.m.Corner[h])
					a, b := old.Mesh.EdgeFaces(e)
					cut = b != mesh.None && old.State.Map.IsCut(e) && old.State.PartOf(a) == old.State.PartOf(b)
				} else if stays[g] {
					continue // seen from the other side
				}
			}
			s.Map.SetCut(m.Edge(h), cut)
		}
	}
}

// collides tells whether fresh faces of a part lie on others that stay, too near to them, or beside the sheet.
func (p *inPlace) collides(d *document.Document, faces, fresh []mesh.FaceID) bool {
	c := d.State.Map
	set := d.State.Settings.Sheet
	px := float64(set.Size)
	limit := set.Padding / px * (1 - 1e-6)
	mine := c.Triangles(fresh)
	var all []r2.Vec
	for _, t := range mine {
		all = append(all, t[:]...)
	}
	if len(all) == 0 {
		return false
	}
	box := planar.Bounds(all...)
	rim := set.Margin / px * (1 - 1e-6)
	if box.Min.X < rim || box.Min.Y < rim || box.Max.Y > 1-rim || box.Max.X > float64(set.Across())-rim {
		return true
	}
	own := make([]bool, d.Mesh.NumFaces())
	for _, f := range faces {
		own[f] = true
	}
	var near []mesh.FaceID
	for f, there := range p.stays {
		if there && !own[f] && c.Box([]mesh.FaceID{mesh.FaceID(f)}).Within(box, limit) {
			near = append(near, mesh.FaceID(f))
		}
	}
	n := int32(len(mine))
	for _, o := range planar.Overlaps(append(mine, c.Triangles(near)...), 1e-6) {
		if (o.A < n) != (o.B < n) {
			return true
		}
	}
	least, _ := planar.GapsWithin(append(c.Border(fresh, 0), c.Border(near, 1)...), limit)
	return least.Distance < limit
}
