package layout

import (
	"context"

	"morvek/core/mesh"
	"morvek/core/parallel"
)

// Lanes divides the shells that rule the sheet: one strip as long as the sheet leaves
// most of it empty, a curved band fills little of its box. They are cut across in about
// equal lengths, straight and where it shows least. The dial says how much sharper the
// sheet must get for a piece; repeats are divided alike.
type Lanes struct {
	Faces  []mesh.FaceID `json:"faces,omitempty"`  // a face of each shell; none: those that rule the sheet
	Pieces int           `json:"pieces,omitempty"` // with faces: how many of each, 0 means 2
	Pack   bool          `json:"pack,omitempty"`   // and lay all anew
}

// Kind implements Edit.
func (*Lanes) Kind() string { return "lanes" }

// Describe implements Edit.
func (e *Lanes) Describe() string {
	if len(e.Faces) == 0 {
		return "divide shells that rule the sheet"
	}
	return "divide " + count(len(e.Faces), "shell") + " across"
}

// Division is a shell that is divided, with its price.
type Division struct {
	Part     PartID
	Pieces   int
	Edges    []mesh.EdgeID
	Length   float64 // of the cuts, model units
	Exposure float64 // of the cuts, mean by length
}

// Apply implements Edit.
func (e *Lanes) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	_, cuts, s, err := e.plan(ctx, d, parallel.Part(progress, 0, 0.4))
	if err != nil || len(cuts) == 0 || !e.Pack {
		return s, err
	}
	return packAll(ctx, d.With(s), parallel.Part(progress, 0.4, 1))
}

// Plan gives the state after the edit with what each division costs, and how many times
// sharper everything becomes when it is packed: against the map as it lies where it is
// packed anew, else by quick packings.
func (e *Lanes) Plan(ctx context.Context, d *Document) (s *State, list []Division, sharper float64, err error) {
	r, cuts, s, err := e.plan(ctx, d, nil)
	if err != nil {
		return nil, nil, 0, err
	}
	plan := map[int]laneCut{}
	for _, c := range cuts {
		plan[c.band] = c
		f := r.bands[c.band].faces[0]
		cost := d.suggestion("", d.State.PartOf(f), c.edges)
		list = append(list, Division{cost.Part, len(c.areas), c.edges, cost.Length, cost.Exposure})
	}
	if e.Pack { // as it is against as it will be
		if s, err = packAll(ctx, d.With(s), nil); err != nil {
			return nil, nil, 0, err
		}
		first := r.bands[0]
		return s, list, s.Map.Density(first.faces) / first.laid.Density, nil
	}
	was, err := r.quick(ctx, nil)
	if err != nil {
		return nil, nil, 0, err
	}
	will, err := r.quick(ctx, plan)
	return s, list, will / max(was, 1e-300), err
}

func (e *Lanes) plan(ctx context.Context, d *Document, progress func(float64)) (*ruling, []laneCut, *State, error) {
	r, cuts, s, err := divideLanes(ctx, d, e.Faces, e.Pieces, progress)
	if err != nil || len(e.Faces) == 0 {
		return r, cuts, s, err
	}
	tx := s.begin()
	for _, f := range e.Faces {
		tx.markHand(f)
	}
	return r, cuts, tx.Done(), nil
}

// divideLanes divides the shells with some faces each in so many pieces, 0 for 2, or those
// that rule the sheet where none are given.
func divideLanes(ctx context.Context, d *Document, of []mesh.FaceID, pieces int, progress func(float64)) (*ruling, []laneCut, *State, error) {
	fail := func(err error) (*ruling, []laneCut, *State, error) { return nil, nil, nil, err }
	if err := checkFaces(d.Mesh, of); err != nil {
		return fail(err)
	}
	if pieces == 0 {
		pieces = 2
	}
	if pieces < 2 || pieces > mostLanes {
		return fail(refuse("a shell cannot be divided in %d; choose 2 to %d", pieces, mostLanes))
	}
	r, err := d.ruling(ctx)
	if err != nil {
		return fail(err)
	}
	if len(of) == 0 {
		if d.State.Settings.Undivided {
			return fail(refuse("the settings keep shells undivided; pick the one to divide"))
		}
		cuts, err := r.choose(ctx, progress)
		if err != nil {
			return fail(err)
		}
		if len(cuts) == 0 {
			return fail(refuse("no shell rules the sheet so much that dividing it would pay"))
		}
		return r, cuts, r.divided(cuts), nil
	}
	_, shell := d.State.Map.Shells()
	asked, err := shellsAsked(shell, of)
	if err != nil {
		return fail(err)
	}
	var cuts []laneCut
	for i, b := range r.bands {
		if !asked(i) {
			continue
		}
		if b.still {
			return fail(refuse("%s lies in a stack; take the stack apart first", d.State.Parts[d.State.PartOf(b.faces[0])].Name))
		}
		c := r.cut(i, pieces)
		if len(c.edges) == 0 {
			return fail(refuse("no edges lead straight across this shell; cut it where you want it divided"))
		}
		cuts = append(cuts, c)
	}
	return r, cuts, r.divided(cuts), nil
}

// mostLanes bounds the pieces one shell is divided in.
const mostLanes = 24
