package seamedits

import (
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
	return fmt.Sprintf("keep %s as %s", words.Count(len(e.Edges), "edge"), e.Name)
}

// Apply implements Edit.
func (e *SavePicks) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if e.Name == "" || len(e.Name) > 80 {
		return nil, document.Refuse("a pick set needs a name of 1 to 80 letters")
	}
	s := d.Begin()
	i := slices.IndexFunc(s.Wishes.Picks, func(p document.PickSet) bool { return p.Name == e.Name })
	s.Wishes.Picks = slices.Clone(s.Wishes.Picks)
	if len(e.Edges) == 0 {
		if i < 0 {
			return nil, document.Refuse("there is no pick set called %q", e.Name)
		}
		s.Wishes.Picks = slices.Delete(s.Wishes.Picks, i, i+1)
		return s.Done(), nil
	}
	if err := document.CheckEdges(d.Mesh, e.Edges); err != nil {
		return nil, err
	}
	p := document.PickSet{Name: e.Name, Edges: ids.With(nil, e.Edges)}
	if i >= 0 {
		s.Wishes.Picks[i] = p
		return s.Done(), nil
	}
	s.Wishes.Picks = append(s.Wishes.Picks, p)
	slices.SortFunc(s.Wishes.Picks, func(a, b document.PickSet) int {
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
func (e *ViewFrom) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s := d.Begin()
	s.Settings.Sides = e.Sides
	if err := s.Settings.Check(); err != nil {
		return nil, err
	}
	return s.Done(), nil
}
