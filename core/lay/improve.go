package lay

import (
	"context"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/sheet"
	"morvek/core/words"
)

// Improve enlarges what lies on the sheet, as large to each other as it is, by moving shells
// about for some rounds. watch, if there is one, is shown the best so far after each round.
func Improve(ctx context.Context, d *document.Document, rounds int, watch func(Frame), progress func(float64)) (*document.State, error) {
	s := d.Begin()
	locked := marked(s.Wishes.Locked)
	var list []Unit
	for _, u := range Units(s.State) {
		if locked(u) {
			return nil, document.Refuse("%s is locked in place; let go of it first, all are scaled together", s.NameOf(u.Faces[0]))
		}
		if !u.OnRack() {
			list = append(list, u)
		}
	}
	if len(list) == 0 {
		return nil, document.Refuse("nothing lies on the sheet yet; pack it first")
	}
	in, _ := packed(s.State, list, true)
	last := 1.
	seen := func(round int, now []sheet.Placement) {
		if progress != nil {
			progress(float64(round) / float64(rounds))
		}
		if watch == nil {
			return
		}
		f := Frame{Iteration: round, Said: "everything is " + words.Times(now[0].Scale, 3) + " as sharp as before"}
		if now[0].Scale > last {
			last = now[0].Scale
			f.Corners, f.UV = moved(s.State, list, now)
		}
		watch(f)
	}
	placed, err := sheet.Improve(ctx, in, Packing(s.Settings), rounds, seen)
	if err != nil {
		return nil, refusal(ctx, err)
	}
	if !(placed[0].Scale > 1) {
		return nil, document.Refuse("%d rounds found nothing better; what lies there is dense", rounds)
	}
	for i, u := range list {
		u.Move(s, placed[i].Apply)
	}
	return s.Done(), nil
}

// moved are the corners of all units where placements would bring them.
func moved(s *document.State, list []Unit, to []sheet.Placement) (corners []mesh.HalfedgeID, uv []r2.Vec) {
	m := s.Map.Mesh()
	for i, u := range list {
		for _, f := range u.lowest {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				corners, uv = append(corners, h), append(uv, to[i].Apply(s.Map.At(h)))
			}
		}
	}
	return corners, uv
}
