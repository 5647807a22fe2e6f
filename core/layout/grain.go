package layout

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/chart"
	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/mesh"
)

// GrainOf says where a grain comes from.
type GrainOf string

// The ways to choose a grain.
const (
	GrainByShape GrainOf = "shape"  // what suits the shape of the part
	GrainNone    GrainOf = "none"   // no direction
	GrainAlong   GrainOf = "along"  // along the axis of its shape
	GrainAround  GrainOf = "around" // around the axis
	GrainLoops   GrainOf = "loops"  // along its longest loops
	GrainToward  GrainOf = "toward" // toward a direction in space
	GrainChain   GrainOf = "chain"  // in the mean direction of picked edges
)

// SetGrain gives parts a grain and turns their shells so that it runs along the sheet.
type SetGrain struct {
	Parts     []PartID `json:"parts"`
	Of        GrainOf  `json:"of"`
	Direction r3.Vec   `json:"direction,omitzero"` // toward: any length
	Sense     bool     `json:"sense,omitempty"`    // it goes one way only

	Edges []mesh.EdgeID `json:"edges,omitempty"` // chain
}

// Kind implements Edit.
func (*SetGrain) Kind() string { return "grain" }

// Describe implements Edit.
func (e *SetGrain) Describe() string { return "set the grain of " + partCount(len(e.Parts)) }

// Apply implements Edit.
func (e *SetGrain) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := d.State.checkParts(e.Parts...); err != nil {
		return nil, err
	}
	s := d.State.Clone()
	own := set(e.Parts)
	faces := s.PartFaces()
	for _, p := range e.Parts {
		g, err := e.grain(d.Mesh, faces[p], &s.Parts[p])
		if err != nil {
			return nil, err
		}
		g.Sense = e.Sense && g.Mode != flow.None
		s.Parts[p].Grain, s.Parts[p].ByHand = g, true
	}
	shells, _ := s.Map.Shells(d.Mesh, s.IsCut)
	rack := s.newRack(d.Mesh, nil)
	for _, sh := range shells {
		p := s.FacePart[sh.Faces[0]]
		if p < 0 || !own[p] || s.inStack(p) {
			continue
		}
		s.turnShell(d, rack, sh, func(patch *mesh.Patch, uv []r2.Vec) {
			flow.Orient(patch, uv, s.Parts[p].Grain, s.Settings.Flow())
		})
	}
	return s, nil
}

func (e *SetGrain) grain(m *mesh.Mesh, faces []mesh.FaceID, p *Part) (flow.Grain, error) {
	switch e.Of {
	case GrainByShape:
		return flow.DefaultGrain(m, faces, p.Fit), nil
	case GrainNone:
		return flow.Grain{}, nil
	case GrainAlong, GrainAround:
		if !hasAxis(p.Fit) {
			return flow.Grain{}, refuse("%s reads as %s and has no axis to run along or around; draw a stroke on it instead", p.Name, p.Fit.Kind)
		}
		if e.Of == GrainAlong {
			return flow.Grain{Mode: flow.Along, Axis: p.Fit.Axis}, nil
		}
		return flow.Grain{Mode: flow.Around, Axis: p.Fit.Axis}, nil
	case GrainLoops:
		if g := flow.LoopGrain(m, faces, p.Fit); g.Mode != flow.None {
			return g, nil
		}
		return flow.Grain{}, refuse("the loops of %s have no common direction; draw a stroke on it instead", p.Name)
	case GrainToward:
		if l := r3.Norm(e.Direction); l > 1e-12 && l < 1e12 {
			return flow.Grain{Mode: flow.Toward, Axis: r3.Scale(1/l, e.Direction)}, nil
		}
		return flow.Grain{}, refuse("this stroke has no direction")
	case GrainChain:
		if err := checkEdges(m, e.Edges); err != nil {
			return flow.Grain{}, err
		}
		return flow.Grain{Mode: flow.Toward, Axis: flow.MeanDirection(m, e.Edges)}, nil
	}
	return flow.Grain{}, refuse("there is no grain %q", e.Of)
}

// turnShell turns a shell by what f does to its map in model units, in its place if it
// has room there.
func (s *State) turnShell(d *Document, rack *rack, sh chart.Shell, f func(*mesh.Patch, []r2.Vec)) {
	l := s.lift(d.Mesh, sh)
	f(l.patch, l.uv)
	scaleAll(l.uv, l.density)
	shell := flatShell{patch: l.patch, uv: l.uv}
	if !s.inItsPlace(d, shell) {
		rack.put(shell)
		s.Map.Set(l.patch, shell.uv)
	}
}

// Orient turns shells: so that picked edges lie along the sheet, by their loops and
// grain, or over where they are mirrored.
type Orient struct {
	Faces    []mesh.FaceID `json:"faces,omitempty"`    // a face of each shell; none: all
	Edges    []mesh.EdgeID `json:"edges,omitempty"`    // their direction goes to the nearest axis, or to U
	AlongV   bool          `json:"along_v,omitempty"`  // with edges: to V
	Mirrored bool          `json:"mirrored,omitempty"` // turn over what is mirrored, nothing else
}

// Kind implements Edit.
func (*Orient) Kind() string { return "orient" }

// Describe implements Edit.
func (e *Orient) Describe() string {
	switch {
	case e.Mirrored:
		return "turn mirrored shells over"
	case len(e.Edges) > 0:
		return "turn a shell by " + edgeCount(len(e.Edges))
	case len(e.Faces) == 0:
		return "turn all shells by their loops"
	}
	return "turn " + count(len(e.Faces), "shell") + " by loops"
}

// Apply implements Edit.
func (e *Orient) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	m := d.Mesh
	if err := checkFaces(m, e.Faces); err != nil {
		return nil, err
	}
	if len(e.Edges) > 0 {
		if err := checkEdges(m, e.Edges); err != nil {
			return nil, err
		}
	}
	s := d.State.Clone()
	shells, of := s.Map.Shells(m, s.IsCut)
	wanted := map[int32]bool{}
	for _, f := range e.Faces {
		if of[f] == mesh.None {
			return nil, refuse("face %d does not lie on the sheet; flatten it first", f)
		}
		wanted[of[f]] = true
	}
	picked := set(e.Edges)
	rack := s.newRack(m, nil)
	changed := false
	for k, sh := range shells {
		if len(wanted) > 0 && !wanted[int32(k)] || s.unstacked(sh.Faces) != nil {
			continue
		}
		turn := func(p *mesh.Patch, uv []r2.Vec) {
			flow.Orient(p, uv, s.grain(int(s.FacePart[sh.Faces[0]])), s.Settings.Flow())
		}
		l := s.lift(m, sh)
		mirrored := 2*flatten.Flips(l.patch, l.uv) > len(l.patch.Tris)
		switch {
		case e.Mirrored && !mirrored:
			continue
		case e.Mirrored:
			turn = func(_ *mesh.Patch, uv []r2.Vec) {
				for i := range uv {
					uv[i].X = -uv[i].X
				}
			}
		case len(picked) > 0:
			angle, ok := directionOf(&l, m, picked)
			if !ok {
				continue
			}
			target := 0.0
			if e.AlongV {
				target = math.Pi / 2
			}
			// The shorter way: an edge has no sense.
			by := math.Remainder(target-angle, math.Pi)
			turn = func(_ *mesh.Patch, uv []r2.Vec) { flow.Turn(uv, by) }
		}
		changed = true
		s.turnShell(d, rack, sh, turn)
		s.markHand(sh.Faces[0])
	}
	if !changed {
		switch {
		case e.Mirrored:
			return nil, refuse("no shell is mirrored")
		case len(picked) > 0:
			return nil, refuse("the picked edges do not lie on this shell; pick one of its edges")
		}
		return nil, refuse("nothing lies on the sheet yet; flatten something first")
	}
	return s, nil
}

// directionOf is the mean direction of picked edges on a shell, as lines by length.
func directionOf(l *laid, m *mesh.Mesh, picked map[mesh.EdgeID]bool) (angle float64, ok bool) {
	var re, im float64
	for c, h := range l.patch.Corner {
		if !picked[m.Edge(h)] {
			continue
		}
		a, b := l.patch.Ends(int32(c))
		d := r2.Sub(l.uv[b], l.uv[a])
		sin, cos := math.Sincos(2 * math.Atan2(d.Y, d.X))
		re, im = re+r2.Norm(d)*cos, im+r2.Norm(d)*sin
	}
	if re == 0 && im == 0 {
		return 0, false
	}
	return math.Atan2(im, re) / 2, true
}
