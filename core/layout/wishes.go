package layout

import (
	"context"
	"fmt"
	"slices"

	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/seam"
)

// Wishes are what people said about seams. Suggestions respect them: recognition,
// openings, corner cuts, darts, the dial and the division of what does not lie flat.
type Wishes struct {
	Whole []mesh.FaceID `json:"whole,omitempty"` // areas that stay whole: no cut between two of these faces
	Held  []mesh.EdgeID `json:"held,omitempty"`  // closed by hand: stay attached here
	Firm  []mesh.EdgeID `json:"firm,omitempty"`  // cut by hand: stay apart here
	Picks []PickSet     `json:"picks,omitempty"` // in order of name

	Pins []mesh.HalfedgeID `json:"pins,omitempty"` // corners whose points flattening leaves where they are

	Grains []MaterialGrain `json:"grains,omitempty"`
	Labels []flow.Label    `json:"labels,omitempty"`
}

// PickSet is a set of picked edges kept under a name.
type PickSet struct {
	Name  string        `json:"name"`
	Edges []mesh.EdgeID `json:"edges"`
}

func (w Wishes) fits(m *mesh.Mesh) error {
	edges := [][]mesh.EdgeID{w.Held, w.Firm}
	for _, p := range w.Picks {
		edges = append(edges, p.Edges)
	}
	for _, g := range w.Grains {
		edges = append(edges, g.Edges)
	}
	for _, list := range edges {
		for _, e := range list {
			if e < 0 || int(e) >= m.NumEdges() {
				return ErrCorrupt
			}
		}
	}
	for _, l := range w.Labels {
		if checkFaces(m, l.Faces) != nil {
			return ErrCorrupt
		}
	}
	if checkFaces(m, w.Whole) != nil || checkCorners(m, w.Pins) != nil {
		return ErrCorrupt
	}
	return nil
}

// with adds to a sorted list, without takes away; both leave the old list alone.
func with[T ~int32](list, add []T) []T {
	out := slices.Sorted(slices.Values(slices.Concat(list, add)))
	return slices.Compact(out)
}

func without[T ~int32](list, gone []T) []T {
	drop := set(gone)
	return slices.DeleteFunc(slices.Clone(list), func(x T) bool { return drop[x] })
}

func set[T comparable](list []T) map[T]bool {
	out := make(map[T]bool, len(list))
	for _, x := range list {
		out[x] = true
	}
	return out
}

// spared returns the edges that suggestions may not cut. Where people cut there by
// hand all the same, that stands.
func (s *State) spared(m *mesh.Mesh) func(mesh.EdgeID) bool {
	w := s.Wishes
	if len(w.Held)+len(w.Whole)+len(w.Labels) == 0 {
		return func(mesh.EdgeID) bool { return false }
	}
	held, whole := set(w.Held), set(w.Whole)
	label := map[mesh.FaceID]int{} // the number of its label, from 1
	for i, l := range w.Labels {
		for _, f := range l.Faces {
			label[f] = i + 1
		}
	}
	return func(e mesh.EdgeID) bool {
		if held[e] {
			return true
		}
		a, b := m.EdgeFaces(e)
		return b != mesh.None && (whole[a] && whole[b] || label[a] > 0 && label[a] == label[b])
	}
}

// heed brings the cuts at some faces in line with the wishes.
func (s *Tx) heed(m *mesh.Mesh, faces []mesh.FaceID) {
	w := s.Wishes
	if len(w.Held)+len(w.Whole)+len(w.Firm)+len(w.Labels) == 0 {
		return
	}
	spared, firm := s.spared(m), set(w.Firm)
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			e := m.Edge(h)
			if m.Twin(h) != mesh.None {
				s.Map.SetCut(e, firm[e] || s.Map.IsCut(e) && !spared(e))
			}
		}
	}
}

// Keep marks areas that suggestions leave whole, or lets them go. Cuts that are
// there already stay until seams are suggested again.
type Keep struct {
	Faces []mesh.FaceID `json:"faces"`
	Whole bool          `json:"whole"`
}

// Kind implements Edit.
func (*Keep) Kind() string { return "keep" }

// Describe implements Edit.
func (e *Keep) Describe() string {
	if e.Whole {
		return "keep " + faceCount(len(e.Faces)) + " whole"
	}
	return "let " + faceCount(len(e.Faces)) + " be cut again"
}

// Apply implements Edit.
func (e *Keep) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	if e.Whole {
		s.Wishes.Whole = with(s.Wishes.Whole, e.Faces)
	} else {
		s.Wishes.Whole = without(s.Wishes.Whole, e.Faces)
	}
	if slices.Equal(s.Wishes.Whole, d.State.Wishes.Whole) {
		return nil, refuse("nothing changes: these faces are marked so already")
	}
	return s.Done(), nil
}

// Hold says that shells stay attached along edges, or lets go of that wish.
type Hold struct {
	Edges []mesh.EdgeID `json:"edges"`
	Held  bool          `json:"held"`
}

// Kind implements Edit.
func (*Hold) Kind() string { return "hold" }

// Describe implements Edit.
func (e *Hold) Describe() string {
	if e.Held {
		return "stay attached along " + edgeCount(len(e.Edges))
	}
	return "let go of " + edgeCount(len(e.Edges))
}

// Apply implements Edit.
func (e *Hold) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkEdges(d.Mesh, e.Edges); err != nil {
		return nil, err
	}
	s := d.Begin()
	if e.Held {
		s.Wishes.Held, s.Wishes.Firm = with(s.Wishes.Held, e.Edges), without(s.Wishes.Firm, e.Edges)
	} else {
		s.Wishes.Held, s.Wishes.Firm = without(s.Wishes.Held, e.Edges), without(s.Wishes.Firm, e.Edges)
	}
	if slices.Equal(s.Wishes.Held, d.State.Wishes.Held) && slices.Equal(s.Wishes.Firm, d.State.Wishes.Firm) {
		return nil, refuse("nothing changes: these edges are marked so already")
	}
	return s.Done(), nil
}

// SavePicks keeps a set of picked edges under a name; no edges drop the set.
type SavePicks struct {
	Name  string        `json:"name"`
	Edges []mesh.EdgeID `json:"edges"`
}

// Kind implements Edit.
func (*SavePicks) Kind() string { return "save-picks" }

// Describe implements Edit.
func (e *SavePicks) Describe() string {
	if len(e.Edges) == 0 {
		return "drop the pick set " + e.Name
	}
	return fmt.Sprintf("keep %s as %s", edgeCount(len(e.Edges)), e.Name)
}

// Apply implements Edit.
func (e *SavePicks) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if e.Name == "" || len(e.Name) > 80 {
		return nil, refuse("a pick set needs a name of 1 to 80 letters")
	}
	s := d.Begin()
	i := slices.IndexFunc(s.Wishes.Picks, func(p PickSet) bool { return p.Name == e.Name })
	s.Wishes.Picks = slices.Clone(s.Wishes.Picks)
	if len(e.Edges) == 0 {
		if i < 0 {
			return nil, refuse("there is no pick set called %q", e.Name)
		}
		s.Wishes.Picks = slices.Delete(s.Wishes.Picks, i, i+1)
		return s.Done(), nil
	}
	if err := checkEdges(d.Mesh, e.Edges); err != nil {
		return nil, err
	}
	p := PickSet{e.Name, with(nil, e.Edges)}
	if i >= 0 {
		s.Wishes.Picks[i] = p
		return s.Done(), nil
	}
	s.Wishes.Picks = append(s.Wishes.Picks, p)
	slices.SortFunc(s.Wishes.Picks, func(a, b PickSet) int {
		if a.Name < b.Name {
			return -1
		}
		return 1
	})
	return s.Done(), nil
}

// ViewFrom says from which sides the piece is looked at.
type ViewFrom struct {
	Sides seam.Sides `json:"sides"`
}

// Kind implements Edit.
func (*ViewFrom) Kind() string { return "view-from" }

// Describe implements Edit.
func (*ViewFrom) Describe() string { return "set the viewing sides" }

// Apply implements Edit.
func (e *ViewFrom) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	s := d.Begin()
	s.Settings.Sides = e.Sides
	if err := s.Settings.Check(); err != nil {
		return nil, err
	}
	return s.Done(), nil
}
