package sheetedits

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/mesh"
)

// stackFaces adds a face of each shell that lies on those of the given faces: a
// stack moves as one.
func stackFaces(s *document.State, shells []atlas.Shell, faces []mesh.FaceID) []mesh.FaceID {
	roots := map[document.PartID]bool{}
	stacked := false
	for _, f := range faces {
		roots[s.StackRoot(s.PartOf(f))] = true
	}
	for _, p := range s.Parts {
		stacked = stacked || p.StackedOn != nil && roots[*p.StackedOn]
	}
	if !stacked {
		return faces
	}
	out := slices.Clone(faces)
	for _, sh := range shells {
		if p := s.PartOf(sh.Faces[0]); p >= 0 && roots[s.StackRoot(p)] {
			out = append(out, sh.Faces[0])
		}
	}
	return out
}

// Move transforms the shells that contain the given faces about the middle of
// their common box: mirrored, scaled, turned, then shifted.
type Move struct {
	Faces   []mesh.FaceID `json:"faces"`
	Shift   r2.Vec        `json:"shift"`              // sheet units
	TurnDeg float64       `json:"turn_deg,omitempty"` // counter-clockwise
	Scale   float64       `json:"scale,omitempty"`    // 0 means 1
	Flip    bool          `json:"flip,omitempty"`     // left and right exchanged
}

// Kind implements Edit.
func (*Move) Kind() string { return "move" }

// Describe implements Edit.
func (e *Move) Describe() string {
	switch {
	case e.Flip:
		return "turn a shell over"
	case e.TurnDeg != 0:
		return "turn a shell"
	case e.Scale != 0 && e.Scale != 1:
		return "scale a shell"
	}
	return "move a shell"
}

// Apply implements Edit.
func (e *Move) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	scale := e.Scale
	if scale == 0 {
		scale = 1
	}
	if !(scale > 1e-6 && scale < 1e6) || math.IsNaN(e.TurnDeg+e.Shift.X+e.Shift.Y) || math.Abs(e.Shift.X)+math.Abs(e.Shift.Y) > 1e4 {
		return nil, document.Refuse("this move would put the shell nowhere: scale %g, shift %g, %g", scale, e.Shift.X, e.Shift.Y)
	}
	if !(math.Abs(e.TurnDeg) <= 36000) {
		return nil, document.Refuse("a turn by %g° is out of reach; choose less than a hundred turns", e.TurnDeg)
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	var faces []mesh.FaceID
	seen := map[int32]bool{}
	for _, f := range stackFaces(s.State, shells, e.Faces) {
		if of[f] == mesh.None {
			return nil, document.Refuse("face %d is not mapped; flatten it first", f)
		}
		if !seen[of[f]] {
			seen[of[f]] = true
			faces = append(faces, shells[of[f]].Faces...)
		}
	}
	if len(faces) == 0 {
		return nil, document.Refuse("no shell is picked")
	}
	b := s.Map.Box(faces)
	centre := b.Middle()
	sin, cos := math.Sincos(e.TurnDeg * math.Pi / 180)
	if q := math.Mod(e.TurnDeg, 90); q == 0 { // quarter turns keep straight lines exactly straight
		sin, cos = math.Round(sin), math.Round(cos)
	}
	for _, f := range faces {
		s.MarkHand(f)
	}
	s.Map.Transform(faces, func(q r2.Vec) r2.Vec {
		q = r2.Scale(scale, r2.Sub(q, centre))
		if e.Flip {
			q.X = -q.X
		}
		q = r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y}
		return r2.Add(r2.Add(q, centre), e.Shift)
	})
	return s.Done(), nil
}
