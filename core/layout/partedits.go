package layout

import (
	"context"
	"fmt"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
)

// Merge makes one part of several; the first keeps its name.
type Merge struct {
	Parts []PartID `json:"parts"`
}

// Kind implements Edit.
func (*Merge) Kind() string { return "merge" }

// Describe implements Edit.
func (e *Merge) Describe() string { return "merge " + partCount(len(e.Parts)) }

// Apply implements Edit.
func (e *Merge) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := d.State.checkParts(e.Parts...); err != nil {
		return nil, err
	}
	list := slices.Compact(slices.Sorted(slices.Values(e.Parts)))
	if len(list) < 2 {
		return nil, refuse("pick two parts or more to merge")
	}
	faces := d.State.PartFaces()
	var all []mesh.FaceID
	for _, p := range list {
		all = append(all, faces[p]...)
	}
	if pieces := d.Mesh.Connected(all, func(mesh.EdgeID) bool { return false }); len(pieces) > 1 {
		return nil, refuse("these parts do not touch; a part hangs together")
	}
	s := d.Begin()
	s.reassign(d.Mesh, all, e.Parts[0])
	return s.Done(), nil
}

// PartOff makes picked faces a part of their own.
type PartOff struct {
	Faces []mesh.FaceID `json:"faces"`
	Name  string        `json:"name,omitempty"`
}

// Kind implements Edit.
func (*PartOff) Kind() string { return "part-off" }

// Describe implements Edit.
func (e *PartOff) Describe() string { return "part off " + faceCount(len(e.Faces)) }

// Apply implements Edit.
func (e *PartOff) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	name := e.Name
	if name == "" {
		name = "part"
		if p := s.PartOf(e.Faces[0]); p >= 0 {
			name = s.Parts[p].Name + ", piece"
		}
	}
	s.Parts = append(s.Parts, &Part{Name: name})
	s.reassign(d.Mesh, e.Faces, PartID(len(s.Parts)-1))
	return s.Done(), nil
}

// Assign moves picked faces to a part beside them.
type Assign struct {
	Faces []mesh.FaceID `json:"faces"`
	To    PartID        `json:"to"`
}

// Kind implements Edit.
func (*Assign) Kind() string { return "assign" }

// Describe implements Edit.
func (e *Assign) Describe() string { return "move " + faceCount(len(e.Faces)) + " to a neighbour" }

// Apply implements Edit.
func (e *Assign) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkPick(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if err := d.State.checkParts(e.To); err != nil {
		return nil, err
	}
	s := d.Begin()
	s.reassign(d.Mesh, e.Faces, e.To)
	return s.Done(), nil
}

func checkPick(m *mesh.Mesh, faces []mesh.FaceID) error {
	if len(faces) == 0 {
		return refuse("no faces are picked")
	}
	return checkFaces(m, faces)
}

// reassign gives faces to a part, cuts along the new borders, closes those that
// are gone, and fits all parts it touched again. Locked shapes stay.
func (s *Tx) reassign(m *mesh.Mesh, faces []mesh.FaceID, to PartID) {
	touched := map[PartID]bool{to: true}
	for _, f := range faces {
		if p := s.PartOf(f); p >= 0 {
			touched[p] = true
		}
		s.SetPart(f, to)
		s.markHand(f)
	}
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None {
				continue
			}
			s.Map.SetCut(m.Edge(h), s.PartOf(f) != s.PartOf(m.FaceOf(t)))
		}
	}
	all := s.PartFaces()
	for p := range touched {
		part := s.Part(PartID(p))
		part.RepeatOf, part.Mirrored, part.StackedOn, part.Pieces = nil, false, nil, nil
		if len(all[p]) == 0 || part.Locked {
			continue
		}
		part.Fit = parts.Alternatives(m, all[p])[0]
		part.Grain, part.GrainOwn = s.grainFor(m, all[p], part), false
	}
	s.dropEmptyParts()
}

// dropEmptyParts removes parts without faces and numbers the rest anew.
func (s *Tx) dropEmptyParts() {
	faces := s.PartFaces()
	to := make([]PartID, len(s.Parts))
	var kept []*Part
	for i, p := range s.Parts {
		to[i] = NoPart
		if len(faces[i]) > 0 {
			to[i] = PartID(len(kept))
			kept = append(kept, p)
		}
	}
	moved := func(p *PartID) *PartID {
		if p == nil || to[*p] == NoPart {
			return nil
		}
		q := to[*p]
		return &q
	}
	for f, p := range s.partOf {
		if p >= 0 {
			s.SetPart(mesh.FaceID(f), to[p])
		}
	}
	s.Parts = kept
	for i, p := range kept {
		if p.RepeatOf != nil || p.StackedOn != nil {
			p = s.Part(PartID(i))
			p.RepeatOf, p.StackedOn = moved(p.RepeatOf), moved(p.StackedOn)
		}
	}
}

// SetShape says what a part is, whatever was recognised, and locks it.
type SetShape struct {
	Part  PartID     `json:"part"`
	Shape shape.Kind `json:"shape"`
}

// Kind implements Edit.
func (*SetShape) Kind() string { return "set-shape" }

// Describe implements Edit.
func (e *SetShape) Describe() string { return "treat a part as " + string(e.Shape) }

// Apply implements Edit.
func (e *SetShape) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := d.State.checkParts(e.Part); err != nil {
		return nil, err
	}
	if !slices.Contains(shape.Kinds, e.Shape) {
		return nil, refuse("there is no shape %q", e.Shape)
	}
	s := d.Begin()
	p := s.Part(e.Part)
	faces := s.PartFaces()[e.Part]
	fit := shape.Fit{Kind: e.Shape, Origin: p.Fit.Origin}
	if e.Shape != shape.Free {
		i := -1
		fits := parts.Alternatives(d.Mesh, faces)
		if i = slices.IndexFunc(fits, func(f shape.Fit) bool { return f.Kind == e.Shape }); i < 0 {
			return nil, refuse("%s cannot be fitted as %s: %s", p.Name, e.Shape, whyNot(e.Shape, len(faces)))
		}
		fit = fits[i]
	}
	p.Fit, p.Locked, p.ByHand, p.Pieces = fit, true, true, nil
	p.Grain, p.GrainOwn = s.grainFor(d.Mesh, faces, p), false
	if fit.Kind == shape.Swept || fit.Kind == shape.Box {
		s.resetCuts(d.Mesh, faces)
	}
	return s.Done(), nil
}

func whyNot(k shape.Kind, faces int) string {
	switch {
	case k == shape.Swept:
		return "it is not a tube with two ends and one girth"
	case k == shape.Box:
		return "its faces do not look along two axes at right angles"
	}
	return fmt.Sprintf("%d faces do not tell its parameters", faces)
}

// Lock keeps parts as they are when others are recognised again, or lets them go.
type Lock struct {
	Parts  []PartID `json:"parts"`
	Locked bool     `json:"locked"`
}

// Kind implements Edit.
func (*Lock) Kind() string { return "lock" }

// Describe implements Edit.
func (e *Lock) Describe() string {
	if e.Locked {
		return "lock " + partCount(len(e.Parts))
	}
	return "unlock " + partCount(len(e.Parts))
}

// Apply implements Edit.
func (e *Lock) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := d.State.checkParts(e.Parts...); err != nil {
		return nil, err
	}
	s := d.Begin()
	for _, p := range e.Parts {
		s.Part(p).Locked = e.Locked
	}
	return s.Done(), nil
}

// Weigh says how much room parts get: 1 is the common density, 2 twice as many
// pixels along each edge, 0.25 a quarter.
type Weigh struct {
	Parts  []PartID `json:"parts"`
	Weight float64  `json:"weight"`
}

// Kind implements Edit.
func (*Weigh) Kind() string { return "weigh" }

// Describe implements Edit.
func (e *Weigh) Describe() string {
	return fmt.Sprintf("give %s ×%g room", partCount(len(e.Parts)), e.Weight)
}

// Apply implements Edit.
func (e *Weigh) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := d.State.checkParts(e.Parts...); err != nil {
		return nil, err
	}
	if !(e.Weight >= 0.05 && e.Weight <= 20) {
		return nil, refuse("a weight of %g is not possible; choose 0.05 to 20", e.Weight)
	}
	s := d.Begin()
	for _, p := range e.Parts {
		s.Part(p).Weight = e.Weight
	}
	faces := s.PartFaces()
	for _, p := range e.Parts {
		s.comeOff(d.Mesh, faces[p], func(q PartID) bool { return s.Weight(q) != e.Weight })
	}
	return s.Done(), nil
}

// Weight is the density of a part relative to the common one.
func (s *State) Weight(p PartID) float64 {
	if p < 0 || s.Parts[p].Weight == 0 {
		return 1
	}
	return s.Parts[p].Weight
}
