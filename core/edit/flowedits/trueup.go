package flowedits

import (
	"context"
	"math"
	"runtime"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/shape"
	"morvek/core/unroll"
	"morvek/core/words"
)

// TrueUp makes the loops of shells straight along the axes of the sheet, as they lie.
// Loops that would stretch a shell too much are shortened or released. Where all shells
// are trued, those stay that gain nothing or would pay too much.
type TrueUp struct {
	Faces     []mesh.FaceID `json:"faces,omitempty"` // a face of each shell; none: all
	Mode      flow.TrueMode `json:"mode,omitempty"`  // by loops, grid, border or picked
	Edges     []mesh.EdgeID `json:"edges,omitempty"` // picked: edges of the loops
	Axis      string        `json:"axis,omitempty"`  // u, v or both
	WithinDeg float64       `json:"within_deg,omitempty"`
	Tolerance float64       `json:"tolerance,omitempty"` // worst stretch that straightening may lead to

	lay.Watched
}

// Kind implements Edit.
func (*TrueUp) Kind() string { return "true-up" }

// Describe implements Edit.
func (e *TrueUp) Describe() string {
	if len(e.Faces) == 0 {
		return "true up all shells"
	}
	return "true up " + words.Count(len(e.Faces), "shell")
}

func (e *TrueUp) check(m *mesh.Mesh) (flow.TrueSettings, error) {
	s := flow.TrueSettings{Mode: e.Mode, Within: e.WithinDeg * math.Pi / 180, Tolerance: e.Tolerance}
	axis, ok := map[string]flatten.Axis{"": flatten.Both, "both": flatten.Both, "u": flatten.OnlyU, "v": flatten.OnlyV}[e.Axis]
	s.Only = axis
	switch {
	case !ok:
		return s, document.Refuse("there is no axis %q; choose u, v or both", e.Axis)
	case !slices.Contains([]flow.TrueMode{flow.ByLoops, flow.AsGrid, flow.ByBorder, flow.ByPicked}, e.Mode):
		return s, document.Refuse("there is no way of truing up called %q", e.Mode)
	case !(e.WithinDeg >= 0 && e.WithinDeg <= 45):
		return s, document.Refuse("loops within %g° of an axis is not possible; choose up to 45°", e.WithinDeg)
	case e.Tolerance != 0 && !(e.Tolerance >= 1 && e.Tolerance < 100):
		return s, document.Refuse("a stretch of ×%g cannot be allowed; choose ×1 to ×100", e.Tolerance)
	case e.Mode == flow.ByPicked && len(e.Edges) == 0:
		return s, document.Refuse("pick edges of the loops to straighten")
	}
	if len(e.Edges) > 0 {
		if err := document.CheckEdges(m, e.Edges); err != nil {
			return s, err
		}
	}
	return s, document.CheckFaces(m, e.Faces)
}

// Long implements edit.Long.
func (e *TrueUp) Long() bool { return len(e.Faces) == 0 }

// Apply implements Edit.
func (e *TrueUp) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	s, _, err := e.Plan(ctx, d, progress)
	return s, err
}

// Plan returns the state after truing up and what it did to each shell that was asked
// for.
func (e *TrueUp) Plan(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, []TruedShell, error) {
	m := d.Mesh
	set, err := e.check(m)
	if err != nil {
		return nil, nil, err
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	asked, err := document.ShellsAsked(of, e.Faces)
	if err != nil {
		return nil, nil, err
	}
	all := len(e.Faces) == 0
	var list []int
	inStack := s.Stacks()
	for k := range shells {
		switch stacked := s.Unstacked(inStack, shells[k].Faces); {
		case !asked(k) || all && stacked != nil:
		case stacked != nil:
			return nil, nil, stacked
		default:
			list = append(list, k)
		}
	}
	if len(list) == 0 {
		return nil, nil, document.Refuse("nothing lies on the sheet yet; flatten something first")
	}
	lifted, out := make([]atlas.Lifted, len(list)), make([]TruedShell, len(list))
	g, gctx := parallel.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i, k := range list {
		g.Go(func() (err error) {
			lifted[i] = s.Map.Lift(shells[k])
			if out[i] = e.begin(lifted[i], shells[k], all || len(list) > 1); !out[i].LeftAsIs {
				err = parallel.Catch(func() error { return e.shell(gctx, d, s, &lifted[i], &out[i], set, all) })
			}
			if err != nil && all && gctx.Err() == nil { // the others go on
				out[i] = TruedShell{Face: shells[k].Faces[0], LeftAsIs: true, Trued: flow.Trued{Why: "it could not be made straight"}}
				return nil
			}
			return err
		})
	}
	if err := g.Wait(); err != nil {
		return nil, nil, err
	}
	rack := s.Map.NewRack()
	changed := false
	for i, k := range list {
		t := &out[i]
		if p := s.PartOf(shells[k].Faces[0]); all && t.Curves != "" && p >= 0 && s.Part(p).Note == "" {
			s.Part(p).Note = "its loops stay bent: " + t.Curves
		}
		if t.LeftAsIs {
			continue
		}
		changed = true
		f := lay.FlatShell{Patch: lifted[i].Patch, Uv: t.UV}
		atlas.Scale(f.Uv, lifted[i].Density)
		switch {
		case len(lay.PinsOf(s.State, f.Patch, 1)) > 0:
			s.Map.Set(f.Patch, f.Uv)
			lay.SetPins(s, f.Patch, d.State.Map)
		case all && s.Map.InItsBox(d.State.Map, f.Patch, f.Uv) || !all && s.Map.Placing(s.Settings.Sheet.Across()).InItsPlace(d.State.Map, f.Patch, f.Uv):
		default:
			rack.Put(f.Uv)
			s.Map.Set(f.Patch, f.Uv)
			t.OnRack = true
		}
		if !all {
			s.MarkHand(shells[k].Faces[0])
		}
		parallel.Report(progress, float64(i+1)/float64(len(list)))
	}
	if i := slices.IndexFunc(out, func(t TruedShell) bool { return t.Why != "" }); !changed && !all && i >= 0 {
		return nil, nil, document.Refuse("%s stays as it is: %s", s.NameOf(out[i].Face), out[i].Why)
	}
	if !changed {
		return nil, nil, document.Refuse("all of it is as straight as it gets")
	}
	return s.Done(), out, nil
}

// worthIt tells whether truing up gains enough straight edges for what it costs; asked
// where all shells are trued, not where somebody picked one.
func (t *TruedShell) worthIt(k shape.Kind) bool {
	sheared := 0.03
	switch {
	case k == shape.Swept && t.Grid:
		sheared = 0.15 // bent bars and straps are to run straight
	case k == shape.Helix:
		sheared = 0.01 // its loops are straight as it is laid
	}
	return t.Why == "" && t.Straight > t.Was+0.02 && t.After.L2 < 1.003*t.Before.L2 && t.After.Angular < t.Before.Angular+sheared
}

// begin notes how straight a shell is; with others it is left as it is where there is
// nothing to gain.
func (e *TrueUp) begin(l atlas.Lifted, shell atlas.Shell, withOthers bool) TruedShell {
	t := TruedShell{Face: shell.Faces[0], Was: straightness(&l, l.UV)}
	t.Straight, t.LeftAsIs = t.Was, withOthers && t.Was > alreadyStraight
	return t
}

// straightness is the share of edge length of a map of the shell that lies on the axes.
func straightness(l *atlas.Lifted, uv []r2.Vec) float64 {
	straight, total := flow.StraightShare(l.Patch, uv)
	return straight / max(total, 1e-300)
}

// shell trues a shell up that was begun.
func (e *TrueUp) shell(ctx context.Context, d *document.Document, s *document.Tx, l *atlas.Lifted, t *TruedShell, set flow.TrueSettings, all bool) error {
	kind := s.Fit(s.PartOf(t.Face)).Kind
	if all {
		set.Quick, set.Rounds = true, 12
		// What a sheet-metal worker could make is to lie without stretch; bent bars and the
		// like are rather laid straight.
		set.Isometric = lay.IsSheet(kind)
	}
	set.Pins = lay.PinsOf(s.State, l.Patch, l.Density)
	if len(e.Edges) > 0 {
		set.Picked = l.Edges(e.Edges)
	}
	set.Progress = e.Frames(l.Patch, func(uv []r2.Vec) {
		atlas.Scale(uv, l.Density)
		if len(set.Pins) == 0 {
			atlas.CentreOn(d.State.Map, l.Patch, uv)
		}
	})
	var err error
	if t.Trued, err = flow.TrueUp(ctx, l.Patch, l.UV, set); err != nil {
		return err
	}
	if !all && t.Grid && len(set.Pins) == 0 {
		lay.QuarterToGrain(s.State, l.Patch, t.UV)
	}
	t.Straight = straightness(l, t.UV)
	t.Loops = t.loops(l.Pairs())
	if !unroll.Loosen(l.Patch, t.UV) {
		t.Why = "straightened it would land on itself"
	}
	t.LeftAsIs = t.Why != "" || all && !t.worthIt(kind)
	return nil
}
