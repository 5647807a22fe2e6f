package segment

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/sheet"
	"morvek/core/unroll"
)

// ruling is all shells of a document with what they ask of the sheet.
type ruling struct {
	ctx    context.Context
	doc    *document.Document
	bands  []band // as the shells are numbered
	area   float64
	cost   seam.Cost
	known  map[[2]int]laneCut  // of a shell in so many pieces
	alike  map[*band]bool      // whether a shell is open as the one whose repeat it is
	quicks map[string]estimate // what quick packings said of plans
}

// estimate is the scale a quick packing reached, 0 where that is not above a bound.
type estimate struct{ scale, above float64 }

// band is a shell at the density all have, in units of the model.
type band struct {
	faces []mesh.FaceID
	laid  atlas.Lifted
	area  float64
	size  r2.Vec
	still bool    // a stack wants it whole
	like  int     // the first shell that is its repeat
	off   float64 // area that lies off its grain

	weight   float64
	lane     *seam.Lane
	attached *attached
	whole    sheet.Shell
}

func (b *band) long() float64 { return longest(b.size) }

func longest(size r2.Vec) float64 { return max(size.X, size.Y) }

// laneCut is a shell divided: the edges to cut and the boxes of what comes of it.
type laneCut struct {
	band  int
	edges []mesh.EdgeID
	areas []float64
	sizes []r2.Vec
	seen  float64 // length of the edges, weighted by exposure
	off   float64 // area that lies off its grain

	joints int // borders of parts it takes apart, 0 for a cut across
	pieces []sheet.Shell
}

// newRuling lifts all shells off the sheet.
func newRuling(d *document.Document, ctx context.Context) (*ruling, error) {
	m, s := d.Mesh, d.State
	r := &ruling{ctx: ctx, doc: d, known: map[[2]int]laneCut{}, alike: map[*band]bool{}, quicks: map[string]estimate{}}
	shells, _ := s.Map.Shells()
	if len(shells) == 0 {
		return nil, document.Refuse("nothing lies on the sheet yet; flatten something first")
	}
	partSize := map[document.PartID]int{}
	for _, p := range s.FaceParts() {
		partSize[p]++
	}
	stacked := s.Stacks()
	first := map[document.PartID]int{} // of a root
	for k, sh := range shells {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		l := s.Map.Lift(sh)
		part := s.PartOf(sh.Faces[0])
		w := atlas.OrOne(s.Weight(part))
		b := band{faces: sh.Faces, laid: l, weight: w, area: w * w * l.Patch.Area(), size: r2.Scale(w, planar.Bounds(l.UV...).Size()), like: k}
		b.still = s.Unstacked(stacked, sh.Faces) != nil
		if part >= 0 && partSize[part] == len(sh.Faces) && len(s.PartsOf(sh.Faces)) == 1 {
			root := s.RepeatRoot(part)
			if f, ok := first[root]; ok {
				b.like = f
			} else {
				first[root] = k
			}
		}
		b.off = w * w * r.offGrain(l.Patch, l.UV)
		uv := slices.Clone(l.UV)
		atlas.Scale(uv, w)
		b.whole = r.shell(&b, l.Patch, uv)
		r.bands = append(r.bands, b)
		r.area += b.area
	}
	x := d.Exposure()
	r.cost = seam.Sparing(seam.LaneCost(m, x), s.Spared(m))
	return r, nil
}

// wishes returns the direction on the sheet that each face wishes, NaN for none.
func (r *ruling) wishes(p *mesh.Patch, uv []r2.Vec) []float64 {
	out := make([]float64, len(p.Faces))
	for f := range out {
		out[f] = math.NaN()
	}
	r.doc.State.EachWish(p, uv, func(f int32, _ flow.Grain, d mesh.Differential, w, _ r3.Vec) {
		q := d.Push(w)
		out[f] = math.Atan2(q.Y, q.X)
	})
	return out
}

// offGrain is the area of a shell that lies off its grain by more than anybody overlooks.
func (r *ruling) offGrain(p *mesh.Patch, uv []r2.Vec) (area float64) {
	const overlooked = 10 * math.Pi / 180
	r.doc.State.EachWish(p, uv, func(_ int32, _ flow.Grain, d mesh.Differential, w, n r3.Vec) {
		if flow.Error(w, false, r.doc.State.Settings.Flow(), d, n) > overlooked {
			area += d.Area
		}
	})
	return area
}

// divided cuts shells, lays what comes of them anew where that stretches less, and turns it
// along its grain.
func (r *ruling) divided(cuts []laneCut) *document.State {
	d := r.doc
	s := d.Begin()
	var edges []mesh.EdgeID
	for _, c := range cuts {
		edges = ids.With(edges, c.edges)
	}
	for _, e := range edges {
		s.Map.SetCut(e, true)
	}
	was, of := d.State.Map.Shells()
	changed := map[int32]bool{}
	for _, e := range edges {
		f, _ := d.Mesh.EdgeFaces(e)
		changed[of[f]] = true
	}
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		k := of[sh.Faces[0]]
		if !changed[k] || len(sh.Faces) == len(was[k].Faces) {
			continue
		}
		l := s.Map.Lift(sh)
		r.relax(&l, s.Fit(s.PartOf(sh.Faces[0])))
		lay.OrientOwn(s.State, l.Patch, l.UV)
		atlas.Scale(l.UV, l.Density)
		s.Map.Set(l.Patch, l.UV)
	}
	return s.Done()
}

// relax lays a piece of a stretched shell anew: free of the rest it may lie better.
func (r *ruling) relax(l *atlas.Lifted, fit shape.Fit) {
	was, _ := l.Patch.Stretch(l.UV)
	if was < 1+leastStretch {
		return
	}
	again, err := unroll.Unroll(r.ctx, l.Patch, fit, flatten.Settings{})
	if err != nil || flatten.Flips(l.Patch, again.UV) > 0 || !unroll.Loosen(l.Patch, again.UV) || lay.Loses(l.Patch, again.UV) {
		return
	}
	flatten.TrueScale(l.Patch, again.UV)
	if now, _ := l.Patch.Stretch(again.UV); now < was {
		l.UV = again.UV
	}
}

// leastStretch is the L² stretch beyond 1 from which laying a piece anew may gain anything.
const leastStretch = 3e-4

// shell is a band, or a piece of it, for packing.
func (r *ruling) shell(b *band, p *mesh.Patch, uv []r2.Vec) sheet.Shell {
	s := sheet.Shell{Tris: make([]planar.Triangle, len(p.Tris)), Free: lay.Grainless(r.doc.State, b.faces)}
	for i, t := range p.Tris {
		s.Tris[i] = planar.Triangle{uv[t[0]], uv[t[1]], uv[t[2]]}
	}
	return s.Measured()
}
