package lay

import (
	"context"
	"errors"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// FlatShell is a patch with its map in model units.
type FlatShell struct {
	Patch  *mesh.Patch
	Uv     []r2.Vec
	method string
	placed bool // pins hold it where it is
}

// Options says what is flattened and how; see the edit of that name.
type Options struct {
	Faces         []mesh.FaceID  // a face of each piece; none: all pieces
	Method        flatten.Method // none: what the shape asks for
	MaxIterations int            // 0: until nothing changes

	Watched
}

// layer lays one piece flat, dividing it where it must.
type layer struct {
	doc     *document.Document
	state   *document.State
	density float64 // sheet units per model unit
	limit   float64
	spared  func(mesh.EdgeID) bool // never divided here
	how     *Options
	out     []FlatShell
	cuts    []mesh.EdgeID
}

// maxDivisions bounds how often a piece is halved; single faces always lie flat.
const maxDivisions = 14

// solve flattens a patch by the method that was asked for.
func (l *layer) solve(ctx context.Context, p *mesh.Patch, fit shape.Fit, keep flatten.Constraints) (unroll.Result, error) {
	set := flatten.Settings{Method: l.how.Method, MaxIterations: l.how.MaxIterations, Keep: keep}
	set.Progress = l.how.Frames(p, func(uv []r2.Vec) {
		if len(keep.Pins) > 1 {
			atlas.Scale(uv, l.density)
			return
		}
		flatten.TrueScale(p, uv)
		Orient(l.state, p, uv, l.state.PartOf(p.Faces[0]))
		atlas.Scale(uv, l.density)
		atlas.CentreOn(l.doc.State.Map, p, uv)
	})
	if l.how.Method == "" && len(keep.Pins) == 0 {
		return unroll.Unroll(ctx, p, fit, set)
	}
	if p.IsDisk() {
		r, err := flatten.Flatten(ctx, p, set)
		return unroll.Result{UV: r.UV, Method: r.Method}, err
	}
	start, err := unroll.Unroll(ctx, p, fit, flatten.Settings{})
	if err != nil {
		return start, err
	}
	if l.how.Method == flatten.Conformal || l.how.Method == flatten.ByAngles {
		return start, document.Refuse("a shell with a hole can only be laid by its shape or by lengths")
	}
	r, err := flatten.Improve(ctx, p, start.UV, set)
	return unroll.Result{UV: r.UV, Method: r.Method}, err
}

// errSqueezed is returned for a piece that people keep from being cut as it must be to lie
// flat: most of it would be squeezed together, to L² squeezed and more, or turned over.
var errSqueezed = errors.New("squeezed to nothing")

const squeezed = 100

// bit is what is laid flat as one if that goes, with what was read within it.
type bit struct {
	faces  []mesh.FaceID
	fit    shape.Fit
	pieces []document.Piece
}

// lay lays faces flat as one shell, or divided where that stretches too much.
func (l *layer) lay(ctx context.Context, b bit, part document.PartID, depth int) error {
	faces := b.faces
	isCut := mesh.AlsoCut(l.state.Map.IsCut, l.cuts)
	m := l.doc.Mesh
	p := mesh.NewPatch(m, faces, isCut)
	r, err := l.solve(ctx, p, b.fit, flatten.Constraints{})
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if errors.Is(err, flatten.ErrNotDisk) && depth == 0 {
		return err
	}
	if len(faces) == 1 && (err != nil || flatten.Flips(p, r.UV) > 0 || unroll.Tangled(p, r.UV) || Loses(p, r.UV)) {
		r, err = unroll.Polygon(p), nil
	}
	good := err == nil && flatten.Flips(p, r.UV) == 0
	stretch := 1.0
	var rigid []r2.Vec // the map if it stretches little, though it may land on itself
	if good {
		if stretch, _ = p.Stretch(r.UV); stretch <= l.limit {
			rigid = r.UV
		}
		good = unroll.Loosen(p, r.UV) && !Loses(p, r.UV)
	}
	if len(faces) > 1 && depth < maxDivisions && (!good || stretch > l.limit && l.how.Method == "") {
		var bits []bit
		var ok bool
		if !good { // it lands on itself: what was read within it lies flat by itself
			bits, ok = l.apart(ctx, p, b, rigid, isCut)
		}
		if !ok {
			bits, ok = l.divide(ctx, p, isCut)
		}
		if ok {
			for _, b := range bits {
				if err := l.lay(ctx, b, part, depth+1); err != nil {
					return err
				}
			}
			return nil
		}
	}
	if !good && len(faces) > 1 && l.how.Method == "" && !slices.ContainsFunc(m.EdgesWithin(faces), l.spared) {
		return l.faceByFace(ctx, Piece{Faces: faces, Part: part}) // if nothing else will do
	}
	if err != nil {
		return err
	}
	if len(faces) > 1 && (stretch > squeezed || len(l.how.Faces) > 0 && flatten.Flips(p, r.UV) > 0) {
		return errSqueezed
	}
	flatten.TrueScale(p, r.UV)
	Orient(l.state, p, r.UV, part)
	l.out = append(l.out, FlatShell{Patch: p, Uv: r.UV, method: r.Method})
	return nil
}

// faceByFace lays every face of a piece for itself.
func (l *layer) faceByFace(ctx context.Context, r Piece) error {
	l.cuts = append(l.cuts, l.doc.Mesh.EdgesWithin(r.Faces)...)
	for _, f := range r.Faces {
		if err := ctx.Err(); err != nil {
			return err
		}
		p := mesh.NewPatch(l.doc.Mesh, []mesh.FaceID{f}, func(mesh.EdgeID) bool { return true })
		u := unroll.Polygon(p)
		flatten.TrueScale(p, u.UV)
		Orient(l.state, p, u.UV, r.Part)
		l.out = append(l.out, FlatShell{Patch: p, Uv: u.UV, method: u.Method})
	}
	return nil
}

// apart takes a patch apart along the borders of what was read within it: where it must by a map without
// stretch that lands on itself, along all of them without such a map.
func (l *layer) apart(ctx context.Context, p *mesh.Patch, b bit, uv []r2.Vec, isCut func(mesh.EdgeID) bool) ([]bit, bool) {
	chain, of := document.PieceBorder(p.Mesh, p.Faces, b.pieces, isCut)
	if len(chain) == 0 {
		if k := of[p.Faces[0]]; k > 0 && len(b.pieces[k-1].Pieces) > 1 {
			return l.apart(ctx, p, bit{b.faces, b.pieces[k-1].Fit, b.pieces[k-1].Pieces}, uv, isCut)
		}
		return nil, false
	}
	if uv != nil {
		chain = unroll.Untangle(p, uv, chain, isCut)
	}
	return l.open(ctx, p, chain, isCut, func(group []mesh.FaceID) bit {
		k := of[group[0]]
		if slices.ContainsFunc(group, func(f mesh.FaceID) bool { return of[f] != k }) {
			return bit{group, b.fit, b.pieces}
		}
		if k > 0 {
			return bit{group, b.pieces[k-1].Fit, b.pieces[k-1].Pieces}
		}
		return bit{faces: group, fit: shape.Fit{Kind: shape.Free}}
	})
}

// divide halves a patch.
func (l *layer) divide(ctx context.Context, p *mesh.Patch, isCut func(mesh.EdgeID) bool) ([]bit, bool) {
	return l.open(ctx, p, seam.Divide(p), isCut, func(group []mesh.FaceID) bit {
		return bit{faces: group, fit: shape.Fit{Kind: shape.Free}}
	})
}

// open cuts a patch along a chain and opens what comes of it; it adds to l.cuts. as tells what a group of
// faces is.
func (l *layer) open(ctx context.Context, p *mesh.Patch, chain []mesh.EdgeID, isCut func(mesh.EdgeID) bool, as func([]mesh.FaceID) bit) (out []bit, ok bool) {
	if len(chain) == 0 || slices.ContainsFunc(chain, l.spared) {
		return nil, false
	}
	cuts := slices.Clone(chain)
	m, cut := p.Mesh, mesh.AlsoCut(isCut, chain)
	cost := seam.Sparing(func(mesh.EdgeID) float64 { return 1 }, l.spared)
	for _, group := range m.Connected(p.Faces, cut) {
		b := as(group)
		more, err := seam.Openings(ctx, m, group, cut, b.fit, cost, func(q *mesh.Patch) bool { return unroll.LiesFlat(q, b.fit) })
		if err != nil {
			return nil, false
		}
		cuts, out = append(cuts, more...), append(out, b)
	}
	l.cuts = append(l.cuts, cuts...)
	return out, true
}

// Loses tells whether a map of a patch leaves next to nothing of a triangle that has an
// area in space.
func Loses(p *mesh.Patch, uv []r2.Vec) bool {
	d, ok := p.Differentials(uv)
	specks := p.Mesh.Specks()
	var flat, area float64
	for i := range d {
		if ok[i] {
			flat += math.Abs(d[i].SheetArea)
			area += d[i].Area
		}
	}
	scale := flat / max(area, 1e-300)
	for i := range d {
		if ok[i] && d[i].Area > specks {
			if !(d[i].SheetArea > lost*scale*d[i].Area) {
				return true
			}
		}
	}
	return false
}

// lost is the share of the room a triangle should have from which it might as well not be
// on the sheet.
const lost = 1e-5
