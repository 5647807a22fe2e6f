package layout

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/sheet"
)

// Pack lays all shells on the sheet at one texel density, as large as it finds,
// with the padding, margin and turns of the document's settings.
type Pack struct{}

// Kind implements Edit.
func (*Pack) Kind() string { return "pack" }

// Describe implements Edit.
func (*Pack) Describe() string { return "pack the sheet" }

// Apply implements Edit.
func (*Pack) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	return packAll(ctx, d, progress)
}

// packAll lays all shells on the sheet at one texel density, as large as it finds.
func packAll(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s := d.Begin()
	stacks := s.stackRepeats(d.Mesh)
	onTop := map[mesh.FaceID]bool{}
	for _, st := range stacks {
		for _, f := range st.faces {
			onTop[f] = true
		}
	}
	shells, _ := s.Map.Shells()
	shells = slices.DeleteFunc(slices.Clone(shells), func(sh atlas.Shell) bool { return onTop[sh.Faces[0]] })
	if len(shells) == 0 {
		return nil, refuse("there are no shells to pack; flatten something first")
	}
	fixed := s.fixed()
	in := make([]sheet.Shell, len(shells))
	size := make([]float64, len(shells))
	areas := d.Mesh.FaceAreas()
	for i, sh := range shells {
		in[i].Tris = s.Map.Triangles(sh.Faces)
		var flat, true_ float64
		for _, t := range in[i].Tris {
			flat += math.Abs(t.Area())
		}
		for _, f := range sh.Faces {
			true_ += areas[f]
		}
		in[i].Still = fixed(sh)
		in[i].Free = s.grainless(sh.Faces)
		size[i] = 1
		if flat > 0 && true_ > 0 {
			size[i] = math.Sqrt(true_/flat) * s.Weight(s.PartOf(sh.Faces[0]))
		}
		for k, t := range in[i].Tris {
			in[i].Tris[k] = planar.Triangle{r2.Scale(size[i], t[0]), r2.Scale(size[i], t[1]), r2.Scale(size[i], t[2])}
		}
	}
	placed, err := sheet.Pack(ctx, in, s.Settings.packing(), progress)
	if err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		return nil, refuse("%v", err)
	}
	for i, sh := range shells {
		for _, f := range sh.Faces {
			lo, hi := d.Mesh.Corners(f)
			for h := lo; h < hi; h++ {
				s.Map.Put(h, placed[i].Apply(r2.Scale(size[i], s.Map.At(h))))
			}
		}
	}
	for _, st := range stacks {
		s.Map.Follow(st.pair, false)
	}
	return s.Done(), nil
}

// packing is what these settings ask of a packing.
func (s Settings) packing() sheet.Options {
	return sheet.Options{SizePx: s.Sheet.Size, PaddingPx: s.Sheet.Padding, MarginPx: s.Sheet.Margin, Turns: s.Turns, Tiles: s.Sheet.Tiles}
}

// grainless tells whether the part of a shell has no grain, so that it may lie any way.
func (s *State) grainless(shell []mesh.FaceID) bool {
	return !slices.ContainsFunc(s.partsOf(shell), func(p PartID) bool { return s.grain(int(p)).Mode != flow.None })
}

// stackFaces adds a face of each shell that lies on those of the given faces: a
// stack moves as one.
func (s *State) stackFaces(shells []atlas.Shell, faces []mesh.FaceID) []mesh.FaceID {
	roots := map[PartID]bool{}
	stacked := false
	for _, f := range faces {
		roots[s.stackRoot(s.PartOf(f))] = true
	}
	for _, p := range s.Parts {
		stacked = stacked || p.StackedOn != nil && roots[*p.StackedOn]
	}
	if !stacked {
		return faces
	}
	out := slices.Clone(faces)
	for _, sh := range shells {
		if p := s.PartOf(sh.Faces[0]); p >= 0 && roots[s.stackRoot(p)] {
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
func (e *Move) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	scale := e.Scale
	if scale == 0 {
		scale = 1
	}
	if !(scale > 1e-6 && scale < 1e6) || math.IsNaN(e.TurnDeg+e.Shift.X+e.Shift.Y) || math.Abs(e.Shift.X)+math.Abs(e.Shift.Y) > 1e4 {
		return nil, refuse("this move would put the shell nowhere: scale %g, shift %g, %g", scale, e.Shift.X, e.Shift.Y)
	}
	if !(math.Abs(e.TurnDeg) <= 36000) {
		return nil, refuse("a turn by %g° is out of reach; choose less than a hundred turns", e.TurnDeg)
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	var faces []mesh.FaceID
	seen := map[int32]bool{}
	for _, f := range s.stackFaces(shells, e.Faces) {
		if of[f] == mesh.None {
			return nil, refuse("face %d is not mapped; flatten it first", f)
		}
		if !seen[of[f]] {
			seen[of[f]] = true
			faces = append(faces, shells[of[f]].Faces...)
		}
	}
	if len(faces) == 0 {
		return nil, refuse("no shell is picked")
	}
	b := s.Map.Box(faces)
	centre := b.Middle()
	sin, cos := math.Sincos(e.TurnDeg * math.Pi / 180)
	if q := math.Mod(e.TurnDeg, 90); q == 0 { // quarter turns keep straight lines exactly straight
		sin, cos = math.Round(sin), math.Round(cos)
	}
	for _, f := range faces {
		s.markHand(f)
		lo, hi := d.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			q := r2.Scale(scale, r2.Sub(s.Map.At(h), centre))
			if e.Flip {
				q.X = -q.X
			}
			q = r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y}
			s.Map.Put(h, r2.Add(r2.Add(q, centre), e.Shift))
		}
	}
	return s.Done(), nil
}
