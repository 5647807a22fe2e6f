package document

import (
	"reflect"
	"slices"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/proof"
)

// Marks are what people said of points and shells in one map. A shell is told by a face of it,
// since it has no number that lasts.
type Marks struct {
	Pins   []mesh.HalfedgeID `json:"pins,omitempty"`   // corners whose points flattening leaves where they are
	Placed []mesh.FaceID     `json:"placed,omitempty"` // of shells somebody put where they lie
	Locked []mesh.FaceID     `json:"locked,omitempty"` // of shells that packing neither moves nor scales

	Stacks  [][]mesh.FaceID `json:"stacks,omitempty"`  // of shells that lie on each other on purpose, the lowest one first
	Weights []FaceWeight    `json:"weights,omitempty"` // of faces, besides that of their parts; no face twice

	Accepted []proof.Accepted `json:"accepted,omitempty"` // findings that may stay
	Marked   *proof.Marked    `json:"marked,omitempty"`   // findings when the state was marked, nil where it was not
}

// FaceWeight is the density of some faces relative to what they would have.
type FaceWeight struct {
	Weight float64       `json:"weight"`
	Faces  []mesh.FaceID `json:"faces"` // ascending
}

func (k Marks) fits(m *mesh.Mesh) bool {
	if CheckCorners(m, k.Pins) != nil || CheckFaces(m, k.Placed) != nil || CheckFaces(m, k.Locked) != nil {
		return false
	}
	for _, s := range k.Stacks {
		if CheckFaces(m, s) != nil {
			return false
		}
	}
	for _, a := range k.Accepted {
		if CheckFaces(m, []mesh.FaceID{a.Face}) != nil {
			return false
		}
	}
	if k.Marked != nil {
		for _, f := range k.Marked.Findings {
			if CheckFaces(m, []mesh.FaceID{f.Face}) != nil {
				return false
			}
		}
	}
	for _, w := range k.Weights {
		if CheckFaces(m, w.Faces) != nil || CheckWeight(w.Weight) != nil {
			return false
		}
	}
	return true
}

// CheckWeight refuses weights that no density can have.
func CheckWeight(w float64) error {
	if !(w >= 0.05 && w <= 20) {
		return Refuse("a weight of %g is not possible; choose 0.05 to 20", w)
	}
	return nil
}

// without are the marks of all faces but some.
func (k Marks) without(m *mesh.Mesh, gone map[mesh.FaceID]bool) Marks {
	is := func(f mesh.FaceID) bool { return gone[f] }
	out := Marks{
		Pins:   slices.DeleteFunc(slices.Clone(k.Pins), func(h mesh.HalfedgeID) bool { return gone[m.FaceOf(h)] }),
		Placed: slices.DeleteFunc(slices.Clone(k.Placed), is),
		Locked: slices.DeleteFunc(slices.Clone(k.Locked), is),

		Accepted: slices.DeleteFunc(slices.Clone(k.Accepted), func(a proof.Accepted) bool { return gone[a.Face] }),
		Marked:   k.Marked,
	}
	for _, s := range k.Stacks {
		out.Stacks = append(out.Stacks, slices.DeleteFunc(slices.Clone(s), is))
	}
	for _, w := range k.Weights {
		out.Weights = append(out.Weights, FaceWeight{w.Weight, slices.DeleteFunc(slices.Clone(w.Faces), is)})
	}
	out.Stacks, out.Weights = tidyStacks(out.Stacks), tidyWeights(out.Weights)
	return out
}

// tidyStacks takes those that say nothing out of a list that is nobody else's.
func tidyStacks(list [][]mesh.FaceID) [][]mesh.FaceID {
	if list = slices.DeleteFunc(list, func(s []mesh.FaceID) bool { return len(s) < 2 }); len(list) == 0 {
		return nil // as it is read back
	}
	return list
}

// tidyWeights takes those that say nothing out of a list that is nobody else's.
func tidyWeights(list []FaceWeight) []FaceWeight {
	if list = slices.DeleteFunc(list, func(w FaceWeight) bool { return w.Weight == 1 || len(w.Faces) == 0 }); len(list) == 0 {
		return nil
	}
	return list
}

// MarksChange is how marks changed: of the long lists what is in one of two only, of the
// others all, old and new, nil if they are the same.
type MarksChange struct {
	Pins           []mesh.HalfedgeID
	Placed, Locked []mesh.FaceID
	Rest           *[2]MarksRest
}

// MarksRest are the marks that are stored whole.
type MarksRest struct {
	Stacks  [][]mesh.FaceID `json:"stacks,omitempty"`
	Weights []FaceWeight    `json:"weights,omitempty"`

	Accepted []proof.Accepted `json:"accepted,omitempty"`
	Marked   *proof.Marked    `json:"marked,omitempty"`
}

func (k Marks) rest() MarksRest { return MarksRest{k.Stacks, k.Weights, k.Accepted, k.Marked} }

func diffMarks(a, b Marks) MarksChange {
	c := MarksChange{Pins: ids.Either(a.Pins, b.Pins), Placed: ids.Either(a.Placed, b.Placed), Locked: ids.Either(a.Locked, b.Locked)}
	if was, is := a.rest(), b.rest(); !reflect.DeepEqual(was, is) {
		c.Rest = &[2]MarksRest{was, is}
	}
	return c
}

func (c MarksChange) empty() bool {
	return len(c.Pins)+len(c.Placed)+len(c.Locked) == 0 && c.Rest == nil
}

// on are marks after the change, to 1, or before it, to 0.
func (c MarksChange) on(k Marks, to int) Marks {
	k.Pins, k.Placed, k.Locked = ids.Either(k.Pins, c.Pins), ids.Either(k.Placed, c.Placed), ids.Either(k.Locked, c.Locked)
	if c.Rest != nil {
		r := c.Rest[to]
		k.Stacks, k.Weights, k.Accepted, k.Marked = r.Stacks, r.Weights, r.Accepted, r.Marked
	}
	return k
}

func (c MarksChange) fits(m *mesh.Mesh) bool {
	ok := Marks{Pins: c.Pins, Placed: c.Placed, Locked: c.Locked}.fits(m)
	if c.Rest != nil {
		for _, r := range c.Rest {
			ok = ok && Marks{Stacks: r.Stacks, Weights: r.Weights, Accepted: r.Accepted, Marked: r.Marked}.fits(m)
		}
	}
	return ok
}

// apart tells whether two changes of marks can both be made.
func (c MarksChange) apart(d MarksChange) bool {
	return (c.Rest == nil || d.Rest == nil) && !ids.Meet(c.Pins, d.Pins) && !ids.Meet(c.Placed, d.Placed) && !ids.Meet(c.Locked, d.Locked)
}

// touched are the faces of which stacks or weights are others.
func (c MarksChange) touched() (out []mesh.FaceID) {
	if c.Rest == nil {
		return nil
	}
	for _, r := range c.Rest {
		for _, s := range r.Stacks {
			out = append(out, s...)
		}
		for _, w := range r.Weights {
			out = append(out, w.Faces...)
		}
	}
	return out
}
