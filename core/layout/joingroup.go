package layout

import (
	"context"
	"fmt"
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parallel"
)

// JoinGroup joins all shells that have a picked face, as far as the unions stretch
// no more than a limit and keep to the grain within 2°.
type JoinGroup struct {
	Faces []mesh.FaceID `json:"faces"`
	Limit float64       `json:"limit"` // L² of a union; 1 or 0: only what lies flat
}

// Kind implements Edit.
func (*JoinGroup) Kind() string { return "join-group" }

// Describe implements Edit.
func (e *JoinGroup) Describe() string {
	return fmt.Sprintf("join what stretches up to ×%.3g", max(1, e.Limit))
}

// Apply implements Edit.
func (e *JoinGroup) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	if err := checkPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if e.Limit != 0 && !(e.Limit >= 1 && e.Limit <= 3) {
		return nil, refuse("a stretch limit of %g is not possible; choose 1 to 3", e.Limit)
	}
	s := d.Begin()
	picked := set(e.Faces)
	a := newAttacher(ctx, d, s, func(p piece) bool { return slices.ContainsFunc(p.faces, func(f mesh.FaceID) bool { return picked[f] }) })
	a.grain = 2 * math.Pi / 180
	a.firm = nil // what was cut by hand may be joined when asked for
	if err := a.round(parallel.Part(progress, 0, 0.4)); err != nil {
		return nil, err
	}
	if a.stretch = e.Limit; a.stretch > 1 {
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
		return nil, refuse("none of these shells can be joined within this stretch")
	}
	s.cutByHand(d.Mesh, opened, false)
	return s.Done().flattenChanged(ctx, d, parallel.Part(progress, 0.8, 1))
}
