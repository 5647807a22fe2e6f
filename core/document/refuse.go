package document

import (
	"errors"
	"fmt"
	"morvek/core/mesh"
)

// Plainly is what a refusal says, without the mark.
func Plainly(err error) string { return err.Error()[len(ErrRefused.Error())+2:] }

// ErrRefused marks errors that are about what was asked, not about the program.
var ErrRefused = errors.New("refused")

func Refuse(format string, args ...any) error {
	return fmt.Errorf("%w: "+format, append([]any{ErrRefused}, args...)...)
}

func CheckFaces(m *mesh.Mesh, faces []mesh.FaceID) error {
	for _, f := range faces {
		if f < 0 || int(f) >= m.NumFaces() {
			return Refuse("there is no face %d; the mesh has %d", f, m.NumFaces())
		}
	}
	return nil
}

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

func EdgeCount(n int) string { return Count(n, "edge") }

func FaceCount(n int) string { return Count(n, "face") }

func PointCount(n int) string { return Count(n, "point") }

func Count(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return fmt.Sprintf("%d %ss", n, of)
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

func CheckPick(m *mesh.Mesh, faces []mesh.FaceID) error {
	if len(faces) == 0 {
		return Refuse("no faces are picked")
	}
	return CheckFaces(m, faces)
}

func CheckCorners(m *mesh.Mesh, corners []mesh.HalfedgeID) error {
	for _, c := range corners {
		if c < 0 || int(c) >= m.NumCorners() {
			return Refuse("there is no corner %d; the mesh has %d", c, m.NumCorners())
		}
	}
	return nil
}

func (s *State) CheckParts(list ...PartID) error {
	if len(list) == 0 {
		return Refuse("no part is picked")
	}
	for _, p := range list {
		if p < 0 || int(p) >= len(s.Parts) {
			return Refuse("there is no part %d", p)
		}
	}
	return nil
}

func PartCount(n int) string {
	if n == 1 {
		return "1 part"
	}
	return fmt.Sprintf("%d parts", n)
}
