package web

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/core/words"
	"morvek/workspace"
)

// metaFit is a fit for the overlay of the piece, about the middle of the model.
type metaFit struct {
	Axis      [3]float64   `json:"axis"`
	Origin    [3]float64   `json:"origin"`
	Radius    float64      `json:"radius"`
	Major     float64      `json:"major"`
	HalfAngle float64      `json:"half_angle"`
	Spine     [][3]float64 `json:"spine"`
}

func newMetaFit(f shape.Fit, middle r3.Vec) metaFit {
	at := func(p r3.Vec) [3]float64 { d := r3.Sub(p, middle); return [3]float64{d.X, d.Y, d.Z} }
	out := metaFit{Axis: [3]float64{f.Axis.X, f.Axis.Y, f.Axis.Z}, Origin: at(f.Origin), Radius: f.Radius, Major: f.Major, HalfAngle: f.HalfAngle, Spine: [][3]float64{}}
	for _, p := range f.Spine {
		out.Spine = append(out.Spine, at(p))
	}
	return out
}

// partView is the part a tray is about.
type partView struct {
	Name         string
	Shape        shape.Kind
	Error        string
	Locked       bool
	Weight       float64
	Note         string
	Pieces       int
	Repeats      int // other parts equal to it
	Mirrored     int // of these, mirror images
	RepeatOf     string
	Alternatives []alternativeView
}

type alternativeView struct {
	Shape shape.Kind
	Error string
}

// newPartView tells how well each shape fits a part.
func newPartView(o *workspace.Opened, p document.PartID) *partView {
	s := o.Doc.State
	part := s.Parts[p]
	faces := s.PartFaces()[p]
	unit := s.Settings.Unit
	v := &partView{Name: part.Name, Shape: part.Fit.Kind, Error: words.Length(part.Fit.Error, unit),
		Locked: part.Locked, Weight: s.Weight(p), Note: part.Note, Pieces: len(part.Pieces)}
	root := s.RepeatRoot(p)
	if root != p {
		v.RepeatOf = s.Parts[root].Name
	}
	for i := range s.Parts {
		if q := document.PartID(i); q != p && s.RepeatRoot(q) == root {
			v.Repeats++
			if s.Parts[q].Mirrored != part.Mirrored {
				v.Mirrored++
			}
		}
	}
	if len(faces) == 0 {
		return v
	}
	const shown = 4
	for _, f := range parts.Alternatives(o.Doc.Mesh, faces) {
		if f.Kind == part.Fit.Kind || f.Kind == shape.Free || len(v.Alternatives) == shown {
			continue
		}
		v.Alternatives = append(v.Alternatives, alternativeView{f.Kind, words.Length(f.Error, unit)})
	}
	return v
}

// mirrorWords says where a model mirrors: left and right, and how much of it.
func mirrorWords(m parts.Mirror) string {
	x, y, z := math.Abs(m.Normal.X), math.Abs(m.Normal.Y), math.Abs(m.Normal.Z)
	axis := "a slanting plane"
	switch {
	case x > 0.999:
		axis = "the plane across X"
	case y > 0.999:
		axis = "the plane across Y"
	case z > 0.999:
		axis = "the plane across Z"
	}
	return fmt.Sprintf("%.0f %% mirrors in %s", 100*m.Share, axis)
}
