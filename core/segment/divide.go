package segment

import (
	"context"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Division is a shell that is divided, with its price.
type Division struct {
	Part     document.PartID
	Pieces   int
	Edges    []mesh.EdgeID
	Length   float64 // of the cuts, model units
	Exposure float64 // of the cuts, mean by length
}

// DivideAndWeigh divides shells as Divide does and says what each division costs, and how
// many times sharper everything becomes: against the map as it lies where all is packed
// anew, else by quick packings.
func DivideAndWeigh(ctx context.Context, d *document.Document, of []mesh.FaceID, pieces int, pack bool) (list []Division, next *document.State, sharper float64, err error) {
	r, cuts, s, err := divideLanes(ctx, d, of, pieces, nil)
	if err != nil {
		return nil, nil, 0, err
	}
	plan := map[int]laneCut{}
	for _, c := range cuts {
		plan[c.band] = c
		f := r.bands[c.band].faces[0]
		cost := suggestion(d, "", d.State.PartOf(f), c.edges)
		list = append(list, Division{cost.Part, len(c.areas), c.edges, cost.Length, cost.Exposure})
	}
	if pack { // as it is against as it will be
		if s, err = lay.Pack(ctx, d.With(s), nil); err != nil {
			return nil, nil, 0, err
		}
		first := r.bands[0]
		return list, s, s.Map.Density(first.faces) / first.laid.Density, nil
	}
	was, err := r.quick(ctx, nil, 0)
	if err != nil {
		return nil, nil, 0, err
	}
	will, err := r.quick(ctx, plan, 0)
	return list, s, will / max(was, 1e-300), err
}

// Divide divides the shells with some faces each in so many pieces, 0 for 2, or those
// that rule the sheet where none are given. It refuses where nothing is divided.
func Divide(ctx context.Context, d *document.Document, of []mesh.FaceID, pieces int, progress func(float64)) (int, *document.State, error) {
	_, cuts, s, err := divideLanes(ctx, d, of, pieces, progress)
	return len(cuts), s, err
}

// divideLanes divides the shells with some faces each in so many pieces, 0 for 2, or those
// that rule the sheet where none are given.
func divideLanes(ctx context.Context, d *document.Document, of []mesh.FaceID, pieces int, progress func(float64)) (*ruling, []laneCut, *document.State, error) {
	fail := func(err error) (*ruling, []laneCut, *document.State, error) { return nil, nil, nil, err }
	if err := document.CheckFaces(d.Mesh, of); err != nil {
		return fail(err)
	}
	if pieces == 0 {
		pieces = 2
	}
	if pieces < 2 || pieces > mostLanes {
		return fail(document.Refuse("a shell cannot be divided in %d; choose 2 to %d", pieces, mostLanes))
	}
	r, err := newRuling(d, ctx)
	if err != nil {
		return fail(err)
	}
	if len(of) == 0 {
		if d.State.Settings.Undivided {
			return fail(document.Refuse("the settings keep shells undivided; pick the one to divide"))
		}
		cuts, err := r.choose(ctx, progress)
		if err != nil {
			return fail(err)
		}
		if len(cuts) == 0 {
			return fail(document.Refuse("no shell rules the sheet so much that dividing it would pay"))
		}
		return r, cuts, r.divided(cuts), nil
	}
	_, shell := d.State.Map.Shells()
	asked, err := document.ShellsAsked(shell, of)
	if err != nil {
		return fail(err)
	}
	var cuts []laneCut
	for i, b := range r.bands {
		if !asked(i) {
			continue
		}
		if b.still {
			return fail(document.Refuse("%s lies in a stack; take the stack apart first", d.State.Parts[d.State.PartOf(b.faces[0])].Name))
		}
		c := r.cut(i, pieces)
		if len(c.edges) == 0 {
			return fail(document.Refuse("no edges lead straight across this shell; cut it where you want it divided"))
		}
		cuts = append(cuts, c)
	}
	return r, cuts, r.divided(cuts), nil
}
