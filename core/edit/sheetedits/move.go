package sheetedits

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Move transforms the shells that contain the given faces about the middle of
// their common box: mirrored, scaled, turned, then shifted.
type Move struct {
	Faces   []mesh.FaceID `json:"faces"`
	Shift   r2.Vec        `json:"shift"`              // sheet units
	TurnDeg float64       `json:"turn_deg,omitempty"` // counter-clockwise
	Scale   float64       `json:"scale,omitempty"`    // 0 means 1
	ScaleV  float64       `json:"scale_v,omitempty"`  // along V, where shells are stretched; 0 means Scale
	Flip    bool          `json:"flip,omitempty"`     // left and right exchanged
	Each    bool          `json:"each,omitempty"`     // each about its own middle
}

// Kind implements Edit.
func (*Move) Kind() string { return "move" }

// Describe implements Edit.
func (e *Move) Describe() string {
	what := "a shell"
	if len(e.Faces) > 1 {
		what = "shells"
	}
	switch {
	case e.Flip:
		return "turn " + what + " over"
	case e.TurnDeg != 0:
		return "turn " + what
	case e.stretches():
		return "stretch " + what
	case e.Scale != 0 && e.Scale != 1:
		return "scale " + what
	}
	return "move " + what
}

func (e *Move) stretches() bool { return e.ScaleV != 0 && e.ScaleV != orOne(e.Scale) }

// orOne is a factor, 1 where none is given.
func orOne(x float64) float64 {
	if x == 0 {
		return 1
	}
	return x
}

// Apply implements Edit.
func (e *Move) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := e.check(); err != nil {
		return nil, err
	}
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	all := common(list).Middle()
	s := d.Begin()
	for _, u := range list {
		centre := all
		if e.Each {
			centre = u.Box.Middle()
		}
		put(s, u, e.about(centre))
	}
	return s.Done(), nil
}

func (e *Move) check() error {
	possible := func(scale float64) bool { return scale > 1e-6 && scale < 1e6 }
	u := orOne(e.Scale)
	if !possible(u) || e.ScaleV != 0 && !possible(e.ScaleV) || math.IsNaN(e.TurnDeg+e.Shift.X+e.Shift.Y) || math.Abs(e.Shift.X)+math.Abs(e.Shift.Y) > 1e4 {
		return document.Refuse("this move would put the shell nowhere: scale %g, shift %g, %g", u, e.Shift.X, e.Shift.Y)
	}
	if !(math.Abs(e.TurnDeg) <= 36000) {
		return document.Refuse("a turn by %g° is out of reach; choose less than a hundred turns", e.TurnDeg)
	}
	return nil
}

// about is the move as a map of the sheet.
func (e *Move) about(centre r2.Vec) func(r2.Vec) r2.Vec {
	u := orOne(e.Scale)
	v := u
	if e.ScaleV != 0 {
		v = e.ScaleV
	}
	sin, cos := math.Sincos(e.TurnDeg * math.Pi / 180)
	if q := math.Mod(e.TurnDeg, 90); q == 0 { // quarter turns keep straight lines exactly straight
		sin, cos = math.Round(sin), math.Round(cos)
	}
	return func(q r2.Vec) r2.Vec {
		q = r2.Sub(q, centre)
		q = r2.Vec{X: u * q.X, Y: v * q.Y}
		if e.Flip {
			q.X = -q.X
		}
		q = r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y}
		return r2.Add(r2.Add(q, centre), e.Shift)
	}
}
