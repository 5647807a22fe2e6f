package lay

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// Unit is what moves as one on the sheet: a shell, or a stack of shells.
type Unit struct {
	Faces []mesh.FaceID // of all its shells, the lowest shell first
	Box   planar.Box    // of the lowest shell

	lowest []mesh.FaceID
	apart  map[mesh.FaceID]r2.Vec // whole tiles that shells of a stack lie from the lowest, per face
}

// Lowest are the faces of the shell on which the others lie, its own where it is alone.
func (u Unit) Lowest() []mesh.FaceID { return u.lowest }

// Units lists all that moves as one, in the order of the first faces.
func Units(s *document.State) []Unit {
	shells, _ := s.Map.Shells()
	stacks := s.Stacks()
	var out []Unit
	for k, sh := range shells {
		if _, above := stacks.Lying(sh.Faces[0]); !above { // others come with the lowest
			out = append(out, unitOf(s, shells, stacks, int32(k)))
		}
	}
	return out
}

// unitOf is the unit that a shell belongs to.
func unitOf(s *document.State, shells []atlas.Shell, stacks document.Stacks, k int32) Unit {
	stack := stacks.Of(shells[k].Faces[0])
	if stack < 0 {
		return Unit{Faces: shells[k].Faces, Box: s.Map.Box(shells[k].Faces), lowest: shells[k].Faces}
	}
	list := stacks.Shells(stack)
	lowest := shells[list[0]].Faces
	u := Unit{Box: s.Map.Box(lowest), lowest: lowest, apart: map[mesh.FaceID]r2.Vec{}}
	for _, k := range list {
		u.Faces = append(u.Faces, shells[k].Faces...)
		if by, _ := s.TilesApart(u.Box, s.Map.Box(shells[k].Faces)); by != (r2.Vec{}) {
			for _, f := range shells[k].Faces {
				u.apart[f] = by
			}
		}
	}
	return u
}

// UnitsOf lists what moves as one and has some of the faces, in the order of these. It refuses
// faces that are not mapped, and none.
func UnitsOf(s *document.State, faces []mesh.FaceID) ([]Unit, error) {
	if err := document.CheckFaces(s.Map.Mesh(), faces); err != nil {
		return nil, err
	}
	shells, of := s.Map.Shells()
	stacks := s.Stacks()
	var out []Unit
	seen := map[int32]bool{}
	for _, f := range faces {
		k := of[f]
		if k == mesh.None {
			return nil, document.Refuse("face %d is not mapped; flatten it first", f)
		}
		if seen[k] {
			continue
		}
		seen[k] = true
		if i := stacks.Of(f); i >= 0 {
			for _, k := range stacks.Shells(i) {
				seen[k] = true
			}
		}
		out = append(out, unitOf(s, shells, stacks, k))
	}
	if len(out) == 0 {
		return nil, document.Refuse("no shell is picked")
	}
	return out, nil
}

// Unlocked is UnitsOf less those that are locked; it refuses where all of them are.
func Unlocked(s *document.State, faces []mesh.FaceID) ([]Unit, error) {
	list, err := UnitsOf(s, faces)
	if err != nil {
		return nil, err
	}
	if list = slices.DeleteFunc(list, marked(s.Wishes.Locked)); len(list) == 0 {
		return nil, document.Refuse("these shells are locked; let go of them first")
	}
	return list, nil
}

// Move transforms what moves as one; shells that lie whole tiles away stay so.
func (u Unit) Move(s *document.Tx, to func(r2.Vec) r2.Vec) {
	if len(u.apart) == 0 {
		s.Map.Transform(u.Faces, to)
		return
	}
	for _, f := range u.Faces {
		by := u.apart[f]
		s.Map.Transform([]mesh.FaceID{f}, func(q r2.Vec) r2.Vec { return r2.Add(to(r2.Sub(q, by)), by) })
	}
}

// OnRack tells whether it waits below the sheet.
func (u Unit) OnRack() bool { return u.Box.Max.Y <= 0 }

// marked tells which of some marked faces, of which there are few, lie in a unit.
func marked(marks []mesh.FaceID) func(Unit) bool {
	set := ids.Set(marks)
	return func(u Unit) bool {
		if len(set) == 0 {
			return false
		}
		for _, f := range u.Faces {
			if set[f] {
				return true
			}
		}
		return false
	}
}
