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
// the dial's to say: 0 attaches whatever lies flat, 1 nothing.
type Attach struct{}

// Kind implements Edit.
func (*Attach) Kind() string { return "attach" }

// Describe implements Edit.
func (*Attach) Describe() string { return "leave what lies flat attached" }

// Apply implements Edit.
func (e *Attach) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s := d.State.Clone()
	if s.Settings.Dial >= 1 {
		return s, nil
	}
	a := newAttacher(d, s)
	list := a.candidates()
	for i, c := range list {
		if i%64 == 0 {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			report(progress, float64(i)/float64(len(list)))
		}
		a.attach(c)
	}
	return s, nil
}

// straight is the cosine of the largest turn, 1 degree, within a straight border.
const straight = 0.99985

// joint is the border along which two pieces may stay attached.
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
	fill  float64 // share of its box that it covers, its grain straight; 0 stays alone
}

type attacher struct {
	doc    *Document
	state  *State
	groups []*group // per piece, shared when attached

	longest float64 // side that a union may have, model units
	compact float64 // least fill of a union relative to that of its pieces
}

func newAttacher(d *Document, s *State) *attacher {
	a := &attacher{doc: d, state: s, compact: min(1.8*s.Settings.Dial, 0.8+0.2*s.Settings.Dial)}
	var total float64
	for _, area := range d.Mesh.FaceAreas() {
		total += area
	}
	a.longest = 0.35 / s.Settings.Dial * math.Sqrt(total) // longer strips are hard to lay out
	for _, p := range s.pieces(d.Mesh) {
		g := &group{faces: p.faces, part: p.part, fill: unknown}
		for _, f := range p.faces {
			g.area += d.Mesh.FaceAreas()[f]
		}
		g.total = g.area
		if p.part < 0 || !isSheet(s.Parts[p.part].Fit.Kind) {
			g.fill = 0
		}
		a.groups = append(a.groups, g)
	}
	return a
}

// lay returns how compact faces would lie as one shell: the share of its box they
// fill, or 0 if they do not lie flat, land on themselves, or lie off the grain.
func (a *attacher) lay(faces []mesh.FaceID, part PartID, cut func(mesh.EdgeID) bool) float64 {
	p := mesh.NewPatch(a.doc.Mesh, faces, cut)
	uv, gap := unroll.Unfold(p)
	if gap > 1e-7*math.Sqrt(p.Area()) || flatten.Flips(p, uv) > 0 || overlapsItself(p, uv) {
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
		if off, has := flow.Error(g, set, d[i], a.doc.Mesh.FaceNormals()[f]); has && off > 0.5*math.Pi/180 {
			return 0
		}
	}
	size := planar.Bounds(uv...).Size()
	if math.Max(size.X, size.Y) > a.longest {
		return 0
	}
	return p.Area() / math.Max(size.X*size.Y, 1e-300)
}

// candidates lists the borders between pieces that lie flat, the most exposed first.
func (a *attacher) candidates() []joint {
	m := a.doc.Mesh
	piece := make([]int, m.NumFaces())
	for i, g := range a.groups {
		for _, f := range g.faces {
			piece[f] = i
		}
	}
	at := map[[2]int]*joint{}
	for e := range m.NumEdges() {
		id := mesh.EdgeID(e)
		f, g := m.EdgeFaces(id)
		if g == mesh.None || !a.state.Cut[e] || piece[f] == piece[g] || a.groups[piece[f]].fill == 0 || a.groups[piece[g]].fill == 0 {
			continue
		}
		k := [2]int{min(piece[f], piece[g]), max(piece[f], piece[g])}
		if at[k] == nil {
			at[k] = &joint{a: k[0], b: k[1]}
		}
		at[k].edges = append(at[k].edges, id)
	}
	var out []joint
	for _, j := range at {
		long := longestStraight(m, j.edges)
		if m.Length(long) > m.Length(j.edges)/2 {
			out = append(out, joint{j.a, j.b, long, a.gain(long)})
		}
	}
	slices.SortFunc(out, func(p, q joint) int {
		return cmp.Or(cmp.Compare(float32(q.gain), float32(p.gain)), cmp.Compare(p.a, q.a), cmp.Compare(p.b, q.b))
	})
	return out
}

// gain is the length of edges, those in view counting most. Exposure is taken from
// the first and the middle edge alone: rays are dear, and a border is short.
func (a *attacher) gain(edges []mesh.EdgeID) float64 {
	x := a.doc.Exposure()
	seen := (x.Edge(edges[0]) + x.Edge(edges[len(edges)/2])) / 2
	return a.doc.Mesh.Length(edges) * (0.05 + seen)
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

// attach joins two groups along a border if their union lies flat and compact.
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
