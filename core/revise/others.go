package revise

import (
	"context"

	"morvek/core/document"
	"morvek/core/mesh"
)

// Pairing tells which map of a revised model is which of the model before.
type Pairing struct {
	Was document.MapID `json:"was"`
	Is  document.MapID `json:"is"`
}

// Others gives a document of a revised model, to which the map that is seen was brought over, the other
// maps of the model before as well: what is the same lies where it lay, what is not does not lie on them.
// It returns the state and which map is which, those that are seen first.
func Others(ctx context.Context, from, to *document.Document) (*document.State, []Pairing, error) {
	shown := to.State.Shown.ID
	pairs := []Pairing{{from.State.Shown.ID, shown}}
	for _, h := range from.State.Maps() {
		was, ok := from.State.Through(h.ID)
		if !ok || h.ID == from.State.Shown.ID || !was.Map.AnyMapped() {
			continue
		}
		m, err := Compare(ctx, was.Map, to.Mesh)
		if err != nil {
			return nil, nil, err
		}
		fresh, err := to.State.WithMap(h.Name, h.Purpose)
		if err != nil {
			return nil, nil, err
		}
		d := to.With(fresh)
		s := d.Begin()
		asMap(s, was)
		stays := make([]bool, d.Mesh.NumFaces())
		for f, k := range m.Kind {
			stays[f] = k.Lies() && was.Map.IsMapped(m.Of[f])
		}
		place(s, d.Mesh, m, all(stays), stays)
		s.Wishes.Marks = newAdopter(from.With(was), d, m).marks(was.Wishes.Marks, stays)
		back, ok := s.Done().Through(shown)
		if !ok {
			return nil, nil, document.ErrCorrupt
		}
		to = to.With(back)
		pairs = append(pairs, Pairing{h.ID, fresh.Shown.ID})
	}
	return to.State, pairs, nil
}

// place lays faces where they lay, and cuts them from others that stay where they lie apart, and from all else.
func place(s *document.Tx, now *mesh.Mesh, m Match, faces []mesh.FaceID, stays []bool) {
	for _, f := range faces {
		lo, hi := now.Corners(f)
		for h := lo; h < hi; h++ {
			s.Map.Put(h, m.UV[h])
		}
		s.Map.SetMapped(f, true)
	}
	for _, f := range faces {
		lo, hi := now.Corners(f)
		for h := lo; h < hi; h++ {
			if t := now.Twin(h); t != mesh.None {
				s.Map.SetCut(now.Edge(h), !stays[now.FaceOf(t)] || s.Map.At(h) != s.Map.At(now.Next(t)) || s.Map.At(now.Next(h)) != s.Map.At(t))
			}
		}
	}
}

// asMap gives the map that is seen the name, the purpose, the seal and the sheet of another.
func asMap(s *document.Tx, of *document.State) {
	id := s.Shown.ID
	s.Shown, s.Settings.OnSheet = of.Shown, of.Settings.OnSheet
	s.Shown.ID = id
}

// all are the faces of which something holds.
func all(of []bool) (out []mesh.FaceID) {
	for f, is := range of {
		if is {
			out = append(out, mesh.FaceID(f))
		}
	}
	return out
}
