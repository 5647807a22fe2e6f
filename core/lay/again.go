package lay

import (
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/mesh"
)

// FlattenChanged flattens the pieces of s that are no shells of the document as it
// was. A shell that comes out the same, of the same faces with the same cuts, keeps
// its place.
func FlattenChanged(ctx context.Context, d *document.Document, s *document.State, progress func(float64)) (*document.State, error) {
	m := d.Mesh
	same := SameShell(d)
	var todo []mesh.FaceID // one face of each piece
	for _, p := range Pieces(s, m) {
		if !same(s, p.Faces) && d.State.Map.IsMapped(p.Faces[0]) {
			todo = append(todo, p.Faces[0])
		}
	}
	if len(todo) == 0 {
		return s, nil
	}
	now, err := Flatten(ctx, d.With(s), Options{Faces: todo}, progress)
	if err != nil {
		return nil, err
	}
	return Stay(now, d, same), nil
}

// SameShell tells whether faces are a shell of the document with the same cuts in another
// state.
func SameShell(d *document.Document) func(now *document.State, faces []mesh.FaceID) bool {
	m := d.Mesh
	old, of := d.State.Map.Shells()
	return func(now *document.State, faces []mesh.FaceID) bool {
		k := of[faces[0]]
		if k == mesh.None || !slices.Equal(old[k].Faces, faces) {
			return false
		}
		for _, f := range faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				if t := m.Twin(h); t != mesh.None && of[m.FaceOf(t)] == k && now.Map.IsCut(m.Edge(h)) != d.State.Map.IsCut(m.Edge(h)) {
					return false
				}
			}
		}
		return true
	}
}

// Stay puts shells that are as they were back in their place: a piece that was divided
// before may have been divided the same way again.
func Stay(s *document.State, d *document.Document, same func(*document.State, []mesh.FaceID) bool) *document.State {
	tx := s.Begin()
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		if same(s, sh.Faces) {
			tx.Map.TakeBack(sh.Faces, d.State.Map)
		}
	}
	return tx.Done()
}
