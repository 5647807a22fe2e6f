package sheetedits

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// ToRaster shifts each shell until the lower left of its box lies on a raster that begins in
// the lower left of the sheet.
type ToRaster struct {
	Faces  []mesh.FaceID `json:"faces"`             // a face of each shell
	StepPx float64       `json:"step_px,omitempty"` // 0 means 1: whole pixels
}

// Kind implements Edit.
func (*ToRaster) Kind() string { return "to-raster" }

// Describe implements Edit.
func (e *ToRaster) Describe() string {
	if e.StepPx == 0 || e.StepPx == 1 {
		return "put shells on whole pixels"
	}
	return "put shells on a raster"
}

// Apply implements Edit.
func (e *ToRaster) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	size := float64(d.State.Settings.Sheet.Size)
	step := e.StepPx
	if step == 0 {
		step = 1
	}
	if !(step >= 1e-3 && step <= size) {
		return nil, document.Refuse("a raster of %g px is not possible on a sheet of %g px", step, size)
	}
	step /= size
	s := d.Begin()
	for _, u := range list {
		at := u.Box.Min
		shift(s, u, r2.Sub(r2.Vec{X: math.Round(at.X/step) * step, Y: math.Round(at.Y/step) * step}, at))
	}
	return s.Done(), nil
}
