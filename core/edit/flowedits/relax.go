package flowedits

import (
	"context"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/planar"
	"morvek/core/words"
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

	lay.Watched
}

// Kind implements Edit.
func (*Relax) Kind() string { return "relax" }

// Describe implements Edit.
func (e *Relax) Describe() string {
	switch {
	case len(e.Corners) > 0:
		return "relax around " + words.Count(len(e.Corners), "point")
	case e.HoldBorder:
		return "relax inside the border"
	}
	return "relax a shell"
}

// Apply implements Edit.
func (e *Relax) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckFaces(m, e.Faces); err != nil {
		return nil, err
	}
	if err := document.CheckCorners(m, e.Corners); err != nil {
		return nil, err
	}
	only, ok := map[string]flatten.Axis{"": flatten.Both, "both": flatten.Both, "u": flatten.OnlyU, "v": flatten.OnlyV}[e.Axis]
	switch {
	case !ok:
		return nil, document.Refuse("there is no axis %q; choose u, v or both", e.Axis)
	case !slices.Contains([]flatten.Method{"", flatten.ByLength, flatten.Even}, e.Method):
		return nil, document.Refuse("relaxing works by lengths: choose isometric or even, not %q", e.Method)
	case !(e.Reach >= 0 && e.Reach < 1e12):
		return nil, document.Refuse("a reach of %g is not possible", e.Reach)
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
			return nil, document.Refuse("face %d does not lie on the sheet; flatten it first", f)
		}
		list = ids.With(list, []int32{of[f]})
	}
	if len(list) == 0 {
		return nil, document.Refuse("pick a shell, or points of one, to relax")
	}
	for i, k := range list {
		if err := s.Unstacked(s.Stacks(), shells[k].Faces); err != nil {
			return nil, err
		}
		if err := e.shell(ctx, d, s, shells[k], only); err != nil {
			return nil, err
		}
		parallel.Report(progress, float64(i+1)/float64(len(list)))
	}
	return s.Done(), nil
}

func (e *Relax) shell(ctx context.Context, d *document.Document, s *document.Tx, shell atlas.Shell, only flatten.Axis) error {
	l := s.Map.Lift(shell)
	keep := flatten.Constraints{Only: only, Pins: lay.PinsOf(s.State, l.Patch, l.Density)}
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
		return document.Refuse("nothing here may move: all points lie on the held border")
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
		Progress: e.Frames(l.Patch, back)})
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
	lay.SetPins(s, l.Patch, was)
	s.MarkHand(shell.Faces[0])
	return nil
}
