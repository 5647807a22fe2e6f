package partedits

import (
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/words"
)

// Detail cuts the reading at another detail: fewer parts or finer ones, of the chosen
// parts or of all. What reads the same stays as it is, and so does what is locked.
type Detail struct {
	document.Reading
	Parts []document.PartID `json:"parts,omitempty"` // none: all
}

// Kind implements Edit.
func (*Detail) Kind() string { return "detail" }

// Describe implements Edit.
func (e *Detail) Describe() string {
	at := ""
	if e.Detail != nil {
		at = fmt.Sprintf(" at %.0f %% detail", 100**e.Detail)
	}
	if len(e.Parts) > 0 {
		return "read " + words.Count(len(e.Parts), "part") + at
	}
	return "read all parts" + at
}

// Apply implements Edit.
func (e *Detail) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	o, err := e.Options(d)
	if err != nil {
		return nil, err
	}
	if len(e.Parts) > 0 {
		if err := d.State.CheckParts(e.Parts...); err != nil {
			return nil, err
		}
	}
	if !d.State.Recognised() {
		return nil, document.Refuse("nothing is recognised yet; recognise parts first")
	}
	t, err := d.Tree(ctx, o, progress)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	meant := func(f mesh.FaceID) bool {
		p := s.PartOf(f)
		return p == document.NoPart || !s.Parts[p].Locked && (len(e.Parts) == 0 || slices.Contains(e.Parts, p))
	}
	var found []parts.Part
	for _, p := range t.Cut(d.Mesh, o.Detail) {
		if !slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return !meant(f) }) {
			found = append(found, p)
		}
	}
	s.Regroup(d.Mesh, found)
	if len(e.Parts) == 0 {
		s.Settings.Finer = o.Detail - parts.Default().Detail
	}
	return s.Done(), nil
}

// Split takes a part apart into the pieces it was read as.
type Split struct {
	Part document.PartID `json:"part"`
}

// Kind implements Edit.
func (*Split) Kind() string { return "split" }

// Describe implements Edit.
func (*Split) Describe() string { return "split a part into its pieces" }

// Apply implements Edit.
func (e *Split) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(e.Part); err != nil {
		return nil, err
	}
	p := d.State.Parts[e.Part]
	switch {
	case p.Locked:
		return nil, document.Refuse("%s is locked; unlock it first", p.Name)
	case len(p.Pieces) < 2:
		return nil, document.Refuse("%s was read as one thing; to divide it, pick faces and part them off", p.Name)
	}
	s := d.Begin()
	s.Regroup(d.Mesh, document.AsParts(p.Pieces))
	return s.Done(), nil
}

// Unite makes one part of a part and of those it belongs with, one step up the reading.
type Unite struct {
	document.Reading
	Part document.PartID `json:"part"`
}

// Kind implements Edit.
func (*Unite) Kind() string { return "unite" }

// Describe implements Edit.
func (*Unite) Describe() string { return "unite a part with what it belongs to" }

// Apply implements Edit.
func (e *Unite) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	o, err := e.Options(d)
	if err != nil {
		return nil, err
	}
	if err := d.State.CheckParts(e.Part); err != nil {
		return nil, err
	}
	t, err := d.Tree(ctx, o, progress)
	if err != nil {
		return nil, err
	}
	p := d.State.Parts[e.Part]
	above, ok := t.Above(d.State.PartFaces()[e.Part])
	if !ok {
		return nil, document.Refuse("%s was read as part of nothing larger; to unite it, choose its neighbours with Shift and merge", p.Name)
	}
	s := d.Begin()
	for _, f := range above.Faces {
		if q := s.PartOf(f); q >= 0 && s.Parts[q].Locked {
			return nil, document.Refuse("%s belongs with %s, which is locked; unlock it first", p.Name, s.Parts[q].Name)
		}
	}
	s.Regroup(d.Mesh, []parts.Part{above})
	return s.Done(), nil
}
