package document

import (
	"slices"

	"morvek/core/mesh"
)

// CopyShells returns the state in which the shells of some faces, seen through the map that is
// shown, lie in another map as they do in this one, and how many they are. Where these faces
// lay in that map before they are taken up; what was laid of them follows where all of a part
// goes, or nothing of it lay there.
func (s *State) CopyShells(faces []mesh.FaceID, to MapID) (*State, int, error) {
	m := s.Map.Mesh()
	if err := CheckFaces(m, faces); err != nil {
		return nil, 0, err
	}
	if len(faces) == 0 {
		return nil, 0, Refuse("no shell is picked")
	}
	if to == s.Shown.ID {
		return nil, 0, Refuse("these shells lie in %s already; choose another map", s.Shown.Name)
	}
	there, ok := s.Through(to)
	if !ok {
		return nil, 0, Refuse("there is no map %d", to)
	}
	shells, of := s.Map.Shells()
	picked := map[int32]bool{}
	var all []mesh.FaceID
	for _, f := range faces {
		k := of[f]
		if k == mesh.None {
			return nil, 0, Refuse("%s is not mapped in %s", s.NameOf(f), s.Shown.Name)
		}
		if !picked[k] {
			picked[k] = true
			all = append(all, shells[k].Faces...)
		}
	}
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
		l := s.Parts[p].Lay
		if l.StackedOn != nil && coming[*l.StackedOn] == 0 { // it does not come along
			l.StackedOn = nil
		}
		tx.Part(p).Lay = l
	}
	tx.Map.TakeOver(s.Map, all)
	pins := slices.DeleteFunc(slices.Clone(tx.Wishes.Pins), func(h mesh.HalfedgeID) bool { return picked[of[m.FaceOf(h)]] })
	tx.Wishes.Pins = pins
	back, _ := tx.Done().Through(s.Shown.ID)
	return back, len(picked), nil
}
