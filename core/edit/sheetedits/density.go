package sheetedits

import (
	"context"
	"fmt"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/words"
)

// Density scales shells, each about its own middle, to one texel density times their weights:
// one that is given, that of a shell, so many tiles across each, or else the mean of these shells.
// Locked ones stay as they are.
type Density struct {
	Faces     []mesh.FaceID `json:"faces,omitempty"`       // a face of each shell, none for all
	PxPerUnit float64       `json:"px_per_unit,omitempty"` // of a side of the sheet in px, per model unit
	Like      *mesh.FaceID  `json:"like,omitempty"`        // a face of the shell whose density is taken over
	AsAll     bool          `json:"as_all,omitempty"`      // that of most of the area of all shells
	Across    float64       `json:"across,omitempty"`      // so many tiles lie across each shell along U
	Pack      bool          `json:"pack,omitempty"`        // then all are packed, as large to each other as they are
}

// Kind implements Edit.
func (*Density) Kind() string { return "density" }

// Describe implements Edit.
func (e *Density) Describe() string {
	of := "of all shells"
	if len(e.Faces) > 0 {
		of = "of " + words.Count(len(e.Faces), "shell")
	}
	switch {
	case e.Across > 0:
		return fmt.Sprintf("lay %g tiles across %s", e.Across, words.Count(len(e.Faces), "shell"))
	case e.PxPerUnit > 0:
		return fmt.Sprintf("set the density %s to %.4g px", of, e.PxPerUnit)
	case e.Like != nil:
		return "take over the density of a shell"
	}
	return "make the density " + of + " equal"
}

// Long implements edit.Long.
func (e *Density) Long() bool { return e.Pack }

// Apply implements Edit.
func (e *Density) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	list, err := e.units(d.State)
	if err != nil {
		return nil, err
	}
	to, err := e.common(d.State, list)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	weight := s.Weights()
	for _, u := range list {
		scale := 1.
		if e.Across > 0 {
			scale = e.Across / u.Box.Size().X
		} else if has := d.State.Map.Density(u.Lowest()); has > 0 {
			scale = to * weight(u.Lowest()) / has
		}
		if !(scale > 1e-6 && scale < 1e6) {
			return nil, document.Refuse("a shell of %s would become too large or too small to be seen", s.NameOf(u.Faces[0]))
		}
		middle := u.Box.Middle()
		u.Move(s, func(q r2.Vec) r2.Vec { return r2.Add(middle, r2.Scale(scale, r2.Sub(q, middle))) })
	}
	out := s.Done()
	if !e.Pack {
		return out, nil
	}
	return lay.PackAs(ctx, d.With(out), lay.How{Sizes: lay.Kept}, parallel.Part(progress, 0.05, 1))
}

func (e *Density) units(s *document.State) ([]lay.Unit, error) {
	if len(e.Faces) > 0 {
		return lay.Unlocked(s, e.Faces)
	}
	var all []mesh.FaceID
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		all = append(all, sh.Faces[0])
	}
	return lay.Unlocked(s, all)
}

// common is the density that is asked for, in sheet units per model unit.
func (e *Density) common(s *document.State, list []lay.Unit) (float64, error) {
	asked := 0
	for _, is := range []bool{e.PxPerUnit != 0, e.Like != nil, e.Across != 0, e.AsAll} {
		if is {
			asked++
		}
	}
	switch {
	case asked > 1:
		return 0, document.Refuse("choose one: a density, a shell to take it over from, that of all, or tiles across")
	case e.Across != 0:
		if !(e.Across > 0 && e.Across <= 1e4) {
			return 0, document.Refuse("%g tiles across are not possible", e.Across)
		}
		return 1, nil
	case e.PxPerUnit != 0:
		if !(e.PxPerUnit > 0 && e.PxPerUnit < 1e12) {
			return 0, document.Refuse("a density of %g px is not possible", e.PxPerUnit)
		}
		return e.PxPerUnit / float64(s.Settings.Sheet.Size), nil
	case e.Like != nil:
		like, err := lay.UnitsOf(s, []mesh.FaceID{*e.Like})
		if err != nil {
			return 0, err
		}
		list = like
	case e.AsAll:
		return lay.UsualDensity(s), nil
	}
	return lay.CommonDensity(s, list), nil
}
