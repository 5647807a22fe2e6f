package seamedits

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/seam"
	"morvek/core/words"
)

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
		return "keep " + words.Count(len(e.Faces), "face") + " whole"
	}
	return "let " + words.Count(len(e.Faces), "face") + " be cut again"
}

// Apply implements Edit.
func (e *Keep) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	if e.Whole {
		s.Wishes.Whole = ids.With(s.Wishes.Whole, e.Faces)
	} else {
		s.Wishes.Whole = ids.Without(s.Wishes.Whole, e.Faces)
	}
	if slices.Equal(s.Wishes.Whole, d.State.Wishes.Whole) {
		return nil, document.Refuse("nothing changes: these faces are marked so already")
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
		return "stay attached along " + words.Count(len(e.Edges), "edge")
	}
	return "let go of " + words.Count(len(e.Edges), "edge")
}

// Apply implements Edit.
func (e *Hold) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckEdges(d.Mesh, e.Edges); err != nil {
		return nil, err
	}
	s := d.Begin()
	if e.Held {
		s.Wishes.Held, s.Wishes.Firm = ids.With(s.Wishes.Held, e.Edges), ids.Without(s.Wishes.Firm, e.Edges)
	} else {
		s.Wishes.Held, s.Wishes.Firm = ids.Without(s.Wishes.Held, e.Edges), ids.Without(s.Wishes.Firm, e.Edges)
	}
	if slices.Equal(s.Wishes.Held, d.State.Wishes.Held) && slices.Equal(s.Wishes.Firm, d.State.Wishes.Firm) {
		return nil, document.Refuse("nothing changes: these edges are marked so already")
	}
	return s.Done(), nil
}

// SavePicks keeps picked edges, faces or both under a name, instead of what had that name; nothing
// picked drops the set, or with As gives it another name.
type SavePicks struct {
	Name  string        `json:"name"`
	Edges []mesh.EdgeID `json:"edges,omitempty"`
	Faces []mesh.FaceID `json:"faces,omitempty"`
	As    string        `json:"as,omitempty"`
}

// Kind implements Edit.
func (*SavePicks) Kind() string { return "save-picks" }

// Describe implements Edit.
func (e *SavePicks) Describe() string {
	switch {
	case e.keeps() && len(e.Faces) == 0:
		return fmt.Sprintf("keep %s as %s", words.Count(len(e.Edges), "edge"), e.Name)
	case e.keeps() && len(e.Edges) == 0:
		return fmt.Sprintf("keep %s as %s", words.Count(len(e.Faces), "face"), e.Name)
	case e.keeps():
		return fmt.Sprintf("keep %s and %s as %s", words.Count(len(e.Edges), "edge"), words.Count(len(e.Faces), "face"), e.Name)
	case e.As != "":
		return fmt.Sprintf("rename the pick set %s to %s", e.Name, e.As)
	}
	return "drop the pick set " + e.Name
}

func (e *SavePicks) keeps() bool { return len(e.Edges)+len(e.Faces) > 0 }

// Apply implements Edit.
func (e *SavePicks) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	for _, name := range []string{e.Name, cmp.Or(e.As, e.Name)} {
		if name == "" || len(name) > 80 {
			return nil, document.Refuse("a pick set needs a name of 1 to 80 letters")
		}
	}
	if err := document.CheckFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if len(e.Edges) > 0 {
		if err := document.CheckEdges(d.Mesh, e.Edges); err != nil {
			return nil, err
		}
	}
	s := d.Begin()
	named := func(name string) func(document.PickSet) bool {
		return func(p document.PickSet) bool { return p.Name == name }
	}
	had := slices.IndexFunc(s.Wishes.Picks, named(e.Name))
	kept := document.PickSet{Name: e.Name, Edges: ids.With(nil, e.Edges), Faces: ids.With(nil, e.Faces)}
	switch {
	case e.keeps():
	case had < 0:
		return nil, document.Refuse("there is no pick set called %q", e.Name)
	case e.As != "":
		if e.As != e.Name && slices.ContainsFunc(s.Wishes.Picks, named(e.As)) {
			return nil, document.Refuse("another pick set is called %q", e.As)
		}
		kept = s.Wishes.Picks[had]
		kept.Name = e.As
	}
	s.Wishes.Picks = slices.DeleteFunc(slices.Clone(s.Wishes.Picks), named(e.Name))
	if e.keeps() || e.As != "" {
		s.Wishes.Picks = append(s.Wishes.Picks, kept)
	}
	slices.SortFunc(s.Wishes.Picks, func(a, b document.PickSet) int { return cmp.Compare(a.Name, b.Name) })
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
func (e *ViewFrom) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s := d.Begin()
	s.Settings.Sides = e.Sides
	if err := s.Settings.Check(); err != nil {
		return nil, err
	}
	return s.Done(), nil
}
