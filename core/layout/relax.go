package layout

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/planar"
)

// Relax takes stretch out of shells as they lie: all of it, inside a held border, or
// around picked points with a falloff; along one axis if wanted. Pins stay. Nothing is
// torn and nothing turns over.
type Relax struct {
	Faces         []mesh.FaceID     `json:"faces,omitempty"`   // a face of each shell
	Corners       []mesh.HalfedgeID `json:"corners,omitempty"` // picked points; none: all
	Reach         float64           `json:"reach,omitempty"`   // of the falloff around them, model units
	HoldBorder    bool              `json:"hold_border,omitempty"`
	Axis          string            `json:"axis,omitempty"`   // u, v or both
	Method        flatten.Method    `json:"method,omitempty"` // isometric or even
	MaxIterations int               `json:"max_iterations,omitempty"`

	watched
}

// Kind implements Edit.
func (*Relax) Kind() string { return "relax" }

// Describe implements Edit.
func (e *Relax) Describe() string {
	switch {
	case len(e.Corners) > 0:
		return "relax around " + pointCount(len(e.Corners))
	case e.HoldBorder:
		return "relax inside the border"
	}
	return "relax a shell"
}

// Apply implements Edit.
func (e *Relax) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	m := d.Mesh
	if err := checkFaces(m, e.Faces); err != nil {
		return nil, err
	}
	if err := checkCorners(m, e.Corners); err != nil {
		return nil, err
	}
	only, ok := map[string]flatten.Axis{"": flatten.Both, "both": flatten.Both, "u": flatten.OnlyU, "v": flatten.OnlyV}[e.Axis]
	switch {
	case !ok:
		return nil, refuse("there is no axis %q; choose u, v or both", e.Axis)
	case !slices.Contains([]flatten.Method{"", flatten.ByLength, flatten.Even}, e.Method):
		return nil, refuse("relaxing works by lengths: choose isometric or even, not %q", e.Method)
	case !(e.Reach >= 0 && e.Reach < 1e12):
		return nil, refuse("a reach of %g is not possible", e.Reach)
	}
	s := d.Begin()
	faces := slices.Clone(e.Faces)
	for _, c := range e.Corners {
		faces = append(faces, m.FaceOf(c))
	}
	shells, of := s.Map.Shells()
	var list []int32
	for _, f := range faces {
		if of[f] == mesh.None {
			return nil, refuse("face %d does not lie on the sheet; flatten it first", f)
		}
		list = with(list, []int32{of[f]})
	}
	if len(list) == 0 {
		return nil, refuse("pick a shell, or points of one, to relax")
	}
	for i, k := range list {
		if err := s.unstacked(s.stacks(), shells[k].Faces); err != nil {
			return nil, err
		}
		if err := e.shell(ctx, d, s, shells[k], only); err != nil {
			return nil, err
		}
		parallel.Report(progress, float64(i+1)/float64(len(list)))
	}
	return s.Done(), nil
}

func (e *Relax) shell(ctx context.Context, d *Document, s *Tx, shell atlas.Shell, only flatten.Axis) error {
	l := s.Map.Lift(shell)
	keep := flatten.Constraints{Only: only, Pins: s.pinsOf(l.Patch, l.Density)}
	if picked := l.Vertices(e.Corners); len(picked) > 0 {
		keep.Give = l.Falloff(picked, e.Reach)
	}
	if e.HoldBorder {
		if keep.Give == nil {
			keep.Give = make([]float64, len(l.UV))
			for v := range keep.Give {
				keep.Give[v] = 1
			}
		}
		for v, b := range l.Border {
			if b {
				keep.Give[v] = 0
			}
		}
	}
	loose := keep.Give == nil && len(keep.Pins) == 0 // nothing holds it in place
	if keep.Give != nil && !slices.ContainsFunc(keep.Give, func(g float64) bool { return g > 0 }) {
		return refuse("nothing here may move: all points lie on the held border")
	}
	before := planar.Bounds(l.UV...)
	back := func(uv []r2.Vec) {
		if loose {
			flatten.TrueScale(l.Patch, uv)
			b := planar.Bounds(uv...)
			shift := r2.Scale(0.5, r2.Sub(r2.Add(before.Min, before.Max), r2.Add(b.Min, b.Max)))
			for i := range uv {
				uv[i] = r2.Add(uv[i], shift)
			}
		}
		atlas.Scale(uv, l.Density)
	}
	r, err := flatten.Improve(ctx, l.Patch, l.UV, flatten.Settings{Method: e.Method, MaxIterations: e.MaxIterations, Keep: keep,
		Progress: e.frames(l.Patch, back)})
	if err != nil {
		return err
	}
	was := d.State.Map
	back(r.UV)
	if loose && only != flatten.Both { // the other axis stays to the last bit
		for v, q := range was.Get(l.Patch) {
			if only == flatten.OnlyU {
				r.UV[v].Y = q.Y
			} else {
				r.UV[v].X = q.X
			}
		}
	}
	for v, q := range was.Get(l.Patch) { // what may not move stays to the last bit
		if keep.Give != nil && keep.Give[v] == 0 {
			r.UV[v] = q
		}
	}
	s.Map.Set(l.Patch, r.UV)
	s.setPins(l.Patch, was)
	s.markHand(shell.Faces[0])
	return nil
}

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
	return "move " + pointCount(len(e.Corners))
}

// Apply implements Edit.
func (e *Nudge) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	m := d.Mesh
	if err := checkCorners(m, e.Corners); err != nil {
		return nil, err
	}
	if len(e.Corners) == 0 {
		return nil, refuse("no points are picked")
	}
	if !(math.Abs(e.Shift.X)+math.Abs(e.Shift.Y) < 1e4) || !(e.Reach >= 0 && e.Reach < 1e12) {
		return nil, refuse("this move would put the points nowhere: shift %g, %g, reach %g", e.Shift.X, e.Shift.Y, e.Reach)
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	by := map[int32][]mesh.HalfedgeID{}
	var order []int32
	for _, c := range e.Corners {
		k := of[m.FaceOf(c)]
		if k == mesh.None {
			return nil, refuse("a point of face %d does not lie on the sheet; flatten it first", m.FaceOf(c))
		}
		by[k] = append(by[k], c)
		order = with(order, []int32{k})
	}
	moved := false
	for _, k := range order {
		if err := s.unstacked(s.stacks(), shells[k].Faces); err != nil {
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
		s.markHand(shells[k].Faces[0])
	}
	if !moved {
		return nil, refuse("these points cannot move that way: a face would turn over at once")
	}
	return s.Done(), nil
}
