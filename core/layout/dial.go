package layout

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parallel"
)

// Dial suggests all seams anew for a place between fewer pieces (0) and less stretch
// (1): borders of parts, openings, corner cuts, darts, what stays attached, and what is
// divided for the sheet's sake. What people cut, closed or keep whole stands. Where there
// is a map, shells that came out different are flattened and wait on the rack, or all are
// packed; the others stay.
type Dial struct {
	Dial float64 `json:"dial"`
	Pack bool    `json:"pack,omitempty"`
}

// Kind implements Edit.
func (*Dial) Kind() string { return "dial" }

// Describe implements Edit.
func (e *Dial) Describe() string {
	return fmt.Sprintf("seams for %.0f %% less stretch", 100*e.Dial)
}

// Apply implements Edit.
func (e *Dial) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	if !(e.Dial >= 0 && e.Dial <= 1) {
		return nil, refuse("the dial goes from 0 to 1, not to %g", e.Dial)
	}
	if !d.State.Recognised() {
		return nil, refuse("nothing is recognised yet; recognise parts first, the seams follow from them")
	}
	s := d.Begin()
	s.Settings.Dial = e.Dial
	s.resetCuts(d.Mesh, allFaces(d.Mesh))
	p, err := openWalls(ctx, d.With(s.Done()), nil, parallel.Part(progress, 0, 0.25))
	if err != nil {
		return nil, err
	}
	now, err := attachFlat(ctx, d.With(p.state), parallel.Part(progress, 0.25, 0.5))
	if err != nil {
		return nil, err
	}
	if !d.State.Map.AnyMapped() {
		return now, nil
	}
	if now, err = now.flattenChanged(ctx, d, parallel.Part(progress, 0.5, 0.7)); err != nil {
		return nil, err
	}
	_, lanes, err := divideShells(ctx, d.With(now), nil, 0, parallel.Part(progress, 0.7, 0.8))
	switch {
	case err == nil:
		now = lanes.stay(d, d.sameShell())
	case !errors.Is(err, ErrRefused): // refused: there is nothing to divide
		return nil, err
	}
	if !e.Pack {
		return now, nil
	}
	return packAll(ctx, d.With(now), parallel.Part(progress, 0.8, 1))
}

// Recognised tells whether shapes were sought, rather than taken from the file.
func (s *State) Recognised() bool {
	return slices.ContainsFunc(s.Parts, func(p *Part) bool { return p.Grain.Mode != "" || p.Fit.Kind != "free" })
}

func allFaces(m *mesh.Mesh) []mesh.FaceID {
	out := make([]mesh.FaceID, m.NumFaces())
	for i := range out {
		out[i] = mesh.FaceID(i)
	}
	return out
}

// flattenChanged flattens the pieces of s that are no shells of the document as it
// was. A shell that comes out the same, of the same faces with the same cuts, keeps
// its place.
func (s *State) flattenChanged(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	m := d.Mesh
	same := d.sameShell()
	var todo []mesh.FaceID // one face of each piece
	for _, p := range s.pieces(m) {
		if !same(s, p.faces) && d.State.Map.IsMapped(p.faces[0]) {
			todo = append(todo, p.faces[0])
		}
	}
	if len(todo) == 0 {
		return s, nil
	}
	now, err := flattenPieces(ctx, d.With(s), flattenOptions{Faces: todo}, progress)
	if err != nil {
		return nil, err
	}
	return now.stay(d, same), nil
}

// sameShell tells whether faces are a shell of the document with the same cuts in another
// state.
func (d *Document) sameShell() func(now *State, faces []mesh.FaceID) bool {
	m := d.Mesh
	old, of := d.State.Map.Shells()
	return func(now *State, faces []mesh.FaceID) bool {
		k := of[faces[0]]
		if k == mesh.None || !slices.Equal(old[k].Faces, faces) {
			return false
		}
		for _, f := range faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				if t := m.Twin(h); t != mesh.None && of[m.FaceOf(t)] == k && now.Map.IsCut(m.Edge(h)) != d.State.Map.IsCut(m.Edge(h)) {
					return false
				}
			}
		}
		return true
	}
}

// stay puts shells that are as they were back in their place: a piece that was divided
// before may have been divided the same way again.
func (s *State) stay(d *Document, same func(*State, []mesh.FaceID) bool) *State {
	tx := s.begin()
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		if same(s, sh.Faces) {
			tx.Map.TakeBack(sh.Faces, d.State.Map)
		}
	}
	return tx.Done()
}
