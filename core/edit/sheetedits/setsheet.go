package sheetedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// SetSheet gives the map that is shown other settings; with Pack its shells are packed by them,
// as one edit.
type SetSheet struct {
	document.OnSheet
	Pack bool `json:"pack,omitempty"`
}

// Kind implements Edit.
func (*SetSheet) Kind() string { return "set-sheet" }

// Describe implements Edit.
func (e *SetSheet) Describe() string {
	if e.Pack {
		return "set the sheet and pack it"
	}
	return "set the sheet"
}

// Long implements edit.Long.
func (e *SetSheet) Long() bool { return e.Pack }

// Apply implements Edit.
func (e *SetSheet) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	set := d.State.Settings
	set.OnSheet = e.OnSheet
	if err := set.Check(); err != nil {
		return nil, err
	}
	if set.Sheet.Wide && d.State.Shown.Purpose == document.Tiling {
		return nil, document.Refuse("a tiling map has square tiles; a sheet of 2:1 is for a map of its own places")
	}
	tx := d.Begin()
	turned := set.GrainOnV != tx.Settings.GrainOnV
	change(tx, set)
	if turned {
		lay.ToGrain(tx, d)
	}
	s := tx.Done()
	if !e.Pack || !s.Map.AnyMapped() {
		return s, nil
	}
	return lay.Pack(ctx, d.With(s), progress)
}

// Preview tells the figures of the whole map before and after.
func (e *SetSheet) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	return preview.Preview{State: s, Whole: true}, err
}

// change gives a state other settings: repeats that are no longer to be stacked come apart with
// the next packing.
func change(tx *document.Tx, set document.Settings) {
	wasEqual, wasMirrored := tx.Settings.Stacks()
	isEqual, isMirrored := set.Stacks()
	var loose []mesh.FaceID
	for p, faces := range tx.PartFaces() {
		if q := tx.Parts[p]; q.RepeatOf != nil && (wasEqual && !isEqual && !q.Mirrored || wasMirrored && !isMirrored && q.Mirrored) {
			loose = append(loose, faces...)
		}
	}
	if len(loose) > 0 {
		unstack(tx, loose)
	}
	set.Merged = tx.Settings.Merged // what is worked on stays
	tx.Settings = set
}
