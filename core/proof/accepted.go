package proof

import (
	"slices"

	"morvek/core/mesh"
)

// Known is a finding that somebody knows of: told by its kind and a face of it.
type Known struct {
	Kind  string      `json:"kind"`
	Face  mesh.FaceID `json:"face"`
	Value float64     `json:"value"` // how bad it was
}

// Accepted is a finding that somebody lets stay.
type Accepted struct {
	Known
	Reason string `json:"reason"`
}

// Marked are the findings there were when somebody marked the state.
type Marked struct {
	Findings []Known `json:"findings"`
}

// KnownOf tells a finding by what it is known by; false where it has no place.
func KnownOf(f Finding) (k Known, ok bool) {
	k = Known{Kind: f.Kind, Value: f.Value}
	if len(f.Faces) == 0 {
		return k, false
	}
	k.Face = f.Faces[0]
	return k, true
}

// worse is by how much a finding may change for the worse and still be the one that is known.
const worse = 1.05

// is tells whether a finding is the one that is known. Values of most kinds grow with what
// is wrong; distances and coverage shrink.
func (a Known) is(f Finding) bool {
	if a.Kind != f.Kind || !slices.Contains(f.Faces, a.Face) {
		return false
	}
	switch f.Kind {
	case TooClose, Limbs, Wasted:
		return f.Value*worse >= a.Value
	}
	return f.Value <= a.Value*worse
}

// accept marks the findings that somebody accepted.
func accept(list []Finding, accepted []Accepted) {
	if len(accepted) == 0 {
		return
	}
	for i := range list {
		for _, a := range accepted {
			if a.is(list[i]) {
				list[i].Accepted = a.Reason
			}
		}
	}
}

// mark tells which findings were not there when the state was marked.
func mark(list []Finding, m *Marked) {
	if m == nil {
		return
	}
	for i, f := range list {
		list[i].New = len(f.Faces) > 0 && !slices.ContainsFunc(m.Findings, func(k Known) bool { return k.is(f) })
	}
}

// IsKind tells whether there are findings of a kind.
func IsKind(kind string) bool { return slices.Contains(kinds, kind) }

// Kinds are all kinds of finding.
func Kinds() []string { return slices.Clone(kinds) }

var kinds = []string{Unmapped, Mirrored, NoArea, Wasted, Overlap, Outside, TooClose, Limbs, Stretched, OffGrain, Density, NoOpening, InView, Crooked, LabelAskew, LabelMirrored, LabelCut}
