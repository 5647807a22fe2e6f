package segment

import (
	"context"
	"math"
	"slices"
	"sync/atomic"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
)

// newAttacher attaches nothing yet; only pieces that are of it take part.
func newAttacher(ctx context.Context, d *document.Document, s *document.Tx, of func(lay.Piece) bool) *attacher {
	a := &attacher{ctx: ctx, doc: d, state: s, cut: make([]bool, d.Mesh.NumEdges()), firm: ids.Set(s.Wishes.Firm), longest: math.Inf(1), worth: math.Inf(1), wastes: math.Inf(1), stretch: 1, grain: 0.5 * math.Pi / 180}
	for e := range a.cut {
		a.cut[e] = s.Map.IsCut(mesh.EdgeID(e))
	}
	component, _ := d.Mesh.Components()
	for i, p := range lay.Pieces(s.State, d.Mesh) {
		area := document.AreaOf(d.Mesh, p.Faces)
		g := &group{faces: p.Faces, part: p.Part, area: area, total: area, own: []int{i}, fill: unknown}
		a.within = append(a.within, component[p.Faces[0]])
		a.total += g.area
		g.alone = !of(p)
		if p.Part >= 0 {
			g.soft = s.Parts[p.Part].Fit.Soft()
		}
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
	var done atomic.Int64
	return sideBySide(a, list, func(j joint) int { return j.a }, func(a *attacher, c joint) {
		if n := done.Add(1); n%64 == 0 {
			parallel.Report(progress, float64(n)/float64(len(list)))
		}
		a.attach(c)
	})
}

// Attach leaves pieces attached to a neighbour where the union still lies flat, as the
// dial asks.
func Attach(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	s := d.Begin()
	stacked := s.Stacks()
	a := newAttacher(ctx, d, s, func(p lay.Piece) bool { return s.Unstacked(stacked, p.Faces[:1]) == nil })
	dial := s.Settings.Dial
	if dial < 1 {
		a.worth = (1 - dial) / dial
		a.longest = 0.35 / dial * math.Sqrt(a.total) // longer strips are hard to lay out
		if err := a.round(parallel.Part(progress, 0, 0.5)); err != nil {
			return nil, err
		}
	}
	if a.stretch = 1 + 0.1*(0.5-dial); a.stretch > 1 {
		a.grain = 5 * math.Pi / 180
		if err := a.round(parallel.Part(progress, 0.5, 1)); err != nil {
			return nil, err
		}
	}
	if err := a.slivers(); err != nil {
		return nil, err
	}
	return s.Done(), nil
}

// JoinGroup joins the shells that have a picked face, as far as the unions stretch no more
// than a limit (L², up to 1: what lies flat, or nearly where its parts bend at their rims) and keep to the grain within 2°.
func JoinGroup(ctx context.Context, d *document.Document, picks []mesh.FaceID, limit float64, progress func(float64)) (*document.State, error) {
	s := d.Begin()
	picked := ids.Set(picks)
	a := newAttacher(ctx, d, s, func(p lay.Piece) bool {
		return slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return picked[f] })
	})
	a.grain = 2 * math.Pi / 180
	a.firm = nil // what was cut by hand may be joined when asked for
	if err := a.round(parallel.Part(progress, 0, 0.4)); err != nil {
		return nil, err
	}
	if a.stretch = limit; a.stretch > 1 {
		if err := a.round(parallel.Part(progress, 0.4, 0.8)); err != nil {
			return nil, err
		}
	}
	var opened []mesh.EdgeID
	for i := range d.Mesh.NumEdges() {
		if e := mesh.EdgeID(i); d.State.Map.IsCut(e) && !s.Map.IsCut(e) {
			opened = append(opened, e)
		}
	}
	if len(opened) == 0 {
		return nil, document.Refuse("none of these shells can be joined within this stretch")
	}
	s.CutByHand(d.Mesh, opened, false)
	return lay.FlattenChanged(ctx, d, s.Done(), parallel.Part(progress, 0.8, 1))
}
