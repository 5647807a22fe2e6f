package edit

import (
	"bytes"
	"context"
	"encoding/json"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// ByHalves is an edit that is made on both mirrored halves: what it changes of seams, places and grain
// appears on the other half, mirrored (document.OnOtherHalf). Edits of other stations than Project,
// Seams and Flow are made as they are.
type ByHalves struct {
	Edit    Edit
	Stacked bool // the other half lies on this one, turned over

	did string // after it was applied
}

type byHalves struct {
	Edit    json.RawMessage `json:"edit,omitempty"`
	Stacked bool            `json:"stacked,omitempty"`
}

// UnmarshalJSON reads the edit inside by its kind.
func (e *ByHalves) UnmarshalJSON(data []byte) error {
	var v byHalves
	if err := strictJSON(data, &v); err != nil {
		return err
	}
	e.Stacked, e.Edit = v.Stacked, nil
	if len(v.Edit) == 0 || bytes.Equal(v.Edit, []byte("null")) {
		return nil
	}
	inner, err := Decode(v.Edit)
	if err != nil {
		return err
	}
	if _, ok := inner.(*ByHalves); ok {
		return document.Refuse("an edit is made by halves once")
	}
	e.Edit = inner
	return nil
}

// MarshalJSON writes it as UnmarshalJSON reads it.
func (e *ByHalves) MarshalJSON() ([]byte, error) {
	v := byHalves{Stacked: e.Stacked}
	if e.Edit != nil {
		var err error
		if v.Edit, err = Encode(e.Edit); err != nil {
			return nil, err
		}
	}
	return json.Marshal(v)
}

// Kind implements Edit.
func (*ByHalves) Kind() string { return "by-halves" }

// Describe implements Edit.
func (e *ByHalves) Describe() string {
	if e.Edit == nil {
		return "do nothing on both halves"
	}
	return e.Edit.Describe() + e.did
}

// Long tells whether the edit inside may take long.
func (e *ByHalves) Long() bool { return e.Edit != nil && TakesLong(e.Edit) }

// Watch calls f with what shells look like on their way, if the edit inside can be watched.
func (e *ByHalves) Watch(f func(lay.Frame)) {
	if w, ok := e.Edit.(Live); ok {
		w.Watch(f)
	}
}

// Frees are the faces of a sealed map that the edit inside may move.
func (e *ByHalves) Frees() []mesh.FaceID {
	if f, ok := e.Edit.(Freeing); ok {
		return f.Frees()
	}
	return nil
}

// Apply implements Edit.
func (e *ByHalves) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if e.Edit == nil {
		return nil, document.Refuse("there is no edit to be made by halves")
	}
	s, err := e.Edit.Apply(ctx, d, progress)
	if err != nil {
		return nil, err
	}
	return e.onBoth(d, s)
}

func (e *ByHalves) onBoth(d *document.Document, s *document.State) (*document.State, error) {
	switch StationOf(e.Edit) {
	case Project, Seams, Flow:
	default:
		return s, nil
	}
	both, err := d.OnOtherHalf(s, e.Stacked)
	if err != nil {
		return nil, err
	}
	e.did = both.Said()
	return both.State, nil
}

// Preview says what the edit inside has to say, and what follows on the other half.
func (e *ByHalves) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	p, ok := e.Edit.(Previewed)
	if !ok {
		s, err := e.Apply(ctx, d, nil)
		if err != nil {
			return preview.Preview{}, err
		}
		return preview.Preview{State: s, Said: e.did}, nil
	}
	out, err := p.Preview(ctx, d)
	if err != nil || out.State == nil {
		return out, err
	}
	if out.State, err = e.onBoth(d, out.State); err != nil {
		return preview.Preview{}, err
	}
	out.Said += e.did
	return out, nil
}
