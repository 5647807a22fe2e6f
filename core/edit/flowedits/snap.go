package flowedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Snap moves straight borders of shells to whole pixels of the sheet, so that small
// textures do not bleed; what is straight stays straight.
type Snap struct {
	Faces []mesh.FaceID `json:"faces,omitempty"` // a face of each shell; none: all
}

// Kind implements Edit.
func (*Snap) Kind() string { return "snap" }

// Describe implements Edit.
func (e *Snap) Describe() string {
	if len(e.Faces) == 0 {
		return "snap all borders to pixels"
	}
	return "snap borders to pixels"
}

// Apply implements Edit.
func (e *Snap) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	s, _, err := e.Plan(ctx, d)
	return s, err
}

// Plan returns the state after snapping and what it did, summed up over the shells.
func (e *Snap) Plan(ctx context.Context, d *document.Document) (*document.State, flow.Snapped, error) {
	var sum flow.Snapped
	m := d.Mesh
	if err := document.CheckFaces(m, e.Faces); err != nil {
		return nil, sum, err
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	asked, err := document.ShellsAsked(of, e.Faces)
	if err != nil {
		return nil, sum, err
	}
	for k, sh := range shells {
		if err := ctx.Err(); err != nil {
			return nil, sum, err
		}
		if !asked(k) {
			continue
		}
		// What lies in a stack lies on the same pixels: each is snapped alike.
		p := s.Map.PatchOf(sh)
		uv, did := flow.SnapToPixels(p, s.Map.Get(p), s.Settings.Sheet.Size)
		sum.Chains += did.Chains
		sum.Left += did.Left
		sum.Moved = max(sum.Moved, did.Moved)
		if did.Moved > 0 {
			s.Map.Set(p, uv)
			lay.SetPins(s, p, d.State.Map)
		}
	}
	if sum.Moved == 0 {
		return nil, sum, document.Refuse("no straight border lies between pixels; true shells up first if they should have some")
	}
	return s.Done(), sum, nil
}
