package wire

import (
	"fmt"
	"math"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/words"
)

// Field is what is measured of every face, as its iso-lines and its worst places.
type Field struct {
	Of    proof.Measured `json:"of"`
	Lines []Isoline      `json:"lines"`
	Worst []Worst        `json:"worst"`
}

// Isoline is a line of one value: its places lie on the line from one corner to another, some way along.
type Isoline struct {
	Says string            `json:"says"`
	From []mesh.HalfedgeID `json:"from"`
	To   []mesh.HalfedgeID `json:"to"`
	At   []float32         `json:"at"`
}

// Worst is a place that is far from what is wished, or the same one on parts that are equal.
type Worst struct {
	Says   string          `json:"says"`
	Part   string          `json:"part"`   // of the first
	Places [][]mesh.FaceID `json:"places"` // faces of each
}

// NewField says a field, and its worst places, at most so many.
func NewField(f proof.Field, s *document.State, most int) Field {
	out := Field{Of: f.Of, Lines: []Isoline{}, Worst: []Worst{}}
	for _, l := range f.Isolines() {
		v := Isoline{Says: valueWords(f.Of, l.Level)}
		for _, o := range l.Places {
			v.From, v.To, v.At = append(v.From, o.From), append(v.To, o.To), append(v.At, float32(o.At))
		}
		out.Lines = append(out.Lines, v)
	}
	out.Worst = worst(f, s, most)
	return out
}

// seldom is how many places are looked at for each that is listed: repeats share one.
const seldom = 24

// worst folds the worst places on repeats into one.
func worst(f proof.Field, s *document.State, most int) []Worst {
	type key struct {
		says string
		root document.PartID
	}
	out := []Worst{}
	at := map[key]int{}
	for _, w := range f.Worst(seldom * most) {
		v := Worst{Says: valueWords(f.Of, w.Value), Places: [][]mesh.FaceID{w.Faces}}
		k := key{v.Says, document.NoPart}
		if p := s.PartOf(w.Faces[0]); p >= 0 {
			v.Part, k.root = s.Parts[p].Name, s.RepeatRoot(p)
		}
		if i, ok := at[k]; ok && k.root != document.NoPart {
			out[i].Places = append(out[i].Places, w.Faces)
			continue
		}
		if len(out) == most {
			break
		}
		at[k] = len(out)
		out = append(out, v)
	}
	return out
}

// valueWords says a value of a field.
func valueWords(of proof.Measured, v float64) string {
	switch of {
	case proof.OfGrain:
		return fmt.Sprintf("%.3g°", v)
	case proof.OfExposure:
		return fmt.Sprintf("%.1f", v)
	case proof.OfStretch:
		return words.Times(v, 2)
	}
	if math.Abs(v-1) < 0.05 {
		return words.Times(v, 3)
	}
	return words.Times(v, 2)
}
