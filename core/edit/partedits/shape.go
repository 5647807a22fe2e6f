package partedits

import (
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/parts"
	"morvek/core/shape"
)

// SetShape says what a part is, whatever was recognised, and locks it.
type SetShape struct {
	Part  document.PartID `json:"part"`
	Shape shape.Kind      `json:"shape"`
}

// Kind implements Edit.
func (*SetShape) Kind() string { return "set-shape" }

// Describe implements Edit.
func (e *SetShape) Describe() string { return "treat a part as " + string(e.Shape) }

// Apply implements Edit.
func (e *SetShape) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(e.Part); err != nil {
		return nil, err
	}
	if !slices.Contains(shape.Kinds, e.Shape) {
		return nil, document.Refuse("there is no shape %q", e.Shape)
	}
	s := d.Begin()
	p := s.Part(e.Part)
	faces := s.PartFaces()[e.Part]
	fit := shape.Fit{Kind: e.Shape, Origin: p.Fit.Origin}
	if e.Shape != shape.Free {
		i := -1
		fits := parts.Alternatives(d.Mesh, faces)
		if i = slices.IndexFunc(fits, func(f shape.Fit) bool { return f.Kind == e.Shape }); i < 0 {
			return nil, document.Refuse("%s cannot be fitted as %s: %s", p.Name, e.Shape, whyNot(e.Shape, len(faces)))
		}
		fit = fits[i]
	}
	p.Fit, p.Locked, p.ByHand, p.Pieces = fit, true, true, nil
	p.Grain, p.GrainOwn = s.GrainFor(d.Mesh, faces, p), false
	if fit.Kind.Traits().Apart {
		s.ResetCuts(d.Mesh, faces)
	}
	return s.Done(), nil
}

func whyNot(k shape.Kind, faces int) string {
	if why := k.Traits().WhyNot; why != "" {
		return why
	}
	return fmt.Sprintf("%d faces do not tell its parameters", faces)
}
