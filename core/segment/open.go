package segment

import (
	"cmp"
	"context"
	"math"
	"runtime"
	"slices"
	"sync/atomic"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// Open cuts the openings that closed walls need, in the least exposed place: of some parts,
// of all where none are given.
func Open(ctx context.Context, d *document.Document, of []document.PartID, progress func(float64)) (*document.State, error) {
	p, err := openings(ctx, d, of, progress)
	return p.state, err
}

// opened is a state with its openings, and what they were cut for.
type opened struct {
	state   *document.State
	todo    []lay.Piece   // pieces that needed an opening or darts
	corners []mesh.EdgeID // corner cuts
}

// openings cuts the openings of some parts, of all where none are given.
func openings(ctx context.Context, d *document.Document, of []document.PartID, progress func(float64)) (opened, error) {
	s := d.Begin()
	for _, p := range of {
		if p < 0 || int(p) >= len(s.Parts) {
			return opened{}, document.Refuse("there is no part %d", p)
		}
	}
	todo, corners, err := closed(s.State, ctx, d.Mesh, of)
	if err != nil {
		return opened{}, err
	}
	if len(todo)+len(corners) == 0 && len(of) > 0 {
		return opened{}, document.Refuse("nothing here closes on itself; no opening is needed")
	}
	var look []mesh.FaceID
	for _, r := range todo {
		look = append(look, r.Faces...)
	}
	x := d.Exposure()
	if err := x.Prepare(ctx, look, nil); err != nil {
		return opened{}, err
	}
	for _, e := range corners {
		s.Map.SetCut(e, true)
	}
	chains := make([][]mesh.EdgeID, len(todo))
	var done atomic.Int64
	spared := s.Spared(d.Mesh)
	run := func(list []int, bearing func(i int) r3.Vec) error {
		g, ctx := parallel.WithContext(ctx)
		g.SetLimit(runtime.GOMAXPROCS(0))
		for _, i := range list {
			g.Go(func() error {
				r := todo[i]
				op := opener{mesh: d.Mesh, isCut: s.Map.IsCut, fit: s.Fit(r.Part), darts: darts(s.Settings)}
				cost := seam.InLine(d.Mesh, op.fit, seam.HiddenCost(d.Mesh, x, op.fit), bearing(i))
				var err error
				chains[i], err = op.open(ctx, r.Faces, seam.Sparing(cost, spared))
				parallel.Report(progress, float64(done.Add(1))/float64(len(todo)))
				return err
			})
		}
		return g.Wait()
	}
	// The largest wall of each axis goes first, the others line up with it.
	leaders, followers, leader := lines(s.State, d.Mesh, todo)
	if err := run(leaders, func(int) r3.Vec { return r3.Vec{} }); err != nil {
		return opened{}, err
	}
	if err := run(followers, func(i int) r3.Vec {
		l := leader[i]
		return seam.Bearing(d.Mesh, chains[l], s.Fit(todo[l].Part))
	}); err != nil {
		return opened{}, err
	}
	for _, c := range chains {
		for _, e := range c {
			s.Map.SetCut(e, true)
		}
	}
	return opened{s.Done(), todo, corners}, nil
}

// closed lists the pieces that need an opening or darts, and the corner cuts that
// sheet-metal parts need before.
func closed(s *document.State, ctx context.Context, m *mesh.Mesh, parts []document.PartID) (todo []lay.Piece, corners []mesh.EdgeID, err error) {
	list := lay.Pieces(s, m)
	if len(parts) > 0 {
		list = slices.DeleteFunc(list, func(r lay.Piece) bool { return !slices.Contains(parts, r.Part) })
	}
	spared := s.Spared(m)
	needs, cuts := make([][]lay.Piece, len(list)), make([][]mesh.EdgeID, len(list))
	g, ctx := parallel.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i, r := range list {
		g.Go(func() error {
			needs[i], cuts[i] = look(s, m, r, s.Map.IsCut, spared)
			return ctx.Err()
		})
	}
	if err := g.Wait(); err != nil {
		return nil, nil, err
	}
	for i := range list {
		corners, todo = append(corners, cuts[i]...), append(todo, needs[i]...)
	}
	return todo, corners, nil
}

// look finds what of a piece needs an opening or darts, and what is cut before: its corners, or a line along which
// it is parted instead.
func look(s *document.State, m *mesh.Mesh, r lay.Piece, isCut, spared func(mesh.EdgeID) bool) (needs []lay.Piece, cuts []mesh.EdgeID) {
	p := mesh.NewPatch(m, r.Faces, isCut)
	if lay.IsSheet(s.Fit(r.Part).Kind) && unroll.Straightens(p) == nil {
		cuts = seam.Corners(p, spared)
	}
	chain := detached(s, p, r.Part, cuts, isCut, spared)
	if len(chain) == 0 {
		is, corners := isClosed(p, s.Fit(r.Part), cuts, isCut)
		if is {
			needs = []lay.Piece{r}
		}
		return needs, corners
	}
	cut := mesh.AlsoCut(isCut, chain)
	for _, faces := range m.Connected(r.Faces, cut) {
		n, c := look(s, m, lay.Piece{Faces: faces, Part: r.Part}, cut, spared)
		needs, chain = append(needs, n...), append(chain, c...)
	}
	return needs, chain
}

// detached is where a piece is parted rather than cut at its corners, where that takes far less cutting: along the
// border between what was read within its part, since a bevel round a wall with flutes would come to hang on its
// fingers, or across, where two walls meet in a ledge that fits neither.
func detached(s *document.State, p *mesh.Patch, part document.PartID, corners []mesh.EdgeID, isCut, spared func(mesh.EdgeID) bool) (best []mesh.EdgeID) {
	if part < 0 || len(corners) < fewCorners {
		return nil
	}
	m := p.Mesh
	border, _ := document.PieceBorder(m, p.Faces, s.Parts[part].Pieces, isCut)
	most := m.Length(corners) / partFrom
	for _, chain := range [][]mesh.EdgeID{border, seam.Divide(p)} {
		l := m.Length(chain)
		if len(chain) == 0 || l >= most || slices.ContainsFunc(chain, spared) {
			continue
		}
		cut := mesh.AlsoCut(isCut, chain)
		for _, f := range m.Connected(p.Faces, cut) {
			l += m.Length(seam.Corners(mesh.NewPatch(m, f, cut), spared))
		}
		if l < most {
			best, most = chain, l
		}
	}
	return best
}

// A piece is parted only for so many edges of corner cuts, and where these are so many times as long as what is
// cut then: in one piece fewer seams show.
const (
	fewCorners = 8
	partFrom   = 2
)

// vainFrom is the length of corner cuts, in sides of a square as large as the piece, from which they must let it
// lie flat to be worth it.
const vainFrom = 4

// isClosed tells whether a piece needs an opening or darts, and which of its corners are cut before.
func isClosed(p *mesh.Patch, fit shape.Fit, corners []mesh.EdgeID, isCut func(mesh.EdgeID) bool) (bool, []mesh.EdgeID) {
	if len(corners) > 0 {
		open := mesh.NewPatch(p.Mesh, p.Faces, mesh.AlsoCut(isCut, corners))
		switch {
		case unroll.LiesRigid(open):
			p = open
		case unroll.LiesRigid(p):
			return false, nil // as round the inner corners of a frame, whose bevels would come apart
		case p.Mesh.Length(corners) > vainFrom*math.Sqrt(p.Area()):
			corners = nil // cut to fingers it would not lie flat either
		default:
			p = open
		}
	}
	if p.IsDisk() {
		return !slices.ContainsFunc(p.Mesh.EdgesWithin(p.Faces), isCut) && bulges(p, fit), corners // else flat enough, or opened before
	}
	return len(p.Borders()) == 0 || !unroll.LiesFlat(p, fit), corners
}

// lines sorts pieces by axis: leaders are the largest of each axis and all that
// turn about none; each follower has a leader.
func lines(s *document.State, m *mesh.Mesh, todo []lay.Piece) (leaders, followers []int, leader []int) {
	area := make([]float64, len(todo))
	order := make([]int, len(todo))
	for i, r := range todo {
		order[i], area[i] = i, document.AreaOf(m, r.Faces)
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(float32(area[b]), float32(area[a])) })
	leader = make([]int, len(todo))
	for _, i := range order {
		k := slices.IndexFunc(leaders, func(l int) bool { return seam.Coaxial(m, s.Fit(todo[l].Part), s.Fit(todo[i].Part)) })
		if k < 0 {
			leaders = append(leaders, i)
			continue
		}
		followers, leader[i] = append(followers, i), leaders[k]
	}
	return leaders, followers, leader
}

// opener cuts one piece open.
type opener struct {
	mesh  *mesh.Mesh
	isCut func(mesh.EdgeID) bool
	fit   shape.Fit
	darts int
}

// tubeStretch is the angular stretch from which a bent tube is rather opened on
// the outside of its bend, where it costs less.
const tubeStretch = 1.06

func (o opener) open(ctx context.Context, faces []mesh.FaceID, cost seam.Cost) ([]mesh.EdgeID, error) {
	if o.fit.Kind == shape.Sphere {
		if chain := seam.Equator(mesh.NewPatch(o.mesh, faces, o.isCut), o.fit, cost); chain != nil {
			return o.halves(ctx, faces, chain, cost)
		}
	}
	chain, err := o.openings(ctx, faces, cost)
	if err != nil {
		return nil, err
	}
	if len(chain) == 0 {
		if p := mesh.NewPatch(o.mesh, faces, o.isCut); p.IsDisk() && bulges(p, o.fit) {
			return seam.Darts(p, o.darts, dartReach, cost), nil
		}
	}
	if !o.fit.Kind.Traits().Tube || len(chain) == 0 {
		return chain, nil
	}
	stretch := o.stretch(ctx, faces, chain)
	if stretch < tubeStretch {
		return chain, nil
	}
	along := func(side float64) ([]mesh.EdgeID, error) {
		return o.openings(ctx, faces, seam.AlongBends(o.mesh, o.fit, cost, side))
	}
	outer, err := along(1)
	if err != nil {
		return nil, err
	}
	flank, err := along(0)
	if err != nil {
		return nil, err
	}
	for _, other := range [][]mesh.EdgeID{outer, flank} {
		if s := o.stretch(ctx, faces, other); s < 0.98*stretch {
			chain, stretch = other, s
		}
	}
	if stretch > halvesStretch && o.fit.Bent() {
		inner, err := along(-1)
		if err != nil {
			return nil, err
		}
		if both := slices.Concat(outer, inner); o.stretch(ctx, faces, both) < 0.95*stretch {
			chain = both
		}
	}
	return chain, ctx.Err()
}

// halves opens each half of a ball that is cut in two.
func (o opener) halves(ctx context.Context, faces []mesh.FaceID, chain []mesh.EdgeID, cost seam.Cost) ([]mesh.EdgeID, error) {
	half := o
	half.isCut = o.with(chain)
	for _, piece := range o.mesh.Connected(faces, half.isCut) {
		more, err := half.open(ctx, piece, cost)
		if err != nil {
			return nil, err
		}
		chain = append(chain, more...)
	}
	return chain, nil
}

// halvesStretch is the angular stretch from which a bent tube is laid as two
// halves, cut along the outside and the inside of its bends.
const halvesStretch = 1.12

func (o opener) openings(ctx context.Context, faces []mesh.FaceID, cost seam.Cost) ([]mesh.EdgeID, error) {
	return seam.Openings(ctx, o.mesh, faces, o.isCut, o.fit, cost, func(p *mesh.Patch) bool { return unroll.LiesFlat(p, o.fit) })
}

// stretch is the largest angular stretch that faces would have with some edges
// opened, +Inf if they cannot be laid.
func (o opener) stretch(ctx context.Context, faces []mesh.FaceID, chain []mesh.EdgeID) (worst float64) {
	cut := o.with(chain)
	for _, piece := range o.mesh.Connected(faces, cut) {
		p := mesh.NewPatch(o.mesh, piece, cut)
		r, err := unroll.Unroll(ctx, p, o.fit, flatten.Settings{MaxIterations: roughly})
		if err != nil {
			return math.Inf(1)
		}
		_, angular := p.Stretch(r.UV)
		worst = max(worst, angular)
	}
	return worst
}

// roughly is how many rounds of flattening tell which of two cuts stretches less.
const roughly = 6

// with returns what is cut when some more edges are.
func (o opener) with(chain []mesh.EdgeID) func(mesh.EdgeID) bool {
	return mesh.AlsoCut(o.isCut, chain)
}

// bulges tells whether a disk is so much of a dome that it needs darts: its
// whole curvature is that of a third of a sphere or more.
func bulges(p *mesh.Patch, fit shape.Fit) bool {
	if !fit.Kind.Traits().Dome {
		return false
	}
	return p.Curvature() > 4*math.Pi/3
}

// dartReach is how far darts go from the rim towards the middle of a dome.
const dartReach = 0.8

// darts is the number of darts of a dome: the dial from fewer pieces to less
// stretch.
func darts(s document.Settings) int { return int(math.Round(8 * s.Dial)) }
