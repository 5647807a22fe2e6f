package wire

import (
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// Fit is a fit for the overlay of the piece, about the middle of the model.
type Fit struct {
	Axis      [3]float64   `json:"axis"`
	Origin    [3]float64   `json:"origin"`
	Radius    float64      `json:"radius"`
	Major     float64      `json:"major"`
	HalfAngle float64      `json:"half_angle"`
	Pitch     float64      `json:"pitch"`
	Spine     [][3]float64 `json:"spine"`
}

func newFit(f shape.Fit, middle r3.Vec) Fit {
	at := func(p r3.Vec) [3]float64 { d := r3.Sub(p, middle); return [3]float64{d.X, d.Y, d.Z} }
	out := Fit{Axis: [3]float64{f.Axis.X, f.Axis.Y, f.Axis.Z}, Origin: at(f.Origin), Radius: f.Radius, Major: f.Major, HalfAngle: f.HalfAngle, Pitch: f.Pitch, Spine: [][3]float64{}}
	for _, p := range f.Spine {
		out.Spine = append(out.Spine, at(p))
	}
	return out
}
