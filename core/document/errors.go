package document

import (
	"errors"
	"fmt"
	"strings"

	"morvek/core/mesh"
)

// Plainly is what a refusal says, without the mark and what stands before it.
func Plainly(err error) string {
	s := err.Error()
	if _, said, ok := strings.Cut(s, ErrRefused.Error()+": "); ok {
		return said
	}
	return s
}

// ErrRefused marks errors that are about what was asked, not about the program.
var ErrRefused = errors.New("refused")

// Refuse is an error that says in words what cannot be done, and what to do instead.
func Refuse(format string, args ...any) error {
	return fmt.Errorf("%w: "+format, append([]any{ErrRefused}, args...)...)
}

// CheckFaces refuses faces that the mesh does not have.
func CheckFaces(m *mesh.Mesh, faces []mesh.FaceID) error {
	for _, f := range faces {
		if f < 0 || int(f) >= m.NumFaces() {
			return Refuse("there is no face %d; the mesh has %d", f, m.NumFaces())
		}
	}
	return nil
}

// CheckEdges refuses no edges at all, and those that the mesh does not have.
func CheckEdges(m *mesh.Mesh, edges []mesh.EdgeID) error {
	if len(edges) == 0 {
		return Refuse("no edges are picked")
	}
	for _, e := range edges {
		if e < 0 || int(e) >= m.NumEdges() {
			return Refuse("there is no edge %d; the mesh has %d", e, m.NumEdges())
		}
	}
	return nil
}

// ShellsAsked returns which shells are meant by a face of each, all by none; of is the
// shell of each face.
func ShellsAsked(of []int32, faces []mesh.FaceID) (func(shell int) bool, error) {
	asked := map[int32]bool{}
	for _, f := range faces {
		if of[f] == mesh.None {
			return nil, Refuse("face %d does not lie on the sheet; flatten it first", f)
		}
		asked[of[f]] = true
	}
	return func(shell int) bool { return len(asked) == 0 || asked[int32(shell)] }, nil
}

// CheckPick refuses no faces at all, and those that the mesh does not have.
func CheckPick(m *mesh.Mesh, faces []mesh.FaceID) error {
	if len(faces) == 0 {
		return Refuse("no faces are picked")
	}
	return CheckFaces(m, faces)
}

// CheckCorners refuses corners that the mesh does not have.
func CheckCorners(m *mesh.Mesh, corners []mesh.HalfedgeID) error {
	for _, c := range corners {
		if c < 0 || int(c) >= m.NumCorners() {
			return Refuse("there is no corner %d; the mesh has %d", c, m.NumCorners())
		}
	}
	return nil
}

// ErrCorrupt is returned for stored bytes that are not a state or a delta.
var ErrCorrupt = errors.New("document: the stored data is damaged")
