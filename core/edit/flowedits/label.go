package flowedits

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// SetLabel says that faces carry a word that must read, and turns their shell so that it
// stands upright on the sheet. Suggested cuts leave a label whole and packing does not
// turn it.
type SetLabel struct {
	Faces    []mesh.FaceID `json:"faces"`
	Word     string        `json:"word"`               // none: labels with any of these faces are taken away
	Quarters int           `json:"quarters,omitempty"` // turns from how it would stand by itself, counter-clockwise
}

// Kind implements Edit.
func (*SetLabel) Kind() string { return "label" }

// Describe implements Edit.
func (e *SetLabel) Describe() string {
	if e.Word == "" {
		return "take a label away"
	}
	return "label " + words.Count(len(e.Faces), "face") + " " + e.Word
}

// Apply implements Edit.
func (e *SetLabel) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckPick(m, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	faces := slices.Compact(slices.Sorted(slices.Values(e.Faces)))
	own := ids.Set(faces)
	s.Wishes.Labels = slices.DeleteFunc(slices.Clone(s.Wishes.Labels), func(l flow.Label) bool {
		return slices.ContainsFunc(l.Faces, func(f mesh.FaceID) bool { return own[f] })
	})
	switch {
	case e.Word == "" && len(s.Wishes.Labels) == len(d.State.Wishes.Labels):
		return nil, document.Refuse("these faces carry no label")
	case e.Word == "":
		return s.Done(), nil
	case len([]rune(e.Word)) > 80:
		return nil, document.Refuse("a label has at most 80 letters")
	case len(m.Connected(faces, func(mesh.EdgeID) bool { return false })) > 1:
		return nil, document.Refuse("the faces of a label must hang together")
	}
	l, ok := flow.NewLabel(m, e.Word, faces, s.Settings.Flow(), e.Quarters)
	if !ok {
		return nil, document.Refuse("these faces look all ways: a word on them has no front; pick fewer")
	}
	s.Wishes.Labels = append(s.Wishes.Labels, l)
	shells, of := s.Map.Shells()
	k := of[faces[0]]
	if k == mesh.None {
		return s.Done(), nil
	}
	if err := s.Unstacked(s.Stacks(), shells[k].Faces); err != nil {
		return nil, err
	}
	shell := s.Map.Lift(shells[k])
	lay.NewTurner(s, d).ToGrain(&shell)
	return s.Done(), nil
}
