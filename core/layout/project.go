package layout

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/planar"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// Project lays faces by a projection with its parameters. They become shells of their
// own, cut where the projection tears; a whole part keeps the parameters, to be changed
// later.
type Project struct {
	Faces      []mesh.FaceID     `json:"faces"`
	Projection unroll.Projection `json:"projection"`
	// InPlace leaves the map where the projection puts it, but for whole tiles, so that a
	// pattern meets that of other faces laid so; else the shells lie where they were or
	// wait on the rack.
	InPlace bool `json:"in_place,omitempty"`
	// EachFacet looks at every flat facet among the faces from its own front, planar only.
	EachFacet bool `json:"each_facet,omitempty"`
}

// Kind implements Edit.
func (*Project) Kind() string { return "project" }

// Describe implements Edit.
func (e *Project) Describe() string {
	return "lay " + faceCount(len(e.Faces)) + " " + string(e.Projection.Kind)
}

// Apply implements Edit.
func (e *Project) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	m := d.Mesh
	if err := checkPick(m, e.Faces); err != nil {
		return nil, err
	}
	pr := e.Projection
	if err := pr.Check(); err != nil {
		return nil, refuse("%v", err)
	}
	if e.EachFacet && pr.Kind != unroll.Flat {
		return nil, refuse("only a planar projection looks at each facet, not a %s one", pr.Kind)
	}
	faces := with(nil, e.Faces)
	s := d.State.Clone()
	s.tearAs(m, faces, &pr)
	if e.EachFacet {
		s.cutFacets(m, faces)
	}
	for _, p := range s.partsOf(faces) {
		if s.inStack(p) {
			return nil, refuse("%s lies in a stack; take the stack apart first", s.Parts[p].Name)
		}
	}
	groups := m.Connected(faces, s.IsCut)
	rack := s.newRack(m, []piece{{faces: faces}})
	over := 0
	for i, group := range groups {
		p := mesh.NewPatch(m, group, s.IsCut)
		if e.EachFacet {
			pr.Axis = frontOf(m, group, pr.Axis)
		}
		uv, err := pr.Lay(ctx, p)
		switch {
		case ctx.Err() != nil:
			return nil, ctx.Err()
		case errors.Is(err, flatten.ErrNotDisk):
			return nil, refuse("these faces close on themselves; cut an opening first, or choose a kind that opens them")
		case err != nil:
			return nil, err
		}
		pr.OnSheet(uv)
		shell := flatShell{patch: p, uv: uv}
		switch {
		case e.InPlace:
			byWholeTiles(uv)
			s.Map.Set(p, uv)
		case len(groups) > 1 || !s.inItsPlace(d, shell):
			rack.put(shell)
			s.Map.Set(p, uv)
		}
		if overlapsItself(p, uv) {
			over++
		}
		report(progress, float64(i+1)/float64(len(groups)))
	}
	note := ""
	if n := len(pr.Away(m, faces)); n > 0 {
		note = fmt.Sprintf("%d faces look away and land on those in front; lay the sides apart", n)
	} else if over > 0 {
		note = "it lands on itself; cut it, or choose another kind"
	}
	whole := s.PartFaces()
	for _, p := range s.partsOf(faces) {
		part := &s.Parts[p]
		part.ByHand = true
		if slices.Equal(whole[p], faces) && !e.EachFacet {
			part.Projection, part.Method, part.Note = &pr, string(pr.Kind), note
		} else {
			part.Projection, part.Note = nil, note
		}
	}
	return s, nil
}

// tearAs cuts faces out of the rest and, where the kind says where, among themselves.
func (s *State) tearAs(m *mesh.Mesh, faces []mesh.FaceID, pr *unroll.Projection) {
	var rim []mesh.EdgeID
	for _, e := range m.BorderOf(faces) {
		if _, b := m.EdgeFaces(e); b != mesh.None && !s.Cut[e] {
			rim = append(rim, e)
		}
	}
	s.cutByHand(m, rim, true)
	if pr.Kind == unroll.Strips || pr.Kind == unroll.Unfolded {
		return // these lie as they are cut
	}
	in := set(faces)
	var inner []mesh.EdgeID
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t > h && in[m.FaceOf(t)] {
				inner = append(inner, m.Edge(h))
			}
		}
	}
	for _, e := range inner {
		s.Cut[e] = false
	}
	s.Wishes.Firm, s.Wishes.Held = without(s.Wishes.Firm, inner), without(s.Wishes.Held, inner)
	for _, e := range pr.Seams(m, faces) {
		s.Cut[e] = true
	}
}

// facet is the angle between faces from which they are no longer one flat facet.
const facet = 10 * math.Pi / 180

// cutFacets cuts faces apart where they bend.
func (s *State) cutFacets(m *mesh.Mesh, faces []mesh.FaceID) {
	in := set(faces)
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t > h && in[m.FaceOf(t)] && math.Abs(m.Dihedral(m.Edge(h))) > facet {
				s.Cut[m.Edge(h)] = true
			}
		}
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
	return r3.Unit(n)
}

// byWholeTiles moves a map by whole tiles so that it begins on the first one.
func byWholeTiles(uv []r2.Vec) {
	b := planar.Bounds(uv...)
	shift := r2.Vec{X: math.Floor(b.Min.X + 1e-9), Y: math.Floor(b.Min.Y + 1e-9)}
	for i := range uv {
		uv[i] = r2.Sub(uv[i], shift)
	}
}

func (s *State) projection(p PartID) *unroll.Projection {
	if p < 0 {
		return nil
	}
	return s.Parts[p].Projection
}

// project lays a piece by the projection of its part.
func (l *layer) project(ctx context.Context, p *mesh.Patch, pr *unroll.Projection) error {
	l.cuts = append(l.cuts, pr.Seams(p.Mesh, p.Faces)...)
	extra := set(l.cuts)
	cut := func(e mesh.EdgeID) bool { return extra[e] || l.state.Cut[e] }
	for _, group := range p.Mesh.Connected(p.Faces, cut) {
		q := mesh.NewPatch(p.Mesh, group, cut)
		uv, err := pr.Lay(ctx, q)
		if err != nil {
			return err
		}
		even := *pr // its proportions; the size comes with that of the others
		even.Width, even.Height = math.Sqrt(pr.Width/pr.Height), math.Sqrt(pr.Height/pr.Width)
		even.OnSheet(uv)
		l.out = append(l.out, flatShell{patch: q, uv: uv, method: string(pr.Kind)})
	}
	return nil
}

// Fitted returns the projection of a kind that suits faces: the one their part has, or
// one with the frame of the shape that was recognised there, its opening where they are
// open now, and the texel density of the document.
func (d *Document) Fitted(faces []mesh.FaceID, kind unroll.Kind) unroll.Projection {
	return d.fitted(faces, kind, func() []shape.Fit { return parts.Alternatives(d.Mesh, faces) })
}

func (d *Document) fitted(faces []mesh.FaceID, kind unroll.Kind, others func() []shape.Fit) unroll.Projection {
	m, s := d.Mesh, d.State
	up := s.Settings.Up.Vec()
	size := 1 / d.Density()
	pr := unroll.Projection{Kind: kind, Axis: up, Up: up, Origin: middle(m, faces), Width: size, Height: size}
	if len(faces) == 0 {
		return pr
	}
	part := s.FacePart[faces[0]]
	fit := s.fit(part)
	if part >= 0 && s.Parts[part].Projection != nil && s.Parts[part].Projection.Kind == kind {
		return *s.Parts[part].Projection
	}
	switch kind {
	case unroll.Flat:
		plane := shape.FitPlane(shape.Gather(m, faces))
		if pr.Axis = plane.Axis; r3.Dot(pr.Axis, frontOf(m, faces, pr.Axis)) < 0 {
			pr.Axis = r3.Scale(-1, pr.Axis)
		}
		if r3.Norm(pr.Axis) < 0.5 {
			pr.Axis = up
		}
		return pr
	case unroll.Boxed:
		if fit.Kind == shape.Box {
			pr.Axis = fit.Axis
		}
		return pr
	case unroll.Spherical:
		if fit.Kind == shape.Sphere {
			pr.Origin = fit.Origin
		} else if i := slices.IndexFunc(others(), func(f shape.Fit) bool { return f.Kind == shape.Sphere }); i >= 0 {
			pr.Origin = others()[i].Origin
		}
	case unroll.Strips, unroll.Unfolded:
		return pr
	default:
		if !hasAxis(fit) {
			if i := slices.IndexFunc(others(), hasAxis); i >= 0 {
				fit = others()[i]
			}
		}
		if hasAxis(fit) {
			pr.Axis = fit.Axis
			along := r3.Dot(r3.Sub(pr.Origin, fit.Origin), fit.Axis)
			if fit.Kind == shape.Extruded { // goes around the middle of its faces
				break
			}
			pr.Origin = r3.Add(fit.Origin, r3.Scale(along, fit.Axis))
		}
	}
	if chain := s.cutsWithin(m, faces); len(chain) > 0 {
		bearing := seam.Bearing(m, chain, shape.Fit{Kind: shape.Cylinder, Axis: pr.Axis, Origin: pr.Origin})
		if r3.Norm(bearing) > 0 {
			pr.TurnDeg = math.Round(pr.Bearing(r3.Add(pr.Origin, bearing))*100) / 100
		}
	}
	var out float64 // whether the faces look away from the axis
	for _, f := range faces {
		out += m.FaceAreas()[f] * r3.Dot(m.FaceNormals()[f], pr.Outward(m.FaceCentre(f)))
	}
	pr.Flip = out < 0
	return pr
}

func hasAxis(f shape.Fit) bool {
	return slices.Contains([]shape.Kind{shape.Cylinder, shape.Cone, shape.Turned, shape.Extruded, shape.Torus}, f.Kind)
}

func middle(m *mesh.Mesh, faces []mesh.FaceID) r3.Vec {
	lo, hi := r3.Vec{X: math.Inf(1), Y: math.Inf(1), Z: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1), Z: math.Inf(-1)}
	for _, f := range faces {
		for _, p := range m.FacePoints(f) {
			q := m.Points[p]
			lo = r3.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y), Z: min(lo.Z, q.Z)}
			hi = r3.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y), Z: max(hi.Z, q.Z)}
		}
	}
	if len(faces) == 0 {
		return r3.Vec{}
	}
	return r3.Scale(0.5, r3.Add(lo, hi))
}

// cutsWithin returns the cuts between two of the faces.
func (s *State) cutsWithin(m *mesh.Mesh, faces []mesh.FaceID) (out []mesh.EdgeID) {
	in := set(faces)
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t > h && s.Cut[m.Edge(h)] && in[m.FaceOf(t)] {
				out = append(out, m.Edge(h))
			}
		}
	}
	return out
}

// Option is what a kind of projection would make of faces.
type Option struct {
	Projection unroll.Projection
	L2         float64
	Angular    float64 // p95
	Flips      int     // triangles turned over
	Shells     int
	Away       int // faces that would land on those in front of them
	Overlaps   bool
	Why        string // why it cannot be, in words; the figures are nothing then
	State      *State `json:"-"` // after it was taken
}

// Compare lays faces by each kind and says what it costs, the best first: all in order
// before what is turned over or doubled, then by stretch and number of shells.
func (d *Document) Compare(ctx context.Context, faces []mesh.FaceID, kinds []unroll.Kind) ([]Option, error) {
	if err := checkPick(d.Mesh, faces); err != nil {
		return nil, err
	}
	var found []shape.Fit
	others := func() []shape.Fit {
		if found == nil {
			found = append([]shape.Fit{}, parts.Alternatives(d.Mesh, faces)...)
		}
		return found
	}
	var out []Option
	for _, k := range kinds {
		o, err := d.weighUp(ctx, faces, d.fitted(faces, k, others))
		if err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	slices.SortStableFunc(out, func(a, b Option) int {
		if x, y := a.trouble(), b.trouble(); x != y {
			return x - y
		}
		// A hundredth of stretch is worth a further shell.
		return compareFloat(a.Angular+a.L2+0.01*float64(a.Shells), b.Angular+b.L2+0.01*float64(b.Shells))
	})
	return out, nil
}

func compareFloat(a, b float64) int {
	switch {
	case a < b-1e-9:
		return -1
	case a > b+1e-9:
		return 1
	}
	return 0
}

func (o *Option) trouble() int {
	switch {
	case o.Why != "":
		return 2
	case o.Flips > 0 || o.Overlaps || o.Away > 0:
		return 1
	}
	return 0
}

// WeighUp returns what one projection would make of faces.
func (d *Document) WeighUp(ctx context.Context, faces []mesh.FaceID, pr unroll.Projection) (Option, error) {
	return d.weighUp(ctx, with(nil, faces), pr)
}

func (d *Document) weighUp(ctx context.Context, faces []mesh.FaceID, pr unroll.Projection) (Option, error) {
	o := Option{Projection: pr}
	s, err := (&Project{Faces: faces, Projection: pr}).Apply(ctx, d, nil)
	if ctx.Err() != nil {
		return o, ctx.Err()
	}
	if err != nil {
		if !errors.Is(err, ErrRefused) {
			return o, err
		}
		o.Why = plainly(err)
		return o, nil
	}
	o.State = s
	o.Away = len(pr.Away(d.Mesh, faces))
	var area float64
	var sum float64
	for _, group := range d.Mesh.Connected(faces, s.IsCut) {
		p := mesh.NewPatch(d.Mesh, group, s.IsCut)
		uv := s.Map.Get(p)
		o.Flips += flatten.Flips(p, uv)
		o.Overlaps = o.Overlaps || overlapsItself(p, uv)
		flatten.TrueScale(p, uv)
		l2, angular := p.Stretch(uv)
		a := p.Area()
		sum += a * l2 * l2
		area += a
		o.Angular = max(o.Angular, angular)
		o.Shells++
	}
	if area > 0 {
		o.L2 = math.Sqrt(sum / area)
	}
	if math.IsNaN(o.L2) || math.IsInf(o.L2, 0) || math.IsNaN(o.Angular) || math.IsInf(o.Angular, 0) {
		o.Why = "some faces are seen edge on and have no room"
	}
	return o, nil
}

// plainly is what a refusal says, without the mark.
func plainly(err error) string { return err.Error()[len(ErrRefused.Error())+2:] }
