package document

import (
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/planar"
	"morvek/core/words"
)

// ByHalves is a state in which one mirrored half has what was changed on the other, and what stays as it is.
type ByHalves struct {
	State  *State
	Shells int // of the other half that lie as their images do now
	Seams  int // edges cut or closed there

	// Shells left: without an image, their own image and laid as a whole, locked, and those whose mirror image
	// turns faces over: what has a bay is taken apart into triangles otherwise there.
	Alone, Across, Locked, Over int
}

// Said is what happened on the other half, and what stays as it is there, in words.
func (b ByHalves) Said() string {
	var did, left []string
	add := func(list *[]string, n int, of, why string) {
		if n > 0 {
			*list = append(*list, words.Count(n, of)+why)
		}
	}
	add(&did, b.Shells, "shell", "")
	add(&did, b.Seams, "edge", "")
	add(&left, b.Alone, "shell", " without an image")
	add(&left, b.Across, "shell", " across the plane")
	add(&left, b.Locked, "locked shell", "")
	add(&left, b.Over, "shell", " that would turn over")
	out := ""
	if len(did) > 0 {
		out = ", on the other half too: " + strings.Join(did, ", ")
	}
	if len(left) > 0 {
		out += "; left as they are: " + strings.Join(left, ", ")
	}
	return out
}

// halving is one half being made to follow the other.
type halving struct {
	d     *Document
	after *State // with the change on one half
	im    parts.Images
	plane parts.Mirror
	s     *Tx
	out   ByHalves

	stacked bool
	shells  []atlas.Shell // after the change on one half
	of      []int32
	moved   map[mesh.FaceID]bool // by whoever leads
	held    map[mesh.FaceID]bool // locked
	lies    []Lie

	trial *atlas.Map // of what would turn over
}

// OnOtherHalf makes the mirrored half of the model follow what an edit changed on the other: seams and
// what people wish of them; shells, which get the mirror image of where their images lie (in their place if there
// is room, else on the rack; stacked: on them, turned over); grain. A shell that is its own image is made
// symmetric where it was: what moved on one side of it moves on the other. Where both halves were changed,
// the one with the first shell leads. It refuses models without mirrored halves.
func (d *Document) OnOtherHalf(after *State, stacked bool) (ByHalves, error) {
	im, ok := d.Images()
	if !ok {
		return ByHalves{}, Refuse("this model has no mirrored halves: less than nine tenths of it have an image in any plane")
	}
	plane, _ := d.Mirror()
	w := halving{d: d, after: after, im: im, plane: plane, s: after.Begin(), stacked: stacked, held: ids.Set(after.Map.ShellsOf(after.Wishes.Locked))}
	change := atlas.Diff(d.State.Map, after.Map)
	w.seams(change.Cut)
	w.wishes()
	w.shells, w.of = after.Map.Shells()
	moved := change.Faces(d.Mesh)
	w.moved = ids.Set(moved)
	w.take(moved)
	w.lay(moved)
	w.grain()
	if len(w.lies) > 0 {
		w.s.Stack(w.lies...)
	}
	w.out.State = w.s.Done()
	return w.out, nil
}

// seams cuts and closes the images of edges.
func (w *halving) seams(toggled []mesh.EdgeID) {
	changed := ids.Set(toggled)
	for _, e := range toggled {
		g := w.im.Edge[e]
		if g == mesh.None || changed[g] || w.d.Mesh.Twin(w.d.Mesh.EdgeHalf(g)) == mesh.None {
			continue
		}
		if to := w.after.Map.IsCut(e); w.s.Map.IsCut(g) != to {
			w.s.Map.SetCut(g, to)
			a, b := w.d.Mesh.EdgeFaces(g)
			w.s.MarkHand(a)
			w.s.MarkHand(b)
			w.out.Seams++
		}
	}
}

// wishes says of the images what was said of edges and faces.
func (w *halving) wishes() {
	was, is, to := w.d.State.Wishes, w.after.Wishes, &w.s.Wishes
	to.Firm = mirroredWish(was.Firm, is.Firm, w.im.Edge)
	to.Held = mirroredWish(was.Held, is.Held, w.im.Edge)
	to.Whole = mirroredWish(was.Whole, is.Whole, w.im.Face)
}

// mirroredWish adds to a list the images of what was added, and takes those of what was taken away.
func mirroredWish[T mesh.FaceID | mesh.EdgeID](was, is, image []T) []T {
	images := func(list []T) (out []T) {
		for _, x := range list {
			if image[x] != mesh.None {
				out = append(out, image[x])
			}
		}
		return out
	}
	added, gone := images(ids.Without(is, was)), images(ids.Without(was, is))
	if len(added)+len(gone) == 0 {
		return is
	}
	return ids.With(ids.Without(is, gone), added)
}

// take unmaps the images of faces that came off the map.
func (w *halving) take(moved []mesh.FaceID) {
	for _, f := range moved {
		g := w.im.Face[f]
		if g != mesh.None && !w.after.Map.IsMapped(f) && !w.moved[g] && !w.held[g] && w.after.Map.IsMapped(g) {
			w.s.Map.Unmap(g)
		}
	}
}

// lay lays the images of the shells that moved.
func (w *halving) lay(moved []mesh.FaceID) {
	done := map[int32]bool{}
	var racked [][]mesh.FaceID
	for _, f := range moved {
		k := w.of[f]
		if k == mesh.None || done[k] {
			continue
		}
		done[k] = true
		mine := w.shells[k].Faces
		own := ids.Set(mine)
		theirs, alone, across := make([]mesh.FaceID, 0, len(mine)), 0, 0
		for _, f := range mine {
			g := w.im.Face[f]
			if theirs = append(theirs, g); g == mesh.None {
				alone++
			} else if own[g] {
				across++
			}
		}
		pairs := w.images(mine)
		switch {
		case alone > 0:
			w.out.Alone++
		case across > 0:
			if across < len(mine) || !w.even(mine, pairs) {
				w.out.Across++
			}
		case slices.ContainsFunc(theirs, func(g mesh.FaceID) bool { return w.held[g] }):
			w.out.Locked++
		case w.turnsOver(pairs, theirs):
			w.out.Over++
		default:
			for _, g := range theirs {
				if k := w.of[g]; k != mesh.None {
					done[k] = true // both were changed: this one leads
				}
			}
			if !w.follow(mine, theirs, pairs) {
				racked = append(racked, theirs)
			}
			w.out.Shells++
		}
	}
	if len(racked) > 0 {
		w.s.Map.ToRack(racked...)
	}
}

// images pairs the corners of faces with their images, as far as they have any.
func (w *halving) images(faces []mesh.FaceID) (out [][2]mesh.HalfedgeID) {
	for _, f := range faces {
		lo, hi := w.d.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			if g := w.image(h); g != mesh.None {
				out = append(out, [2]mesh.HalfedgeID{h, g})
			}
		}
	}
	return out
}

// image is the image of a corner, None where it has none.
func (w *halving) image(h mesh.HalfedgeID) mesh.HalfedgeID {
	m := w.d.Mesh
	g := w.im.Face[m.FaceOf(h)]
	if g == mesh.None {
		return mesh.None
	}
	out, in := w.im.Edge[m.Edge(h)], w.im.Edge[m.Edge(m.Prev(h))]
	lo, hi := m.Corners(g)
	for c := lo; c < hi; c++ { // between the images of the edges between which it lies
		a, b := m.Edge(c), m.Edge(m.Prev(c))
		if a == out && b == in || a == in && b == out {
			return c
		}
	}
	return mesh.None
}

// turnsOver tells whether the mirror image of a shell has faces turned over.
func (w *halving) turnsOver(pairs [][2]mesh.HalfedgeID, theirs []mesh.FaceID) bool {
	if w.trial == nil {
		w.trial = w.after.Map.Draft()
	}
	w.trial.Follow(answers(pairs), true)
	return over(w.trial, theirs)
}

func answers(pairs [][2]mesh.HalfedgeID) map[mesh.HalfedgeID]mesh.HalfedgeID {
	out := make(map[mesh.HalfedgeID]mesh.HalfedgeID, len(pairs))
	for _, p := range pairs {
		out[p[0]] = p[1]
	}
	return out
}

func over(c *atlas.Map, faces []mesh.FaceID) bool {
	return slices.ContainsFunc(c.Triangles(faces), func(t planar.Triangle) bool { return t.Area() < 0 })
}

// follow lays faces as the mirror image of a shell; false if they have to wait on the rack.
func (w *halving) follow(mine, theirs []mesh.FaceID, pairs [][2]mesh.HalfedgeID) bool {
	m, s := w.d.Mesh, w.s
	inPlace, box := w.laid(theirs), w.after.Map.Box(theirs)
	within := ids.Set(theirs)
	for _, f := range theirs {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None && !within[m.FaceOf(t)] {
				s.Map.SetCut(m.Edge(h), true)
			}
		}
		s.MarkHand(f)
	}
	s.unstack(theirs)
	w.parts(mine[0], theirs[0])
	if w.stacked {
		s.Map.Follow(answers(pairs), true)
		s.Map.Transform(theirs, func(q r2.Vec) r2.Vec { return r2.Vec{X: -q.X, Y: q.Y} })
		w.lies = append(w.lies, Lie{On: mine[0], Shell: theirs[0]})
		return true
	}
	across := s.Settings.Sheet.Across()
	if image, ok := w.reflection(pairs); inPlace && ok && w.reflect(pairs, theirs, image) && s.Map.IsFree(theirs, across, 0, 0) {
		return true
	}
	s.Map.Follow(answers(pairs), true)
	if !inPlace {
		return false
	}
	by := r2.Sub(box.Middle(), s.Map.Box(theirs).Middle())
	s.Map.Transform(theirs, func(q r2.Vec) r2.Vec { return r2.Add(q, by) })
	return s.Map.IsFree(theirs, across, 0, 0)
}

// laid tells whether faces are all on the sheet.
func (w *halving) laid(faces []mesh.FaceID) bool {
	return !slices.ContainsFunc(faces, func(f mesh.FaceID) bool { return !w.after.Map.IsMapped(f) }) && w.after.Map.Box(faces).Max.Y > 0
}

// parts gives the part of a face what the part of another keeps of how it was laid.
func (w *halving) parts(lead, follow mesh.FaceID) {
	a, b := w.s.PartOf(lead), w.s.PartOf(follow)
	if a < 0 || b < 0 || a == b {
		return
	}
	p, from := w.s.Part(b), w.s.Parts[a]
	p.Method, p.Projection = from.Method, nil
	if from.Projection != nil {
		pr := from.Projection.Mirrored(w.plane.Of)
		p.Projection = &pr
	}
}

// even moves on one side of a shell that is its own image what moved on the other; false where it did not
// lie symmetric before, was laid anew as a whole, or would not lie flat.
func (w *halving) even(mine []mesh.FaceID, pairs [][2]mesh.HalfedgeID) bool {
	image, ok := w.reflection(pairs)
	if !ok {
		return false
	}
	back := w.s.Map.Draft().Freeze()
	if !w.reflect(pairs, mine, image) {
		w.s.Map.TakeBack(mine, back)
		return false
	}
	return true
}

// reflection is how corners lay as the images of others before the change, ok false where they did not:
// by least squares, mirrored, turned, moved and scaled.
func (w *halving) reflection(pairs [][2]mesh.HalfedgeID) (image func(r2.Vec) r2.Vec, ok bool) {
	const near = 1e-3 // of their size, how far places may lie from their image
	m, was := w.d.Mesh, w.d.State.Map
	var from, to []r2.Vec
	for _, p := range pairs {
		if !was.IsMapped(m.FaceOf(p[0])) || !was.IsMapped(m.FaceOf(p[1])) {
			return nil, false
		}
		from, to = append(from, r2.Vec{X: -was.At(p[0]).X, Y: was.At(p[0]).Y}), append(to, was.At(p[1]))
	}
	a, b, cos, sin := planar.Turn(from, to)
	var wide, size float64
	for i := range from {
		wide, size = wide+r2.Norm2(r2.Sub(from[i], a)), size+r2.Norm2(r2.Sub(to[i], b))
	}
	if wide == 0 {
		return nil, false
	}
	scale := math.Sqrt(size / wide)
	cos, sin = scale*cos, scale*sin
	image = func(q r2.Vec) r2.Vec {
		q = r2.Sub(r2.Vec{X: -q.X, Y: q.Y}, a)
		return r2.Add(r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y}, b)
	}
	box := planar.Bounds(to...)
	for i, p := range pairs {
		if r2.Norm(r2.Sub(image(was.At(p[0])), to[i])) > near*r2.Norm(box.Size()) {
			return nil, false
		}
	}
	return image, true
}

// reflect moves the images of corners that moved to the images of where they lie now, others not at all;
// false if none moves, or a face turns over.
func (w *halving) reflect(pairs [][2]mesh.HalfedgeID, faces []mesh.FaceID, image func(r2.Vec) r2.Vec) bool {
	was, is := w.d.State.Map, w.after.Map
	moves := func(h mesh.HalfedgeID) bool { return was.At(h) != is.At(h) }
	some, within := false, ids.Set(faces)[w.d.Mesh.FaceOf(pairs[0][0])]
	for _, p := range pairs {
		switch {
		case moves(p[1]) && !within: // both were changed, this one as a whole follows
			return false
		case moves(p[0]) && !moves(p[1]):
			w.s.Map.Put(p[1], image(is.At(p[0])))
			some = true
		}
	}
	return some && !over(w.s.Map, faces)
}

// grain gives the images of parts the grain that people chose.
func (w *halving) grain() {
	var faces [][]mesh.FaceID
	for i, p := range w.after.Parts {
		if i >= len(w.d.State.Parts) || !p.GrainOwn || grainSame(p, w.d.State.Parts[i]) {
			continue
		}
		if faces == nil {
			faces = w.s.PartFaces()
		}
		g := w.im.Face[faces[i][0]]
		if g == mesh.None || w.s.PartOf(g) < 0 || w.s.PartOf(g) == PartID(i) {
			continue
		}
		q := w.s.Part(w.s.PartOf(g))
		q.Grain, q.GrainOwn = grainLike(p, q, w.plane.Turned), true
	}
}

func grainSame(a, b *Part) bool {
	return a.GrainOwn == b.GrainOwn && a.Grain.Mode == b.Grain.Mode && a.Grain.Axis == b.Grain.Axis && a.Grain.Sense == b.Grain.Sense
}
