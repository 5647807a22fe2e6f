package layout

import (
	"cmp"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/unroll"
)

// Attach leaves pieces attached to a neighbour along one border where the union
// still lies flat: the narrow sides of a board to its face, the flats of a nut to
// each other. The most exposed seams go first. How compact the union must stay is
// the dial's to say: 0 attaches whatever lies flat, 1 nothing. Below the middle of
// the dial unions may also stretch a little. Slivers, too small to paint, go to a
// neighbour at any place of the dial.
type Attach struct{}

// Kind implements Edit.
func (*Attach) Kind() string { return "attach" }

// Describe implements Edit.
func (*Attach) Describe() string { return "leave what lies flat attached" }

// Apply implements Edit.
func (e *Attach) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s := d.State.Clone()
	a := newAttacher(ctx, d, s, func(p piece) bool { return !s.inStack(p.part) })
	dial := s.Settings.Dial
	if dial < 1 {
		a.compact = min(1.8*dial, 0.8+0.2*dial)
		a.longest = 0.35 / dial * math.Sqrt(a.total) // longer strips are hard to lay out
		if err := a.round(part(progress, 0, 0.5)); err != nil {
			return nil, err
		}
	}
	if a.stretch = 1 + 0.1*(0.5-dial); a.stretch > 1 {
		a.grain = 5 * math.Pi / 180
		if err := a.round(part(progress, 0.5, 1)); err != nil {
			return nil, err
		}
	}
	a.slivers()
	return s, ctx.Err()
}

// straight is the cosine of the largest turn, 1 degree, within a straight border.
const straight = 0.99985

// joint is a border along which two pieces may stay attached.
type joint struct {
	a, b  int
	edges []mesh.EdgeID
	gain  float64 // exposed length that is no seam any more
}

// unknown is the fill of a piece that has not been laid yet: most never need be.
const unknown = -1

// group is a set of pieces that are attached, laid flat in model units.
type group struct {
	faces []mesh.FaceID
	part  PartID  // of its largest piece
	area  float64 // of that piece
	total float64
	fill  float64 // share of its box that it covers, its grain straight; 0 does not lie so
	alone bool    // does not take part
}

// attacher merges pieces greedily, the most exposed border first.
type attacher struct {
	ctx    context.Context
	doc    *Document
	state  *State
	firm   map[mesh.EdgeID]bool
	groups []*group // per piece, shared when attached
	total  float64  // area of the mesh

	longest float64 // side that a union may have, model units
	compact float64 // least fill of a union relative to that of its pieces
	stretch float64 // L² that a union may have; up to 1 it must lie flat
	grain   float64 // radians that a union may lie off the grain of its parts
}

// newAttacher attaches nothing yet; only pieces that are of it take part.
func newAttacher(ctx context.Context, d *Document, s *State, of func(piece) bool) *attacher {
	a := &attacher{ctx: ctx, doc: d, state: s, firm: set(s.Wishes.Firm), longest: math.Inf(1), stretch: 1, grain: 0.5 * math.Pi / 180}
	for _, p := range s.pieces(d.Mesh) {
		g := &group{faces: p.faces, part: p.part, fill: unknown}
		for _, f := range p.faces {
			g.area += d.Mesh.FaceAreas()[f]
		}
		g.total = g.area
		a.total += g.area
		g.alone = !of(p)
		a.groups = append(a.groups, g)
	}
	return a
}

// round tries every border once.
func (a *attacher) round(progress func(float64)) error {
	for _, g := range a.groups {
		g.fill = unknown // what does not lie so may lie otherwise
	}
	list := a.candidates()
	for i, c := range list {
		if i%64 == 0 {
			if err := a.ctx.Err(); err != nil {
				return err
			}
			report(progress, float64(i)/float64(len(list)))
		}
		a.attach(c)
	}
	return a.ctx.Err()
}

// exact tells whether unions must lie flat without stretch.
func (a *attacher) exact() bool { return a.stretch <= 1 }

// mostRelaxed bounds the faces of a union that is flattened only to see how much it
// would stretch.
const mostRelaxed = 4000

// lay returns how compact faces would lie as one shell: the share of its box they
// fill, or 0 if they stretch too much, land on themselves, or lie off the grain.
func (a *attacher) lay(faces []mesh.FaceID, part PartID, cut func(mesh.EdgeID) bool) float64 {
	p := mesh.NewPatch(a.doc.Mesh, faces, cut)
	uv, gap := unroll.Unfold(p)
	if gap > 1e-7*math.Sqrt(p.Area()) {
		if a.exact() || len(faces) > mostRelaxed || !p.IsDisk() {
			return 0
		}
		r, err := unroll.Unroll(a.ctx, p, a.state.fit(part), flatten.Settings{})
		if err != nil {
			return 0
		}
		uv = r.UV
		flatten.TrueScale(p, uv)
		if l2, _ := p.Stretch(uv); l2 > a.stretch {
			return 0
		}
	}
	if flatten.Flips(p, uv) > 0 || overlapsItself(p, uv) {
		return 0
	}
	set := a.state.Settings.Flow()
	flow.Orient(p, uv, a.state.grain(int(part)), set)
	d, ok := p.Differentials(uv)
	for i := range d {
		if !ok[i] {
			continue
		}
		f := p.Faces[p.TriFace[i]]
		g := a.state.grain(int(a.state.FacePart[f]))
		if off, has := flow.Error(g, set, d[i], a.doc.Mesh.FaceNormals()[f]); has && off > a.grain {
			return 0
		}
	}
	size := planar.Bounds(uv...).Size()
	if math.Max(size.X, size.Y) > a.longest {
		return 0
	}
	return p.Area() / math.Max(size.X*size.Y, 1e-300)
}

// candidates lists the borders between groups that may be joined, the most exposed
// first: the whole border where the points on it lie flat enough, else its longest
// straight stretch if that is more than half of it.
func (a *attacher) candidates() []joint {
	m := a.doc.Mesh
	piece := a.pieceOf()
	at := map[[2]int]*joint{}
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		f, g := m.EdgeFaces(id)
		if g == mesh.None || !a.state.Cut[e] || a.firm[id] {
			continue
		}
		p, q := piece[f], piece[g]
		if a.groups[p] == a.groups[q] || !a.joins(p) || !a.joins(q) {
			continue
		}
		k := [2]int{min(p, q), max(p, q)}
		if at[k] == nil {
			at[k] = &joint{a: k[0], b: k[1]}
		}
		at[k].edges = append(at[k].edges, id)
	}
	var out []joint
	for _, j := range at {
		edges := longestStraight(m, j.edges)
		if m.Length(edges) <= m.Length(j.edges)/2 {
			if edges = nil; !a.exact() {
				edges = a.flattish(j.edges)
			}
		}
		if len(edges) > 0 {
			out = append(out, joint{j.a, j.b, edges, a.gain(edges)})
		}
	}
	slices.SortFunc(out, func(p, q joint) int {
		return cmp.Or(cmp.Compare(float32(q.gain), float32(p.gain)), cmp.Compare(p.a, q.a), cmp.Compare(p.b, q.b))
	})
	return out
}

// pieceOf returns the piece of each face.
func (a *attacher) pieceOf() []int {
	out := make([]int, a.doc.Mesh.NumFaces())
	seen := map[*group]bool{}
	for i, g := range a.groups {
		if seen[g] {
			continue
		}
		seen[g] = true
		for _, f := range g.faces {
			out[f] = i
		}
	}
	return out
}

// joins tells whether a piece takes part: where nothing may stretch, only those of
// shapes that lie flat.
func (a *attacher) joins(i int) bool {
	g := a.groups[i]
	if g.alone {
		return false
	}
	return !a.exact() || g.part >= 0 && isSheet(a.state.Parts[g.part].Fit.Kind)
}

// flattish returns a border that is one chain or ring and bends so little that its
// union may lie within the stretch allowed: the angle defects of its inner points,
// which stretch has to take up, stay below a radian.
func (a *attacher) flattish(edges []mesh.EdgeID) []mesh.EdgeID {
	m := a.doc.Mesh
	if len(m.Chains(edges)) > 1 {
		return nil
	}
	ends := map[mesh.PointID]int{}
	for _, e := range edges {
		h := m.EdgeHalf(e)
		ends[m.From(h)]++
		ends[m.To(h)]++
	}
	defects := m.PointDefects()
	var sum float64
	open := 0
	for p, n := range ends {
		if n == 1 {
			open++
		} else if sum += math.Abs(defects[p]); n > 2 {
			return nil
		}
	}
	if open > 2 || sum > 1 {
		return nil
	}
	return edges
}

// gain is the length of edges, those in view counting most. Exposure is taken from
// the first and the middle edge alone: rays are dear, and a border is short.
func (a *attacher) gain(edges []mesh.EdgeID) float64 {
	x := a.doc.Exposure()
	seen := (x.Edge(edges[0]) + x.Edge(edges[len(edges)/2])) / 2
	return a.doc.Mesh.Length(edges) * (0.05 + seen)
}

// A shell is a sliver when at the density it would have on the sheet it is narrower
// than this many px, or smaller than this many px².
const (
	sliverWidth = 1.5
	sliverArea  = 9
)

// slivers gives shells too small to paint to the neighbour with the longest border,
// however their union lies, as long as it does and stretches little.
func (a *attacher) slivers() {
	m := a.doc.Mesh
	set := a.state.Settings.Sheet
	px := float64(set.Size) * math.Sqrt(0.7*float64(max(set.Tiles, 1))/max(a.total, 1e-300))
	a.compact, a.longest, a.stretch = 0, math.Inf(1), 1.05
	for _, g := range a.groups {
		g.fill = unknown
	}
	piece := a.pieceOf()
	done := map[*group]bool{}
	for _, g := range slices.Clone(a.groups) {
		if done[g] || g.alone {
			continue
		}
		done[g] = true
		around := map[int][]mesh.EdgeID{}
		var rim float64
		for _, f := range g.faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				e, t := m.Edge(h), m.Twin(h)
				if t != mesh.None && !a.state.Cut[e] {
					continue
				}
				rim += m.EdgeLength(e)
				if t == mesh.None || a.firm[e] {
					continue
				}
				if o := piece[m.FaceOf(t)]; a.groups[o] != g && !a.groups[o].alone {
					around[o] = append(around[o], e)
				}
			}
		}
		if g.total*px*px >= sliverArea && 2*g.total*px >= sliverWidth*rim {
			continue
		}
		var list []joint
		own := piece[g.faces[0]]
		for o, edges := range around {
			long := longestStraight(m, edges)
			list = append(list, joint{own, o, long, m.Length(long)})
		}
		slices.SortFunc(list, func(p, q joint) int { return cmp.Or(cmp.Compare(q.gain, p.gain), cmp.Compare(p.b, q.b)) })
		// Along the grain if it can be, else however it lies.
		for _, a.grain = range []float64{2 * math.Pi / 180, math.Pi} {
			for _, j := range list {
				if a.groups[own] == g {
					a.attach(j)
				}
			}
			g.fill = unknown
		}
	}
}

// longestStraight is the longest straight stretch of a border: two flat pieces can
// stay attached along one line only. It lists its edges in order of number.
func longestStraight(m *mesh.Mesh, edges []mesh.EdgeID) []mesh.EdgeID {
	at := map[mesh.PointID][]mesh.EdgeID{}
	for _, e := range edges {
		h := m.EdgeHalf(e)
		at[m.From(h)] = append(at[m.From(h)], e)
		at[m.To(h)] = append(at[m.To(h)], e)
	}
	dir := func(e mesh.EdgeID) r3.Vec { return r3.Unit(m.EdgeVec(m.EdgeHalf(e))) }
	var best []mesh.EdgeID
	var length float64
	done := map[mesh.EdgeID]bool{}
	for _, e := range edges {
		if done[e] {
			continue
		}
		done[e] = true
		run := []mesh.EdgeID{e}
		for i := 0; i < len(run); i++ {
			h := m.EdgeHalf(run[i])
			for _, p := range []mesh.PointID{m.From(h), m.To(h)} {
				for _, f := range at[p] {
					if !done[f] && math.Abs(r3.Dot(dir(e), dir(f))) > straight {
						done[f] = true
						run = append(run, f)
					}
				}
			}
		}
		if l := m.Length(run); l > length {
			best, length = run, l
		}
	}
	slices.Sort(best)
	return best
}

// attach joins two groups along a border if their union lies flat, or nearly so
// where that is allowed, and compact.
func (a *attacher) attach(j joint) {
	g, h := a.groups[j.a], a.groups[j.b]
	if g == h || a.state.Weight(g.part) != a.state.Weight(h.part) {
		return // attached another way already, or of another density
	}
	for _, g := range []*group{g, h} {
		if g.fill == unknown {
			g.fill = a.lay(g.faces, g.part, a.state.IsCut)
		}
		if g.fill == 0 {
			return
		}
	}
	open := make(map[mesh.EdgeID]bool, len(j.edges))
	for _, e := range j.edges {
		open[e] = true
	}
	u := &group{faces: slices.Concat(g.faces, h.faces), part: g.part, area: g.area, total: g.total + h.total}
	if h.area > g.area {
		u.part, u.area = h.part, h.area
	}
	slices.Sort(u.faces)
	u.fill = a.lay(u.faces, u.part, func(e mesh.EdgeID) bool { return a.state.Cut[e] && !open[e] })
	mean := (g.fill*g.total + h.fill*h.total) / u.total
	if u.fill == 0 || u.fill < a.compact*mean {
		return
	}
	for _, e := range j.edges {
		a.state.Cut[e] = false
	}
	for i, o := range a.groups {
		if o == g || o == h {
			a.groups[i] = u
		}
	}
}
