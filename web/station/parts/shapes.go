package parts

import (
	"fmt"
	"math"

	"morvek/core/document"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/core/words"
	"morvek/workspace"
)

// partView is the part a tray is about.
type partView struct {
	Name         string
	Shape        shape.Kind
	Soft         bool // with rounds at its rims
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

// newPartView tells of a part and, where it is asked, how well other shapes fit it.
func newPartView(o *workspace.Opened, p document.PartID) *partView {
	s := o.Doc.State
	part := s.Parts[p]
	faces := s.PartFaces()[p]
	unit := s.Settings.Unit
	v := &partView{Name: part.Name, Shape: part.Fit.Reads(), Soft: part.Fit.Soft(), Error: words.Length(part.Fit.Error, unit),
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
		if f.Kind == part.Fit.Reads() || f.Kind == shape.Free || len(v.Alternatives) == shown {
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
