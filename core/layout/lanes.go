package layout

import (
	"cmp"
	"context"
	"maps"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/seam"
	"morvek/core/sheet"
)

// Lanes divides the shells that rule the sheet: one strip as long as the sheet leaves
// most of it empty, a curved band fills little of its box. They are cut across in about
// equal lengths, straight and where it shows least. The dial says how much sharper the
// sheet must get for a piece; repeats are divided alike.
type Lanes struct {
	Faces  []mesh.FaceID `json:"faces,omitempty"`  // a face of each shell; none: those that rule the sheet
	Pieces int           `json:"pieces,omitempty"` // with faces: how many of each, 0 means 2
	Pack   bool          `json:"pack,omitempty"`   // and lay all anew
}

// Kind implements Edit.
func (*Lanes) Kind() string { return "lanes" }

// Describe implements Edit.
func (e *Lanes) Describe() string {
	if len(e.Faces) == 0 {
		return "divide shells that rule the sheet"
	}
	return "divide " + count(len(e.Faces), "shell") + " across"
}

// Division is a shell that is divided, with its price.
type Division struct {
	Part     PartID
	Pieces   int
	Edges    []mesh.EdgeID
	Length   float64 // of the cuts, model units
	Exposure float64 // of the cuts, mean by length
}

// Apply implements Edit.
func (e *Lanes) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	_, cuts, s, err := e.plan(ctx, d, part(progress, 0, 0.4))
	if err != nil || len(cuts) == 0 || !e.Pack {
		return s, err
	}
	return (&Pack{}).Apply(ctx, d.With(s), part(progress, 0.4, 1))
}

// Plan gives the state after the edit with what each division costs, and how many times
// sharper everything becomes when it is packed: against the map as it lies where it is
// packed anew, else by quick packings.
func (e *Lanes) Plan(ctx context.Context, d *Document) (s *State, list []Division, sharper float64, err error) {
	r, cuts, s, err := e.plan(ctx, d, nil)
	if err != nil {
		return nil, nil, 0, err
	}
	plan := map[int]laneCut{}
	for _, c := range cuts {
		plan[c.band] = c
		f := r.bands[c.band].faces[0]
		cost := d.suggestion("", d.State.FacePart[f], c.edges)
		list = append(list, Division{cost.Part, len(c.areas), c.edges, cost.Length, cost.Exposure})
	}
	if e.Pack { // as it is against as it will be
		if s, err = (&Pack{}).Apply(ctx, d.With(s), nil); err != nil {
			return nil, nil, 0, err
		}
		first := r.bands[0]
		return s, list, s.density(d.Mesh, first.faces) / first.laid.density, nil
	}
	was, err := r.quick(ctx, nil)
	if err != nil {
		return nil, nil, 0, err
	}
	will, err := r.quick(ctx, plan)
	return s, list, will / max(was, 1e-300), err
}

func (e *Lanes) plan(ctx context.Context, d *Document, progress func(float64)) (*ruling, []laneCut, *State, error) {
	fail := func(err error) (*ruling, []laneCut, *State, error) { return nil, nil, nil, err }
	if err := checkFaces(d.Mesh, e.Faces); err != nil {
		return fail(err)
	}
	pieces := e.Pieces
	if pieces == 0 {
		pieces = 2
	}
	if pieces < 2 || pieces > mostLanes {
		return fail(refuse("a shell cannot be divided in %d; choose 2 to %d", e.Pieces, mostLanes))
	}
	r, err := d.ruling(ctx)
	if err != nil {
		return fail(err)
	}
	if len(e.Faces) == 0 {
		if d.State.Settings.Undivided {
			return fail(refuse("the settings keep shells undivided; pick the one to divide"))
		}
		cuts, err := r.choose(ctx, progress)
		if err != nil {
			return fail(err)
		}
		if len(cuts) == 0 {
			return fail(refuse("no shell rules the sheet so much that dividing it would pay"))
		}
		return r, cuts, r.divided(cuts), nil
	}
	_, of := d.State.Map.Shells(d.Mesh, d.State.IsCut)
	asked, err := shellsAsked(of, e.Faces)
	if err != nil {
		return fail(err)
	}
	var cuts []laneCut
	for i, b := range r.bands {
		if !asked(b.shell) {
			continue
		}
		if b.still {
			return fail(refuse("%s lies in a stack; take the stack apart first", d.State.Parts[d.State.FacePart[b.faces[0]]].Name))
		}
		c := r.cut(i, pieces)
		if len(c.edges) == 0 {
			return fail(refuse("no edges lead straight across this shell; cut it where you want it divided"))
		}
		cuts = append(cuts, c)
	}
	s := r.divided(cuts)
	for _, f := range e.Faces {
		s.markHand(f)
	}
	return r, cuts, s, nil
}

// mostLanes bounds the pieces one shell is divided in.
const mostLanes = 24

// ruling is all shells of a document with what they ask of the sheet.
type ruling struct {
	ctx   context.Context
	doc   *Document
	bands []band
	area  float64
	cost  seam.Cost
	known map[[2]int]laneCut // of a shell in so many pieces
}

// band is a shell at the density all have, in units of the model.
type band struct {
	shell int
	faces []mesh.FaceID
	laid  laid
	area  float64
	size  r2.Vec
	still bool // a stack wants it whole
	like  int  // the first shell that is its repeat

	weight float64
	lane   *seam.Lane
	whole  sheet.Shell
}

func (b *band) long() float64 { return longest(b.size) }

// laneCut is a shell divided: the edges to cut and the boxes of what comes of it.
type laneCut struct {
	band  int
	edges []mesh.EdgeID
	areas []float64
	sizes []r2.Vec
	seen  float64 // length of the edges, weighted by exposure

	pieces []sheet.Shell
}

// ruling lifts all shells off the sheet.
func (d *Document) ruling(ctx context.Context) (*ruling, error) {
	m, s := d.Mesh, d.State
	r := &ruling{ctx: ctx, doc: d, known: map[[2]int]laneCut{}}
	shells, _ := s.Map.Shells(m, s.IsCut)
	if len(shells) == 0 {
		return nil, refuse("nothing lies on the sheet yet; flatten something first")
	}
	partSize := map[PartID]int{}
	for _, p := range s.FacePart {
		partSize[p]++
	}
	stacked := s.stacks()
	first := map[PartID]int{} // of a root
	for k, sh := range shells {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		l := s.lift(m, sh)
		part := s.FacePart[sh.Faces[0]]
		w := orOne(s.Weight(part))
		b := band{shell: k, faces: sh.Faces, laid: l, weight: w, area: w * w * l.patch.Area(), size: r2.Scale(w, planar.Bounds(l.uv...).Size()), like: k}
		b.still = s.unstacked(stacked, sh.Faces) != nil
		if part >= 0 && partSize[part] == len(sh.Faces) && len(s.partsOf(sh.Faces)) == 1 {
			root := s.RepeatRoot(part)
			if f, ok := first[root]; ok {
				b.like = f
			} else {
				first[root] = k
			}
		}
		b.whole = r.shell(&b, l.patch, scaled(l.uv, w))
		r.bands = append(r.bands, b)
		r.area += b.area
	}
	x := d.Exposure()
	r.cost = seam.Sparing(seam.LaneCost(m, x), s.spared(m))
	return r, nil
}

// cut divides a shell in n, as far as edges lead across it.
func (r *ruling) cut(i, n int) laneCut {
	key := [2]int{i, n}
	if c, ok := r.known[key]; ok {
		return c
	}
	b := &r.bands[i]
	c := laneCut{band: i}
	if b.like != i {
		c.edges = r.within(b, r.doc.OnRepeats(r.cut(b.like, n).edges))
	} else if l := r.lane(b); l != nil {
		for _, chain := range l.Divide(n, r.cost) {
			c.edges = with(c.edges, chain)
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
		b.lane = seam.NewLane(b.laid.patch, b.laid.uv)
	}
	return b.lane
}

// within keeps the edges between faces of a shell.
func (r *ruling) within(b *band, edges []mesh.EdgeID) []mesh.EdgeID {
	own := set(b.faces)
	return slices.DeleteFunc(slices.Clone(edges), func(e mesh.EdgeID) bool {
		f, g := r.doc.Mesh.EdgeFaces(e)
		return g == mesh.None || !own[f] || !own[g] || r.doc.State.Cut[e]
	})
}

// measure finds the pieces a cut leaves and how they would lie.
func (r *ruling) measure(c *laneCut) {
	m, s, b := r.doc.Mesh, r.doc.State, &r.bands[c.band]
	own := set(c.edges)
	if x := r.doc.Exposure(); x.Prepare(r.ctx, b.faces, nil) == nil {
		for _, e := range c.edges {
			c.seen += m.EdgeLength(e) * x.Edge(e)
		}
	}
	isCut := func(e mesh.EdgeID) bool { return own[e] || s.Cut[e] || s.Map.Torn(m, e) }
	for _, faces := range m.Connected(b.faces, isCut) {
		p := mesh.NewPatch(m, faces, isCut)
		uv := s.Map.Get(p)
		scaleAll(uv, b.weight/b.laid.density)
		s.orientOwn(p, uv)
		c.pieces = append(c.pieces, r.shell(b, p, uv))
		c.areas = append(c.areas, p.Area()*b.weight*b.weight)
		c.sizes = append(c.sizes, planar.Bounds(uv...).Size())
	}
	if len(c.areas) < 2 {
		*c = laneCut{band: c.band}
	}
}

// divided cuts shells, turns what comes of them along its grain and does the same to
// their repeats.
func (r *ruling) divided(cuts []laneCut) *State {
	d := r.doc
	s := d.State.Clone()
	var edges []mesh.EdgeID
	for _, c := range cuts {
		edges = with(edges, c.edges)
	}
	for _, e := range edges {
		s.Cut[e] = true
	}
	was, of := d.State.Map.Shells(d.Mesh, d.State.IsCut)
	changed := map[int32]bool{}
	for _, e := range edges {
		f, _ := d.Mesh.EdgeFaces(e)
		changed[of[f]] = true
	}
	shells, _ := s.Map.Shells(d.Mesh, s.IsCut)
	for _, sh := range shells {
		k := of[sh.Faces[0]]
		if !changed[k] || len(sh.Faces) == len(was[k].Faces) {
			continue
		}
		l := s.lift(d.Mesh, sh)
		s.orientOwn(l.patch, l.uv)
		scaleAll(l.uv, l.density)
		s.Map.Set(l.patch, l.uv)
	}
	return s
}

// need is the side of a square sheet that shells ask for, in units of the model: as long
// as the longest, and as large as all with half of what their boxes waste.
func (r *ruling) need(plan map[int]laneCut) (side, wanted float64) {
	var sum float64
	add := func(area float64, size r2.Vec) {
		side = max(side, max(size.X, size.Y))
		sum += area + wasteLost*max(0, size.X*size.Y-area)
	}
	for i, b := range r.bands {
		c, ok := plan[i]
		if !ok {
			add(b.area, b.size)
			continue
		}
		for k := range c.areas {
			add(c.areas[k], c.sizes[k])
		}
	}
	wanted = math.Sqrt(sum / usualFill)
	return max(side, wanted), wanted
}

// wasteLost is the share of the empty part of a box that no other shell will fill,
// usualFill the coverage of shells that fill their boxes.
const (
	wasteLost = 0.5
	usualFill = 0.84
)

// score rates a plan: the logarithm of the area all shells gain, less the price of the
// pieces it adds.
func (r *ruling) score(plan map[int]laneCut) float64 {
	side, _ := r.need(plan)
	return -2*math.Log(side) - r.price(plan)
}

// price is what a plan must bring, as a share of area, for the pieces it adds and the seam
// it puts in view: the dial goes from fewer pieces to more of them.
func (r *ruling) price(plan map[int]laneCut) float64 {
	extra, seen := 0, 0.0
	for i := range r.bands { // in order, for the sum to be the same each time
		if c, ok := plan[i]; ok {
			extra += len(c.areas) - 1
			seen += c.seen
		}
	}
	return math.Pow(8, -r.doc.State.Settings.Dial) * (piecePrice*float64(extra)/float64(len(r.bands)+20) + seenPrice*seen/math.Sqrt(r.area))
}

const (
	piecePrice = 0.8  // for as many pieces more as there are
	seenPrice  = 0.45 // for a seam in full view as long as the side of all area
)

// choose finds the divisions that pay.
func (r *ruling) choose(ctx context.Context, progress func(float64)) ([]laneCut, error) {
	plan := map[int]laneCut{}
	groups := r.groups()
	best := r.score(plan)
	// How long may shells be? As long as one of them is, or a share of the side that all
	// of them need.
	var limits []float64
	for _, b := range r.bands {
		limits = append(limits, b.long())
	}
	_, wanted := r.need(plan)
	for _, share := range []float64{1.2, 1, 0.85, 0.7} {
		limits = append(limits, share*wanted)
	}
	slices.SortFunc(limits, func(a, b float64) int { return cmp.Compare(b, a) })
	limits = slices.Compact(limits)
	for k, limit := range limits {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		report(progress, 0.5*float64(k)/float64(len(limits)))
		if limit < 0.6*wanted {
			break
		}
		try := map[int]laneCut{}
		for _, g := range groups {
			if n := r.piecesFor(g[0], limit); n > 0 {
				r.divide(try, g, n)
			}
		}
		if s := r.score(try); s > best+1e-9 {
			plan, best = try, s
		}
	}
	// Bands that fill little of their box, the most wasteful first.
	waste := func(g []int) float64 {
		b := r.bands[g[0]]
		return float64(len(g)) * (b.size.X*b.size.Y - b.area)
	}
	slices.SortStableFunc(groups, func(a, b []int) int { return cmp.Compare(float32(waste(b)), float32(waste(a))) })
	for k, g := range groups {
		if waste(g) < leastWaste*r.area {
			break
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		report(progress, 0.5+0.5*float64(k)/float64(len(groups)))
		for n := 2; n <= 6; n++ {
			try := maps.Clone(plan)
			r.divide(try, g, n)
			if s := r.score(try); s > best+1e-9 {
				plan, best = try, s
			}
		}
	}
	plan, err := r.tune(ctx, plan, groups)
	if err != nil {
		return nil, err
	}
	var cuts []laneCut
	for i := range r.bands {
		if c, ok := plan[i]; ok {
			cuts = append(cuts, c)
		}
	}
	return cuts, nil
}

// leastWaste is the share of all area that a box must waste for its shell to be divided.
const leastWaste = 0.02

// tune goes on with what a quick packing says: estimates know nothing of how few large
// shells fit beside each other.
func (r *ruling) tune(ctx context.Context, plan map[int]laneCut, groups [][]int) (map[int]laneCut, error) {
	scale, err := r.quick(ctx, plan)
	if err != nil {
		return nil, err
	}
	for range tuneRounds {
		if r.area*scale*scale > wellFilled {
			break
		}
		weight := func(g []int) (w float64) { // boxes as they are now
			for _, i := range g {
				b := r.bands[i]
				sizes := []r2.Vec{b.size}
				if c, ok := plan[i]; ok {
					sizes = c.sizes
				}
				for _, s := range sizes {
					w = max(w, max(s.X, s.Y)*(max(s.X, s.Y)+2*min(s.X, s.Y)))
				}
			}
			return w
		}
		slices.SortStableFunc(groups, func(a, b []int) int { return cmp.Compare(float32(weight(b)), float32(weight(a))) })
		var next map[int]laneCut
		best := 0.0
		for _, g := range groups[:min(tuneTries, len(groups))] {
			n := 2
			if c, ok := plan[g[0]]; ok {
				n = len(c.areas) + 1
			}
			try := maps.Clone(plan)
			r.divide(try, g, n)
			now, err := r.quick(ctx, try)
			if err != nil {
				return nil, err
			}
			gain := 2*math.Log(now/scale) - r.price(try) + r.price(plan) - tuneNoise
			if gain > best {
				next, best = try, gain
			}
		}
		if next == nil {
			break
		}
		plan = next
		if scale, err = r.quick(ctx, plan); err != nil {
			return nil, err
		}
	}
	return plan, nil
}

// How far tuning goes: until the sheet is so full, for some rounds, each of which tries
// the largest shells; what a quick packing says is sure to a few hundredths.
const (
	wellFilled = 0.76
	tuneRounds = 4
	tuneTries  = 3
	tuneNoise  = 0.01
)

// quick returns the scale at which a quick packing lays shells as a plan divides them.
func (r *ruling) quick(ctx context.Context, plan map[int]laneCut) (float64, error) {
	var in []sheet.Shell
	for i := range r.bands {
		if c, ok := plan[i]; ok {
			in = append(in, c.pieces...)
		} else {
			in = append(in, r.bands[i].whole)
		}
	}
	o := r.doc.State.Settings.packing()
	o.Quick = true
	placed, err := sheet.Pack(ctx, in, o, nil)
	switch {
	case ctx.Err() != nil:
		return 0, ctx.Err()
	case err != nil:
		return 0, refuse("%v", err)
	}
	return placed[0].Scale, nil
}

// shell is a band, or a piece of it, for packing.
func (r *ruling) shell(b *band, p *mesh.Patch, uv []r2.Vec) sheet.Shell {
	s := sheet.Shell{Tris: make([]planar.Triangle, len(p.Tris)), Free: r.doc.State.grainless(b.faces)}
	for i, t := range p.Tris {
		s.Tris[i] = planar.Triangle{uv[t[0]], uv[t[1]], uv[t[2]]}
	}
	return s.Measured()
}

// groups lists shells with their repeats, which are divided alike.
func (r *ruling) groups() (out [][]int) {
	at := map[int]int{}
	for i, b := range r.bands {
		if b.still {
			continue
		}
		if k, ok := at[b.like]; ok {
			out[k] = append(out[k], i)
			continue
		}
		at[b.like] = len(out)
		out = append(out, []int{i})
	}
	return out
}

// divide plans to part each of some shells in n.
func (r *ruling) divide(plan map[int]laneCut, group []int, n int) {
	for _, i := range group {
		if c := r.cut(i, n); len(c.edges) > 0 {
			plan[i] = c
		}
	}
}

// piecesFor is the number of pieces that makes none of a shell longer than a limit, 0
// if it is short enough or cannot be divided so.
func (r *ruling) piecesFor(i int, limit float64) int {
	long := r.bands[i].long()
	if long <= limit*(1+1e-9) || !(long < mostLanes*limit) {
		return 0
	}
	least := int(math.Ceil(long/limit - 1e-9))
	for n := least; n <= min(2*least+1, mostLanes); n++ {
		c := r.cut(i, n)
		if len(c.edges) > 0 && !slices.ContainsFunc(c.sizes, func(s r2.Vec) bool { return max(s.X, s.Y) > 1.02*limit }) {
			return n
		}
	}
	return 0
}
