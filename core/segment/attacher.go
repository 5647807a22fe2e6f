package segment

import (
	"context"
	"math"
	"runtime"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/planar"
	"morvek/core/unroll"
)

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
	part  document.PartID // of its largest piece
	area  float64         // of that piece
	total float64
	own   []int   // its pieces
	fill  float64 // share of its box that it covers, its grain straight; 0 does not lie so
	alone bool    // does not take part
	soft  bool    // one of its parts bends away at its rims, so that it lies flat only nearly
}

// attacher merges pieces greedily, the most exposed border first. Components of the mesh
// know nothing of each other and are worked on side by side, each by a copy of it.
type attacher struct {
	ctx    context.Context
	doc    *document.Document
	state  *document.Tx
	cut    []bool // per edge, as it will be
	firm   map[mesh.EdgeID]bool
	groups []*group // per piece, shared when attached
	within []int32  // component of each piece
	total  float64  // area of the mesh

	longest float64 // side that a union may have, model units
	worth   float64 // how much a union may waste of the sheet for a seam less, by the dial
	wastes  float64 // how much a union may waste whatever it is worth
	stretch float64 // L² that a union may have; up to 1 it must lie flat
	grain   float64 // radians that a union may lie off the grain of its parts

	tried map[union]laid // while unions are tried again with another grain
}

// union is two groups joined along one border.
type union struct {
	g, h *group
	b    int // piece of the joint
}

// sideBySide does something for each of a list in order, but for what belongs to pieces
// of different components of the mesh at the same time.
func sideBySide[T any](a *attacher, list []T, pieceOf func(T) int, do func(*attacher, T)) error {
	at := map[int32][]T{}
	var order []int32
	for _, x := range list {
		c := a.within[pieceOf(x)]
		if len(at[c]) == 0 {
			order = append(order, c)
		}
		at[c] = append(at[c], x)
	}
	g, ctx := parallel.WithContext(a.ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for _, c := range order {
		g.Go(func() error {
			own := *a
			for _, x := range at[c] {
				if err := ctx.Err(); err != nil {
					return err
				}
				do(&own, x)
			}
			return nil
		})
	}
	err := g.Wait()
	for e, cut := range a.cut { // components share no edge, but a change has one writer
		a.state.Map.SetCut(mesh.EdgeID(e), cut)
	}
	return err
}

func (a *attacher) isCut(e mesh.EdgeID) bool { return a.cut[e] }

// exact tells whether unions must lie flat without stretch.
func (a *attacher) exact() bool { return a.stretch <= 1 }

// yields is the share of a union that may lie off its grain: tiny pieces yield to large
// ones, as long as all of it stays within 2° in the mean.
const yields = 4e-4

// mostRelaxed bounds the faces of a union that is flattened only to see how much it
// would stretch.
const mostRelaxed = 4000

// What a union may be where it bends away at its rims.
const (
	softStretch = 1.003             // L²
	softGrain   = 2 * math.Pi / 180 // in the mean: its rims lie off the grain
)

// laid is a map of a union, its grain straight; without one, it does not lie.
type laid struct {
	patch *mesh.Patch
	uv    []r2.Vec
}

// flat lays faces as one shell: nothing comes of it if they stretch too much or land on themselves.
func (a *attacher) flat(g *group, cut func(mesh.EdgeID) bool) laid {
	faces, part := g.faces, g.part
	p := mesh.NewPatch(a.doc.Mesh, faces, cut)
	uv, _, ok := unroll.Rigid(p)
	most := a.stretch
	if g.soft {
		most = max(most, softStretch)
	}
	if !ok {
		if most <= 1 || len(faces) > mostRelaxed || !p.IsDisk() {
			return laid{}
		}
		r, err := unroll.Unroll(a.ctx, p, a.state.Fit(part), flatten.Settings{})
		if err != nil {
			return laid{}
		}
		uv = r.UV
		flatten.TrueScale(p, uv)
		if l2, _ := p.Stretch(uv); l2 > most {
			return laid{}
		}
	}
	if flatten.Flips(p, uv) > 0 || !unroll.Loosen(p, uv) {
		return laid{}
	}
	lay.Orient(a.state.State, p, uv, part)
	return laid{p, uv}
}

// fill is how compact a shell lies: the share of its box it fills, or 0 if it lies nowhere or off the grain.
func (a *attacher) fill(l laid, soft bool) float64 {
	if l.uv == nil {
		return 0
	}
	p, uv := l.patch, l.uv
	var off, squares float64 // area that would lie off its grain
	a.state.EachWish(p, uv, func(_ int32, g flow.Grain, d mesh.Differential, w, n r3.Vec) {
		e := flow.Error(w, g.Sense, a.state.Settings.Flow(), d, n)
		squares += e * e * d.Area
		if e > a.grain {
			off += d.Area
		}
	})
	if soft && squares > softGrain*softGrain*p.Area() || !soft && off > yields*p.Area() {
		return 0
	}
	size := planar.Bounds(uv...).Size()
	if math.Max(size.X, size.Y) > a.longest {
		return 0
	}
	return p.Area() / math.Max(size.X*size.Y, 1e-300)
}

// What a union may waste of the sheet, as a share of all area: for a seam in full view as
// long as the side of it, and for as many pieces less as there are.
const (
	seamWorth  = 1
	pieceWorth = 0.05
)

// attach joins two groups along a border if their union lies flat, or nearly so
// where that is allowed, and wastes no more of the sheet than the seam is worth.
func (a *attacher) attach(j joint) {
	g, h := a.groups[j.a], a.groups[j.b]
	if g == h || a.state.Weight(g.part) != a.state.Weight(h.part) {
		return // attached another way already, or of another density
	}
	for _, g := range []*group{g, h} {
		if g.fill == unknown {
			g.fill = a.fill(a.flat(g, a.isCut), g.soft)
		}
		if g.fill == 0 {
			return
		}
	}
	open := ids.Set(j.edges)
	u := &group{faces: slices.Concat(g.faces, h.faces), part: g.part, area: g.area, total: g.total + h.total, own: slices.Concat(g.own, h.own), soft: g.soft || h.soft}
	if h.area > g.area {
		u.part, u.area = h.part, h.area
	}
	slices.Sort(u.faces)
	key := union{g, h, j.b}
	l, known := a.tried[key]
	if !known {
		l = a.flat(u, func(e mesh.EdgeID) bool { return a.cut[e] && !open[e] })
	}
	if a.tried != nil {
		a.tried[key] = l
	}
	u.fill = a.fill(l, u.soft)
	if u.fill == 0 {
		return
	}
	waste := u.total/u.fill - g.total/g.fill - h.total/h.fill // what its box adds to theirs
	if waste /= a.total; waste > a.wastes || waste > a.worth*(seamWorth*j.gain/math.Sqrt(a.total)+pieceWorth/float64(len(a.groups)+20)) {
		return
	}
	for _, e := range j.edges {
		a.cut[e] = false
	}
	for _, i := range u.own {
		a.groups[i] = u
	}
}
