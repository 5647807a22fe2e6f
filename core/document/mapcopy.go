package document

import (
	"morvek/core/ids"
	"morvek/core/mesh"
)

// CopyShells returns the state in which the shells of some faces, seen through the map that is
// shown, lie in another map as they do in this one. Where these faces lay in that map before
// they are taken up; how a part is laid follows where all of it goes, or nothing of it lay there.
func (s *State) CopyShells(faces []mesh.FaceID, to MapID) (*State, error) {
	m := s.Map.Mesh()
	if err := CheckFaces(m, faces); err != nil {
		return nil, err
	}
	if len(faces) == 0 {
		return nil, Refuse("no shell is picked")
	}
	if to == s.Shown.ID {
		return nil, Refuse("these shells lie in %s already; choose another map", s.Shown.Name)
	}
	there, ok := s.Through(to)
	if !ok {
		return nil, Refuse("there is no map %d", to)
	}
	for _, f := range faces {
		if !s.Map.IsMapped(f) {
			return nil, Refuse("%s is not mapped in %s", s.NameOf(f), s.Shown.Name)
		}
	}
	all := s.Map.ShellsOf(faces)
	tx := there.Begin()
	coming, lying := map[PartID]int{}, map[PartID]bool{}
	for _, f := range all {
		coming[s.PartOf(f)]++
	}
	for f, p := range s.partOf {
		if there.Map.IsMapped(mesh.FaceID(f)) {
			lying[p] = true
		}
	}
	whole := s.PartFaces()
	for p, n := range coming {
		if p == NoPart || lying[p] && n < len(whole[p]) {
			continue
		}
		tx.Part(p).Lay = s.Parts[p].Lay
	}
	tx.Map.TakeOver(s.Map, all)
	moved := ids.Set(all)
	tx.Wishes.Marks = tx.Wishes.Marks.without(m, moved)
	back, _ := tx.Done().Through(s.Shown.ID) // it was seen through that a moment ago
	return back, nil
}
