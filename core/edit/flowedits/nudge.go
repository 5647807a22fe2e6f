package flowedits

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Nudge moves picked points on the sheet; others follow with a falloff along the
// surface. Their faces stay attached. The move is shortened where a face would turn
// over.
type Nudge struct {
	Corners []mesh.HalfedgeID `json:"corners"`         // one of each point
	Shift   r2.Vec            `json:"shift"`           // sheet units
	Reach   float64           `json:"reach,omitempty"` // model units
}

// Kind implements Edit.
func (*Nudge) Kind() string { return "nudge" }

// Describe implements Edit.
func (e *Nudge) Describe() string {
	return "move " + words.Count(len(e.Corners), "point")
}

// Apply implements Edit.
func (e *Nudge) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckCorners(m, e.Corners); err != nil {
		return nil, err
	}
	if len(e.Corners) == 0 {
		return nil, document.Refuse("no points are picked")
	}
	if !(math.Abs(e.Shift.X)+math.Abs(e.Shift.Y) < 1e4) || !(e.Reach >= 0 && e.Reach < 1e12) {
		return nil, document.Refuse("this move would put the points nowhere: shift %g, %g, reach %g", e.Shift.X, e.Shift.Y, e.Reach)
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	by := map[int32][]mesh.HalfedgeID{}
	var order []int32
	for _, c := range e.Corners {
		k := of[m.FaceOf(c)]
		if k == mesh.None {
			return nil, document.Refuse("a point of face %d does not lie on the sheet; flatten it first", m.FaceOf(c))
		}
		by[k] = append(by[k], c)
		order = ids.With(order, []int32{k})
	}
	moved := false
	for _, k := range order {
		if err := s.Unstacked(s.Stacks(), shells[k].Faces); err != nil {
			return nil, err
		}
		l := s.Map.Lift(shells[k])
		picked := l.Vertices(by[k])
		step := make([]r2.Vec, len(l.UV))
		for v, w := range l.Falloff(picked, e.Reach) {
			step[v] = r2.Scale(w/l.Density, e.Shift)
		}
		share := flatten.Shorten(l.Patch, l.UV, step)
		if share < 1 {
			share *= 0.98
		}
		uv := s.Map.Get(l.Patch)
		for v := range uv {
			if step[v] != (r2.Vec{}) {
				uv[v] = r2.Add(uv[v], r2.Scale(share*l.Density, step[v]))
				moved = moved || share > 1e-6
			}
		}
		s.Map.Set(l.Patch, uv)
		s.MarkHand(shells[k].Faces[0])
	}
	if !moved {
		return nil, document.Refuse("these points cannot move that way: a face would turn over at once")
	}
	return s.Done(), nil
}
