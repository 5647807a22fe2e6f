package flowedits

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

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
		return "turn a shell by " + words.Count(len(e.Edges), "edge")
	case len(e.Faces) == 0:
		return "turn all shells by their loops"
	}
	return "turn " + words.Count(len(e.Faces), "shell") + " by loops"
}

// Apply implements Edit.
func (e *Orient) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckFaces(m, e.Faces); err != nil {
		return nil, err
	}
	if len(e.Edges) > 0 {
		if err := document.CheckEdges(m, e.Edges); err != nil {
			return nil, err
		}
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	asked, err := document.ShellsAsked(of, e.Faces)
	if err != nil {
		return nil, err
	}
	picked := ids.Set(e.Edges)
	turner := lay.NewTurner(s, d)
	changed := false
	stacked := s.Stacks()
	for k, sh := range shells {
		if !asked(k) || s.Unstacked(stacked, sh.Faces) != nil {
			continue
		}
		turn := func(p *mesh.Patch, uv []r2.Vec) { lay.OrientOwn(s.State, p, uv) }
		l := s.Map.Lift(sh)
		switch {
		case e.Mirrored:
			if 2*flatten.Flips(l.Patch, l.UV) <= len(l.Patch.Tris) {
				continue
			}
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
		turner.Turn(&l, turn)
		s.MarkHand(sh.Faces[0])
	}
	if !changed {
		switch {
		case e.Mirrored:
			return nil, document.Refuse("no shell is mirrored")
		case len(picked) > 0:
			return nil, document.Refuse("the picked edges do not lie on this shell; pick one of its edges")
		}
		return nil, document.Refuse("nothing lies on the sheet yet; flatten something first")
	}
	return s.Done(), nil
}

// directionOf is the mean direction of picked edges on a shell, as lines by length.
func directionOf(l *atlas.Lifted, m *mesh.Mesh, picked map[mesh.EdgeID]bool) (angle float64, ok bool) {
	var re, im float64
	for c, h := range l.Patch.Corner {
		if !picked[m.Edge(h)] {
			continue
		}
		a, b := l.Patch.Ends(int32(c))
		d := r2.Sub(l.UV[b], l.UV[a])
		sin, cos := math.Sincos(2 * math.Atan2(d.Y, d.X))
		re, im = re+r2.Norm(d)*cos, im+r2.Norm(d)*sin
	}
	if re == 0 && im == 0 {
		return 0, false
	}
	return math.Atan2(im, re) / 2, true
}
