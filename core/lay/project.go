package lay

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/planar"
	"morvek/core/unroll"
)

// Projecting says what is laid by which projection; see the edit of that name.
type Projecting struct {
	Faces      []mesh.FaceID
	Projection unroll.Projection
	InPlace    bool
	EachFacet  bool
}

// Project lays faces by a projection with its parameters.
func Project(ctx context.Context, d *document.Document, e Projecting, progress func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckPick(m, e.Faces); err != nil {
		return nil, err
	}
	pr := e.Projection
	if err := pr.Check(); err != nil {
		return nil, document.Refuse("%v", err)
	}
	if e.EachFacet && pr.Kind != unroll.Flat {
		return nil, document.Refuse("only a planar projection looks at each facet, not a %s one", pr.Kind)
	}
	faces := ids.With(nil, e.Faces)
	s := d.Begin()
	tearAs(s, m, faces, &pr)
	if e.EachFacet {
		cutFacets(s, m, faces)
	}
	if err := s.Unstacked(s.Stacks(), faces); err != nil {
		return nil, err
	}
	groups := m.Connected(faces, s.Map.IsCut)
	rack := s.Map.NewRack(faces)
	over := 0
	for i, group := range groups {
		p := s.Map.Patch(group)
		if e.EachFacet {
			pr.Axis = frontOf(m, group, pr.Axis)
		}
		uv, err := pr.Lay(ctx, p)
		switch {
		case ctx.Err() != nil:
			return nil, ctx.Err()
		case errors.Is(err, flatten.ErrNotDisk):
			return nil, document.Refuse("these faces close on themselves; cut an opening first, or choose a kind that opens them")
		case err != nil:
			return nil, err
		}
		if !hasRoom(p, uv) {
			return nil, document.Refuse("seen this way these faces have no room on the sheet: they are seen edge on, or the size is next to nothing; choose another axis or kind")
		}
		pr.OnSheet(uv)
		switch {
		case e.InPlace:
			byWholeTiles(uv)
			s.Map.Set(p, uv)
		case len(groups) > 1 || !s.Map.Placing(s.Settings.Sheet.Across()).InItsPlace(d.State.Map, p, uv):
			rack.Put(uv)
			s.Map.Set(p, uv)
		}
		if unroll.Tangled(p, uv) {
			over++
		}
		parallel.Report(progress, float64(i+1)/float64(len(groups)))
	}
	note := ""
	if n := len(pr.Away(m, faces)); n > 0 {
		note = fmt.Sprintf("%d faces look away and land on those in front; lay the sides apart", n)
	} else if over > 0 {
		note = "it lands on itself; cut it, or choose another kind"
	}
	whole := s.PartFaces()
	for _, p := range s.PartsOf(faces) {
		part := s.Part(document.PartID(p))
		part.ByHand = true
		if slices.Equal(whole[p], faces) && !e.EachFacet {
			part.Projection, part.Method, part.Note = &pr, string(pr.Kind), note
		} else {
			part.Projection, part.Note = nil, note
		}
	}
	return s.Done(), nil
}

// hasRoom tells whether a map of a patch gives it any area worth the name.
func hasRoom(p *mesh.Patch, uv []r2.Vec) bool {
	var flat float64
	b := planar.Bounds(uv...)
	for _, t := range p.Tris {
		flat += math.Abs(planar.Triangle{uv[t[0]], uv[t[1]], uv[t[2]]}.Area())
	}
	w, h := b.Max.X-b.Min.X, b.Max.Y-b.Min.Y
	return flat > 1e-6*math.Max(w, h)*math.Max(w, h) || p.Area() <= 1e-12*p.Mesh.Diagonal()*p.Mesh.Diagonal()
}

// tearAs cuts faces out of the rest and, where the kind says where, among themselves.
func tearAs(s *document.Tx, m *mesh.Mesh, faces []mesh.FaceID, pr *unroll.Projection) {
	var rim []mesh.EdgeID
	for _, e := range m.BorderOf(faces) {
		if _, b := m.EdgeFaces(e); b != mesh.None && !s.Map.IsCut(e) {
			rim = append(rim, e)
		}
	}
	s.CutByHand(m, rim, true)
	if pr.Kind == unroll.Strips || pr.Kind == unroll.Unfolded {
		return // these lie as they are cut
	}
	inner := m.EdgesWithin(faces)
	for _, e := range inner {
		s.Map.SetCut(e, false)
	}
	s.Wishes.Firm, s.Wishes.Held = ids.Without(s.Wishes.Firm, inner), ids.Without(s.Wishes.Held, inner)
	for _, e := range pr.Seams(m, faces) {
		s.Map.SetCut(e, true)
	}
}

// facet is the angle between faces from which they are no longer one flat facet.
const facet = 10 * math.Pi / 180

// cutFacets cuts faces apart where they bend.
func cutFacets(s *document.Tx, m *mesh.Mesh, faces []mesh.FaceID) {
	for _, e := range m.EdgesWithin(faces) {
		s.Map.SetCut(e, s.Map.IsCut(e) || math.Abs(m.Dihedral(e)) > facet)
	}
}

// frontOf returns the mean normal of faces, otherwise what is given.
func frontOf(m *mesh.Mesh, faces []mesh.FaceID, or r3.Vec) (n r3.Vec) {
	for _, f := range faces {
		n = r3.Add(n, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f]))
	}
	if r3.Norm(n) < 1e-12 {
		return or
	}
	return mesh.Unit(n)
}

// byWholeTiles moves a map by whole tiles so that it begins on the first one.
func byWholeTiles(uv []r2.Vec) {
	b := planar.Bounds(uv...)
	shift := r2.Vec{X: math.Floor(b.Min.X + 1e-9), Y: math.Floor(b.Min.Y + 1e-9)}
	for i := range uv {
		uv[i] = r2.Sub(uv[i], shift)
	}
}

// project lays a piece by the projection of its part.
func (l *layer) project(ctx context.Context, p *mesh.Patch, pr *unroll.Projection) error {
	l.cuts = append(l.cuts, pr.Seams(p.Mesh, p.Faces)...)
	cut := mesh.AlsoCut(l.state.Map.IsCut, l.cuts)
	for _, group := range p.Mesh.Connected(p.Faces, cut) {
		q := mesh.NewPatch(p.Mesh, group, cut)
		uv, err := pr.Lay(ctx, q)
		if err != nil {
			return err
		}
		even := *pr // its proportions; the size comes with that of the others
		even.Width, even.Height = math.Sqrt(pr.Width/pr.Height), math.Sqrt(pr.Height/pr.Width)
		even.OnSheet(uv)
		l.out = append(l.out, FlatShell{Patch: q, Uv: uv, method: string(pr.Kind)})
	}
	return nil
}
