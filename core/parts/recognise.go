// Package parts reads a mesh as a tree: the parts that a modeler would have made, walls,
// plates, cones, domes, elbows and rods of machine parts, each with the shape that fits and
// the parts it is made of.
//
// Faces are gathered into facets, facets over smooth sides into components. A component that
// one shape explains is that; otherwise it is split into the shapes grown on it (see split),
// exact ones first, and what nobody explains stays together. Then parts are united where a
// modeler maps them as one: coaxial walls, the teeth of a gear, the strips of a bent bar, and
// narrow chamfers with a neighbour. Every union says up to which detail it holds, so that
// parts are a cut through the tree.
package parts

import (
	"cmp"
	"context"
	"errors"
	"maps"
	"math"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/shape"
)

// Options are the settings of a recognition.
type Options struct {
	CreaseDeg float64 // bends above this are creases; 0 means 30
	Tolerance float64 // how far points may be off their shape, as a share of the diagonal; 0 measures the mesh
	Detail    float64 // 0 few parts … 1 primitives; 0.5 is what people expect
	// Exposure tells how visible a face is, 0 to 1; nil treats all alike. It
	// decides which neighbour a chamfer goes with.
	Exposure func(mesh.FaceID) float64
	// Faces limits recognition to some faces; nil means all.
	Faces []mesh.FaceID
}

// Default returns the settings the pipeline uses.
func Default() Options { return Options{CreaseDeg: 30, Detail: 0.5} }

// Part is a set of connected faces with its shape.
type Part struct {
	Faces  []mesh.FaceID // ascending
	Fit    shape.Fit
	Pieces []Part  // the parts it unites; together they have all its faces
	Until  float64 // the detail above which it is its pieces rather than one
	Note   string  // what could not be done, in plain words

	fillet bool // it lies between two others, of which one takes it
}

// Recognise splits all faces of a mesh into parts, ordered by falling area.
// progress may be nil; it is called with a share between 0 and 1.
func Recognise(ctx context.Context, m *mesh.Mesh, o Options, progress func(float64)) ([]Part, error) {
	t, err := Read(ctx, m, o, progress)
	return t.Cut(m, o.Detail), err
}

// Read reads a mesh as a tree, down to the detail of the options at least. progress may be
// nil; it is called with a share between 0 and 1.
func Read(ctx context.Context, m *mesh.Mesh, o Options, progress func(float64)) (Tree, error) {
	if o.CreaseDeg == 0 {
		o.CreaseDeg = 30
	}
	tol := newTolerance(m, o.Tolerance)
	list := facets(m, o.Faces, o.CreaseDeg*math.Pi/180, tol)
	models := sync.Pool{New: func() any {
		return &model{mesh: m, list: list, tol: tol, diag: m.Diagonal(), stamp: make([]int32, len(list))}
	}}
	g := models.Get().(*model)
	bars, sets := g.coarseBars(components(list))
	found := make([][]Part, len(sets))
	var done atomic.Int64
	eg, within := parallel.WithContext(ctx)
	eg.SetLimit(runtime.GOMAXPROCS(0))
	for i, set := range sets {
		eg.Go(func() error {
			g := models.Get().(*model)
			defer models.Put(g)
			err := parallel.Catch(func() (err error) {
				found[i], err = g.component(set, within.Err)
				return err
			})
			if p := new(parallel.Panic); errors.As(err, &p) { // whatever is wrong with it, the others go on
				free := g.part(set, shape.Fit{Kind: shape.Free, Origin: g.list[set[0]].centre})
				free.Note = "its shape could not be read"
				found[i], err = []Part{free}, nil
			}
			if n := done.Add(1); progress != nil && n%32 == 0 {
				progress(0.8 * float64(n) / float64(len(sets)))
			}
			return cmp.Or(err, within.Err())
		})
	}
	if err := eg.Wait(); err != nil {
		return nil, err
	}
	out := g.followThreads(append(slices.Concat(found...), bars...))
	for _, detail := range steps {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if detail == usual {
			out = g.uniteTeeth(out)
			out = uniteToothed(m, out)
		}
		out = uniteTurned(m, out, detail)
		if detail == usual {
			out = uniteBars(m, out)
			out = uniteCrumbs(m, out)
			out = uniteRings(m, out)
		}
		out = absorbStrips(m, out, o, detail)
		if detail == usual {
			out = absorbScraps(m, out)
		}
		if detail <= o.Detail {
			break
		}
	}
	if o.Detail == 0 {
		out = uniteWhole(m, out)
	}
	byArea(m, out)
	if progress != nil {
		progress(1)
	}
	return out, nil
}

// component turns a smooth component into parts.
func (g *model) component(set []int, progress func() error) ([]Part, error) {
	one := func(f shape.Fit) Part { return g.part(set, f) }
	var area float64
	for _, i := range set {
		area += g.list[i].area
	}
	if area == 0 {
		p := one(shape.Fit{Kind: shape.Free, Origin: g.list[set[0]].centre})
		p.Note = "faces without area"
		return []Part{p}, nil
	}
	whole, explained := g.whole(set)
	if explained && whole.Kind != shape.Turned {
		return g.extrusion(set, whole, progress)
	}
	if !explained || whole.Kind == shape.Turned { // of little pitch it looks turned
		if f, ok := g.winding(set); ok && (!explained || f.Bend < screwBend*whole.Bend) {
			return []Part{one(f)}, nil
		}
	}
	if !explained && len(set) > 1 && g.plates(set) {
		var flats []Part
		for _, i := range set {
			flats = append(flats, g.part([]int{i}, shape.FitPlane(g.gather([]int{i}))))
		}
		return flats, nil
	}
	if len(set) == 1 {
		if g.list[set[0]].normal == (r3.Vec{}) { // a polygon that crosses itself faces nowhere
			return []Part{one(shape.Fit{Kind: shape.Free, Origin: g.list[set[0]].centre})}, nil
		}
		return []Part{one(shape.FitPlane(g.gather(set)))}, nil
	}
	if !explained {
		if parts, err := g.drafted(set, progress); err != nil || parts != nil {
			return parts, err
		}
		for _, sweep := range []func([]int) (shape.Fit, bool){g.gutter, g.bead} {
			if f, ok := sweep(set); ok {
				return []Part{one(f)}, nil
			}
		}
	}
	swept, isTube := shape.Fit{}, false
	if len(set) >= 6 {
		swept, isTube = tube(g.mesh, g.faces(set))
		isTube = isTube && !(explained && g.closesAbout(whole, set) && !winds(swept.Spine, whole)) // else a bar, however far it bends
	}
	chosen, left, err := g.split(set, !explained, progress)
	if err != nil {
		return nil, err
	}
	if explained {
		if chosen, left, err = g.alongProfile(set, whole, chosen, left, progress); err != nil {
			return nil, err
		}
		chosen, left = g.vases(whole, chosen, left)
	}
	if !explained && !isTube {
		swept, isTube = g.closedBar(set, chosen)
	}
	chosen, left = g.byChance(chosen, left)
	chosen, left = g.fill(chosen, left)
	var pieces []Part
	if g.isCage(chosen, left) {
		if pieces, left, err = g.soften(chosen, left, progress); err != nil {
			return nil, err
		}
		chosen = nil
	}
	var inPieces, inPipes float64
	for _, r := range chosen {
		f := r.fit
		if better := g.exact(r.set, f); better.Error < 0.7*f.Error && g.holds(better, r.set) { // not for noise: pieces of a profile share its axis
			f = better
		}
		p, err := g.extrusion(r.set, f, progress)
		if err != nil {
			return nil, err
		}
		pieces = append(pieces, p...)
		inPieces += r.area
		if f.Kind == shape.Cylinder || f.Kind == shape.Torus {
			inPipes += r.area
		}
	}
	for _, rest := range left {
		if explained && g.closesAbout(whole, rest) {
			pieces = append(pieces, g.turnedAs(whole, rest))
		} else {
			pieces = append(pieces, g.part(rest, g.remnant(rest)))
		}
	}
	bent, isStrip := g.strip(set)
	bevel := slices.ContainsFunc(pieces, func(p Part) bool { return p.Fit.Kind == shape.Cone }) && !g.isEdge(set) // round the outline of a plate
	isStrip = isStrip && !bevel &&
		slices.ContainsFunc(pieces, func(p Part) bool { return p.Fit.Kind != shape.Plane })
	as := func(fit shape.Fit, ok bool) ([]Part, error) {
		if ok && len(pieces) > 1 {
			return []Part{compound(pieces, together, fit)}, nil
		}
		return []Part{one(fit)}, nil
	}
	switch {
	case isStrip && len(pieces) > 1:
		return as(bent, true)
	case isTube:
		return as(swept, inPipes > 0.9*area) // pipe, elbow, pipe
	case explained && (len(chosen) < 2 || inPieces < 0.8*area || g.flowing(chosen) && g.goesRound(set, whole)):
		if lids, rest := g.lids(set, whole, chosen); len(lids) > 0 {
			return append(lids, g.turnedAs(whole, rest)), nil
		}
		return as(whole, len(chosen) > 1 && inPieces >= 0.8*area) // slices, but they may be exact
	}
	return pieces, nil
}

// isEdge tells whether a strip is the edge of a sheet, steep to both of its sides, rather
// than a bevel.
func (g *model) isEdge(set []int) bool {
	var bend, long float64
	for _, i := range set {
		for _, s := range g.list[i].sides {
			if !s.smooth {
				bend += s.length * s.bend
				long += s.length
			}
		}
	}
	return bend > steepest*long
}

// remnant is the shape of what no shape was found on.
func (g *model) remnant(set []int) shape.Fit {
	if flat := shape.FitPlane(g.gather(set)); g.holds(flat, set) {
		return flat
	}
	if f, ok := g.winding(set); ok {
		return f
	}
	if t, ok := tube(g.mesh, g.faces(set)); ok {
		return t
	}
	return shape.Fit{Kind: shape.Free, Origin: g.gather(set).Centres[0]}
}

// extrusion is a region as a part; an extruded one has the planes and cylinders of its
// section as pieces. A flat with nothing but bevels beside it is no extrusion: the bevels
// may go on round its corners. Those of several rows stay together.
func (g *model) extrusion(set []int, f shape.Fit, progress func() error) ([]Part, error) {
	if f.Kind == shape.Extruded {
		pieces, err := g.primitives(set, progress)
		if err != nil {
			return nil, err
		}
		if g.bevelled(pieces) {
			return g.bevels(set, pieces, f), nil
		}
		if len(pieces) > 1 {
			return []Part{compound(pieces, together, f)}, nil
		}
	}
	return []Part{g.part(set, f)}, nil
}

// bevels joins the rows of rounds beside a flat: three and more that go over into each other, none of which
// is a wall beside the others, are one part. set are the facets of all, f the extrusion they are.
func (g *model) bevels(set []int, parts []Part, f shape.Fit) (out []Part) {
	rest := g.inNone(set, slices.MaxFunc(parts, func(a, b Part) int { return cmp.Compare(partArea(g.mesh, a), partArea(g.mesh, b)) }))
	joined := map[mesh.FaceID]bool{}
	for _, round := range g.connected(rest) {
		var rows []Part
		var all, most float64
		in := ids.Set(g.faces(round))
		for _, p := range parts {
			if in[p.Faces[0]] {
				rows = append(rows, p)
				all += partArea(g.mesh, p)
				most = max(most, partArea(g.mesh, p))
			}
		}
		if len(rows) >= shape.Extruded.Traits().Least && most < all/2 {
			out = append(out, compound(rows, together, f))
			maps.Copy(joined, in)
		}
	}
	for _, p := range parts {
		if !joined[p.Faces[0]] {
			out = append(out, p)
		}
	}
	return out
}

// inNone lists the facets of a set that are not in a part.
func (g *model) inNone(set []int, p Part) (out []int) {
	own := ids.Set(p.Faces)
	for _, i := range set {
		if !own[g.list[i].faces[0]] {
			out = append(out, i)
		}
	}
	return out
}

// bevelled tells whether parts are a flat and narrow flats beside it.
func (g *model) bevelled(pieces []Part) bool {
	var all, most float64
	for _, p := range pieces {
		if p.Fit.Kind != shape.Plane {
			return false
		}
		a := partArea(g.mesh, p)
		all += a
		most = max(most, a)
	}
	return len(pieces) > 1 && most > flatShare*all && all-most < bevelArea*float64(len(pieces)-1)*most
}

const (
	flatShare = 0.75 // of a bevelled flat
	bevelArea = 0.08 // of a bevel, beside the flat
)

// primitives returns the planes and the cylinders that an extruded set of facets is made
// of; none if it is made of one.
func (g *model) primitives(set []int, progress func() error) ([]Part, error) {
	chosen, rest, err := g.cover(set, g.walls, len(set), progress)
	if err != nil {
		return nil, err
	}
	var out []Part
	for _, r := range chosen {
		out = append(out, g.part(r.set, r.fit))
	}
	for _, i := range rest {
		out = append(out, g.part([]int{i}, shape.FitPlane(g.gather([]int{i}))))
	}
	if len(out) < 2 {
		return nil, nil
	}
	return out, nil
}

// flowing tells whether regions go over into each other with hardly a bend, as
// the bands of a curved profile do, or if one of them is itself nothing more than
// turned: then they are slices rather than pieces.
func (g *model) flowing(regions []region) bool {
	owner := map[int]int{}
	straight := false
	for k, r := range regions {
		if r.fit.Kind == shape.Turned {
			return true
		}
		if r.fit.Kind == shape.Plane || r.fit.Kind == shape.Torus {
			straight = true // lids and fillets
		}
		for _, i := range r.set {
			owner[i] = k
		}
	}
	var bend, length float64
	for i, k := range owner {
		for _, s := range g.list[i].sides {
			if o, ok := owner[s.other]; ok && o != k {
				bend += s.length * s.bend
				length += s.length
			}
		}
	}
	return !straight && length > 0 && bend < 6*math.Pi/180*length
}

// goesRound tells whether facets surround the axis of a turned shape for half a
// turn at least; a bent rod is nearly turned about an axis far away.
func (g *model) goesRound(set []int, f shape.Fit) bool {
	n := g.sectors(set, f)
	return n >= sectors/2 || n >= len(set)
}

// sectors is into how many equal ones the way round an axis is divided.
const sectors = 24

// sectors counts those round the axis of a shape in which there is a facet, or part of one.
func (g *model) sectors(set []int, f shape.Fit) (n int) {
	angle := angleAbout(f.Axis, f.Origin)
	sector := func(p r3.Vec) int { return min(sectors-1, int(sectors*(angle(p)/(2*math.Pi)+0.5))) }
	var at [sectors]bool
	for _, i := range set {
		mid := sector(g.list[i].centre)
		at[mid] = true
		for _, p := range g.list[i].knots { // from its middle to its corners, the short way
			k := sector(g.mesh.Points[p])
			for step := (k - mid + sectors) % sectors; k != mid; {
				if step <= sectors/2 {
					k = (k - 1 + sectors) % sectors
				} else {
					k = (k + 1) % sectors
				}
				at[k] = true
			}
		}
	}
	for _, hit := range at {
		if hit {
			n++
		}
	}
	return n
}

// winds tells whether a spine goes round an axis and along it too, as that of a spring does:
// a ring that is nearly turned about the axis.
func winds(spine []r3.Vec, f shape.Fit) bool {
	lo, hi := math.Inf(1), math.Inf(-1)
	off := 0.0
	for _, p := range spine {
		t := r3.Dot(r3.Sub(p, f.Origin), f.Axis)
		lo, hi = min(lo, t), max(hi, t)
		off += axisDistance(p, f.Axis, f.Origin) / float64(len(spine))
	}
	var long float64
	for k := 1; k < len(spine); k++ {
		long += r3.Norm(r3.Sub(spine[k], spine[k-1]))
	}
	return off > 0.1*f.Radius && hi-lo < 0.9*long && long > 2*math.Pi*off*0.75 && hi-lo > 0.02*long
}

// connected splits a set of facets into what hangs together over smooth sides.
func (g *model) connected(set []int) (out [][]int) {
	in := make(map[int]bool, len(set))
	for _, i := range set {
		in[i] = true
	}
	for _, i := range set {
		if !in[i] {
			continue
		}
		delete(in, i)
		group := []int{i}
		for k := 0; k < len(group); k++ {
			for _, s := range g.list[group[k]].sides {
				if s.smooth && in[s.other] {
					delete(in, s.other)
					group = append(group, s.other)
				}
			}
		}
		out = append(out, group)
	}
	return out
}

func (g *model) part(set []int, f shape.Fit) Part {
	p := Part{Faces: g.faces(set), Fit: f}
	slices.Sort(p.Faces)
	return p
}

func partArea(m *mesh.Mesh, p Part) (a float64) {
	for _, f := range p.Faces {
		a += m.FaceAreas()[f]
	}
	return a
}

// Alternatives returns how well each kind fits some faces, one at least, the best
// first: errors beside each other, so that one can choose. Free comes last.
func Alternatives(m *mesh.Mesh, faces []mesh.FaceID) []shape.Fit {
	tol := newTolerance(m, 0)
	g := &model{mesh: m, tol: tol, diag: m.Diagonal()}
	set := make([]int, len(faces))
	for i, f := range faces {
		g.list = append(g.list, facet{faces: []mesh.FaceID{f}, normal: m.FaceNormals()[f], centre: m.FaceCentre(f), area: m.FaceAreas()[f], knots: m.FacePoints(f)})
		set[i] = i
	}
	fits := g.fits(set, false)
	if t, ok := tube(m, faces); ok {
		fits = append(fits, t)
	}
	if len(faces) > 1 {
		fits = append(fits, shape.FitBox(g.gather(set)))
	}
	if h := shape.FitHelix(g.gather(set)); len(faces) >= shape.Helix.Traits().Least && !slices.ContainsFunc(fits, func(f shape.Fit) bool { return f.Bend < h.Bend/screwBend }) {
		h.Pitch *= g.flattened(set, h) // what is turned or drawn out winds at any pitch
		fits = append(fits, h)
	}
	fits = slices.DeleteFunc(fits, func(f shape.Fit) bool {
		return math.IsInf(f.Error, 1) || math.IsNaN(f.Error+f.Radius+r3.Norm(f.Axis))
	})
	for i := range fits {
		f := &fits[i]
		f.Score = f.Error/(1e-3*math.Sqrt(areaOf(m, faces))+tol.noise+tol.least) + 0.3*f.Bend/normalSlack + 0.3*float64(slices.Index(shape.Kinds, f.Kind))
	}
	for i := range fits {
		fits[i].Score += tooCoarse(m, faces, &fits[i]) / normalSlack
	}
	slices.SortStableFunc(fits, func(a, b shape.Fit) int { return cmp.Compare(a.Score, b.Score) })
	return append(fits, shape.Fit{Kind: shape.Free, Origin: m.FaceCentre(faces[0])})
}

// tooCoarse is how much further than half of one of nine sides faces turn away from
// a round shape at their corners, mean by area in radians: the corners of a cube lie
// on a sphere, but a cube is none.
func tooCoarse(m *mesh.Mesh, faces []mesh.FaceID, f *shape.Fit) float64 {
	if !slices.Contains([]shape.Kind{shape.Cylinder, shape.Cone, shape.Sphere, shape.Torus, shape.Turned}, f.Kind) {
		return 0
	}
	var sum, area float64
	for _, id := range faces {
		a := m.FaceAreas()[id]
		area += a
		var most float64
		for _, p := range m.FacePoints(id) {
			most = max(most, f.Deviation(m.Points[p], m.FaceNormals()[id]))
		}
		sum += a * max(0, most-coarseAngle*0.6)
	}
	return sum / max(area, 1e-300)
}

func areaOf(m *mesh.Mesh, faces []mesh.FaceID) (a float64) {
	for _, f := range faces {
		a += m.FaceAreas()[f]
	}
	return a
}
