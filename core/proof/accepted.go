package proof

import (
	"slices"

	"morvek/core/mesh"
)

// Accepted is a finding that somebody lets stay: told by its kind and a face of it.
type Accepted struct {
	Kind   string      `json:"kind"`
	Face   mesh.FaceID `json:"face"`
	Value  float64     `json:"value"` // how bad it was
	Reason string      `json:"reason"`
}

// worse is by how much a finding may change for the worse and still be the one that was accepted.
const worse = 1.05

// allows tells whether a finding is the one that was accepted. Values of most kinds grow with what
// is wrong; distances and coverage shrink.
func (a Accepted) allows(f Finding) bool {
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
			if a.allows(list[i]) {
				list[i].Accepted = a.Reason
			}
		}
	}
}

// IsKind tells whether there are findings of a kind.
func IsKind(kind string) bool { return slices.Contains(kinds, kind) }

// Kinds are all kinds of finding.
func Kinds() []string { return slices.Clone(kinds) }

var kinds = []string{Unmapped, Mirrored, NoArea, Wasted, Overlap, Outside, TooClose, Limbs, Stretched, OffGrain, Density, NoOpening, InView, Crooked, LabelAskew, LabelMirrored, LabelCut}
