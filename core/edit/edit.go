package edit

import (
	"bytes"
	"context"
	"encoding/json"
	"reflect"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
)

// Edit is a change of a document as a value. Apply gives the state after the
// edit and leaves the document as it is; an edit that cannot be applied changes
// nothing and its error says why in words a modeler understands.
type Edit interface {
	Kind() string     // name in JSON and in the worklog
	Describe() string // a few words for the worklog, in the imperative
	Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error)
}

// Long is an edit that may take so long that it is done as a work, with progress and cancel.
type Long interface {
	Edit
	Long() bool
}

// TakesLong tells whether an edit may take long.
func TakesLong(e Edit) bool {
	l, ok := e.(Long)
	return ok && l.Long()
}

// Previewed is an edit that has more to say before it is taken than how the stretch of its
// shells changes. It computes that with the code that makes the change.
type Previewed interface {
	Edit
	Preview(ctx context.Context, d *document.Document) (preview.Preview, error)
}

// Preview returns what an edit would do, or the error of ctx as soon as that is done.
func Preview(ctx context.Context, d *document.Document, e Edit) (preview.Preview, error) {
	return parallel.Leave(ctx, func() (preview.Preview, error) {
		if d.State.AnySealed() { // then it is told first whether it may be
			s, err := e.Apply(ctx, d, nil)
			if err == nil {
				err = Heed(d.State, e, s)
			}
			if err != nil {
				return preview.Preview{}, err
			}
		}
		if p, ok := e.(Previewed); ok {
			return p.Preview(ctx, d)
		}
		return preview.Of(e.Apply(ctx, d, nil))
	})
}

// Encode writes an edit as JSON with its kind.
func Encode(e Edit) ([]byte, error) {
	params, err := json.Marshal(e)
	if err != nil {
		return nil, err
	}
	return json.Marshal(struct {
		Kind   string          `json:"kind"`
		Params json.RawMessage `json:"params"`
	}{e.Kind(), params})
}

// Apply gives the state a document has after an edit, or the error of ctx as soon as that
// is done, whatever the edit is busy with. progress may be nil.
func Apply(ctx context.Context, d *document.Document, e Edit, progress func(float64)) (*document.State, error) {
	return parallel.Leave(ctx, func() (*document.State, error) {
		s, err := e.Apply(ctx, d, progress)
		if err != nil {
			return nil, err
		}
		if err := Heed(d.State, e, s); err != nil {
			return nil, err
		}
		return s, nil
	})
}

// Freeing is an edit that may move some faces of a sealed map, since it is asked to.
type Freeing interface {
	Edit
	Frees() []mesh.FaceID
}

// Heed returns a *document.Sealed if an edit, which made one state of another, moved what lies on a
// sealed map.
func Heed(before *document.State, e Edit, after *document.State) error {
	var may []mesh.FaceID
	if f, ok := e.(Freeing); ok {
		may = f.Frees()
	}
	return before.Heeds(after, e.Describe(), may)
}

// Decode reads an edit from JSON; unknown kinds and fields are refused.
func Decode(data []byte) (Edit, error) {
	if err := Sane(data); err != nil {
		return nil, err
	}
	var env struct {
		Kind   string          `json:"kind"`
		Params json.RawMessage `json:"params"`
	}
	if err := strictJSON(data, &env); err != nil {
		return nil, document.Refuse("this is not an edit: %v", err)
	}
	row, ok := kinds[env.Kind]
	if !ok {
		return nil, document.Refuse("there is no edit called %q", env.Kind)
	}
	e := row.make()
	if len(env.Params) > longest(e) {
		return nil, document.Refuse("the edit %q is never as long as %d bytes", env.Kind, len(env.Params))
	}
	if len(env.Params) > 0 {
		if err := strictJSON(env.Params, e); err != nil {
			return nil, document.Refuse("the edit %q is not complete: %v", env.Kind, err)
		}
		nameOnce(reflect.ValueOf(e))
	}
	return e, nil
}

func strictJSON(data []byte, into any) error {
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	return d.Decode(into)
}

// Live is an edit that can be watched while it works.
type Live interface {
	Edit
	// Watch calls f, never concurrently, with what shells look like on their way.
	Watch(f func(lay.Frame))
}
