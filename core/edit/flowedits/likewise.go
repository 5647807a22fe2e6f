package flowedits

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/parts"
	"morvek/core/planar"
	"morvek/core/words"
)

// Likewise does to parts of the same kind what people did to one: equal ones and their mirror images get
// its seams and its map, those of other sizes its seams, its wishes and its grain, and are laid as it was
// and turned as it lies. They wait on the rack. What is made of another mesh stays as it is.
type Likewise struct {
	Part document.PartID   `json:"part"`
	To   []document.PartID `json:"to,omitempty"` // none: all that are of its kind

	did string // after it was applied
}

// Kind implements Edit.
func (*Likewise) Kind() string { return "likewise" }

// Describe implements Edit.
func (e *Likewise) Describe() string { return "do likewise" + e.did }

// Apply implements Edit.
func (e *Likewise) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	if err := d.State.CheckParts(append([]document.PartID{e.Part}, e.To...)...); err != nil {
		return nil, err
	}
	lead := d.State.Parts[e.Part].Name
	kin, otherwise := d.Kindred(e.Part, e.To)
	if len(kin) == 0 {
		if otherwise > 0 {
			return nil, document.Refuse("%s of its shape %s made of another mesh than %s", words.Count(otherwise, "part"), words.Be(otherwise), lead)
		}
		return nil, document.Refuse("no other part is of the kind of %s", lead)
	}
	s, done := d.State, 0
	faces, held := s.PartFaces(), ids.Set(s.Map.ShellsOf(s.Wishes.Locked))
	var locked, unlike, sized int
	for i, q := range slices.Sorted(maps.Keys(kin)) {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if slices.ContainsFunc(faces[q], func(f mesh.FaceID) bool { return held[f] }) {
			locked++
			continue
		}
		next, equal, err := likewise(ctx, d.With(s), e.Part, q, kin[q])
		switch {
		case errors.Is(err, document.ErrRefused):
			unlike++
			continue
		case err != nil:
			return nil, err
		}
		if !equal {
			sized++
		}
		s = next
		done++
		parallel.Report(progress, float64(i+1)/float64(len(kin)))
	}
	var left []string
	for _, w := range []struct {
		n   int
		why string
	}{{otherwise, "of its shape but of another mesh"}, {locked, "locked"}, {unlike, "do not lie flat with these seams"}} {
		if w.n > 0 {
			left = append(left, fmt.Sprintf("%d %s", w.n, w.why))
		}
	}
	if done == 0 {
		return nil, document.Refuse("no part of the kind of %s can follow: %s", lead, strings.Join(left, ", "))
	}
	e.did = " on " + words.Count(done, "part") + " like " + lead
	if sized > 0 {
		e.did += fmt.Sprintf(", %d of other sizes", sized)
	}
	if len(left) > 0 {
		e.did += "; left as they are: " + strings.Join(left, ", ")
	}
	return s, nil
}

// Preview says which parts follow and which do not.
func (e *Likewise) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	if err != nil {
		return preview.Preview{}, err
	}
	return preview.Preview{State: s, Said: e.Describe()}, nil
}

// likewise does to part b what was done to part a; equal tells whether it got the very same map.
func likewise(ctx context.Context, d *document.Document, a, b document.PartID, k parts.Kinship) (next *document.State, equal bool, err error) {
	s, m := d.Begin(), d.Mesh
	faces := s.PartFaces()
	s.Likewise(m, faces, a, b, k)
	if !s.Map.IsMapped(faces[a][0]) {
		return s.Done(), false, nil
	}
	if s.RepeatRoot(a) == s.RepeatRoot(b) {
		if _, ok := s.GiveMap(m, faces, a, b, s.Parts[a].Mirrored != s.Parts[b].Mirrored); ok {
			s.Map.ToRack(faces[b])
			return s.Done(), true, nil
		}
	}
	how := lay.Options{}
	for _, group := range m.Connected(faces[b], s.Map.IsCut) {
		how.Faces = append(how.Faces, group[0])
	}
	if method := flatten.Method(s.Parts[a].Method); slices.Contains(flatten.Methods, method) {
		how.Method = method
	}
	var laid *document.State
	cut := d.With(s.Done())
	if p := d.State.Parts[a].Projection; p != nil {
		laid, err = lay.Project(ctx, cut, lay.Projecting{Faces: faces[b], Projection: lay.Fitted(cut, faces[b], p.Kind)}, nil)
	} else {
		laid, err = lay.Flatten(ctx, cut, how, nil)
	}
	if err != nil {
		return nil, false, err
	}
	return turnedAs(d.With(laid), faces[b], k), false, nil
}

// turnedAs turns shells so that they lie as those of a part lie that they answer: by quarters where that
// is nearly so, and onto the rack.
func turnedAs(d *document.Document, faces []mesh.FaceID, k parts.Kinship) *document.State {
	s, m := d.Begin(), d.Mesh
	answers := make(map[mesh.HalfedgeID]mesh.HalfedgeID, len(k.Corner))
	for h, g := range k.Corner {
		answers[g] = h
	}
	shells, _ := s.Map.Shells()
	mine := ids.Set(faces)
	for _, sh := range shells {
		if !mine[sh.Faces[0]] {
			continue
		}
		var was, is []r2.Vec
		for _, f := range sh.Faces {
			lo, hi := m.Corners(f)
			for g := lo; g < hi; g++ {
				h, ok := answers[g]
				if !ok || !s.Map.IsMapped(m.FaceOf(h)) {
					continue
				}
				q := s.Map.At(h)
				if k.Mirrored {
					q.X = -q.X
				}
				was, is = append(was, q), append(is, s.Map.At(g))
			}
		}
		if turn := bestTurn(is, was); turn != 0 {
			sin, cos := math.Sincos(turn)
			s.Map.Transform(sh.Faces, func(q r2.Vec) r2.Vec { return r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y} })
			s.Map.ToRack(sh.Faces)
		}
	}
	return s.Done()
}

// bestTurn is the angle by which places are turned to lie like others, radians: the least squares of both
// about their middles (Procrustes in the plane), a whole quarter where it is near one.
func bestTurn(is, was []r2.Vec) float64 {
	const near = 10 * math.Pi / 180
	_, _, cos, sin := planar.Turn(is, was)
	turn := math.Atan2(sin, cos)
	if quarter := math.Round(turn/(math.Pi/2)) * math.Pi / 2; math.Abs(turn-quarter) <= near {
		turn = quarter
	}
	return math.Remainder(turn, 2*math.Pi)
}
