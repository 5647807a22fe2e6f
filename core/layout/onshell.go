package layout

import (
	"morvek/core/mesh"
)

// shellsAsked returns which shells are meant by a face of each, all by none; of is the
// shell of each face.
func shellsAsked(of []int32, faces []mesh.FaceID) (func(shell int) bool, error) {
	asked := map[int32]bool{}
	for _, f := range faces {
		if of[f] == mesh.None {
			return nil, refuse("face %d does not lie on the sheet; flatten it first", f)
		}
		asked[of[f]] = true
	}
	return func(shell int) bool { return len(asked) == 0 || asked[int32(shell)] }, nil
}

// unstacked refuses faces whose parts share their place with others.
func (s *State) unstacked(stacked func(PartID) bool, faces []mesh.FaceID) error {
	for _, p := range s.partsOf(faces) {
		if stacked(p) {
			return refuse("%s lies in a stack; take the stack apart first", s.Parts[p].Name)
		}
	}
	return nil
}
