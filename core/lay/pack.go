package lay

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/sheet"
)

// Pack lays all shells on the sheet at one texel density, as large as it finds.
func Pack(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	s := d.Begin()
	stacks := stackRepeats(s, d.Mesh)
	onTop := map[mesh.FaceID]bool{}
	for _, st := range stacks {
		for _, f := range st.faces {
			onTop[f] = true
		}
	}
	shells, _ := s.Map.Shells()
	shells = slices.DeleteFunc(slices.Clone(shells), func(sh atlas.Shell) bool { return onTop[sh.Faces[0]] })
	if len(shells) == 0 {
		return nil, document.Refuse("there are no shells to pack; flatten something first")
	}
	fixed := fixed(s.State)
	in := make([]sheet.Shell, len(shells))
	size := make([]float64, len(shells))
	for i, sh := range shells {
		in[i].Tris = s.Map.Triangles(sh.Faces)
		var flat float64
		for _, t := range in[i].Tris {
			flat += math.Abs(t.Area())
		}
		area := document.AreaOf(d.Mesh, sh.Faces)
		in[i].Still = fixed(sh)
		in[i].Free = Grainless(s.State, sh.Faces)
		size[i] = 1
		if flat > 0 && area > 0 {
			size[i] = math.Sqrt(area/flat) * s.Weight(s.PartOf(sh.Faces[0]))
		}
		for k, t := range in[i].Tris {
			in[i].Tris[k] = planar.Triangle{r2.Scale(size[i], t[0]), r2.Scale(size[i], t[1]), r2.Scale(size[i], t[2])}
		}
	}
	placed, err := sheet.Pack(ctx, in, Packing(s.Settings), progress)
	if err != nil {
		if ctx.Err() != nil {
			return nil, err
		}
		return nil, document.Refuse("%v", err)
	}
	for i, sh := range shells {
		s.Map.Transform(sh.Faces, func(q r2.Vec) r2.Vec { return placed[i].Apply(r2.Scale(size[i], q)) })
	}
	for _, st := range stacks {
		s.Map.Follow(st.pair, false)
	}
	return s.Done(), nil
}

// Packing is what these settings ask of a packing.
func Packing(s document.Settings) sheet.Options {
	return sheet.Options{SizePx: s.Sheet.Size, PaddingPx: s.Sheet.Padding, MarginPx: s.Sheet.Margin, Turns: s.Turns, Tiles: s.Sheet.Tiles}
}

// Grainless tells whether the part of a shell has no grain, so that it may lie any way.
func Grainless(s *document.State, shell []mesh.FaceID) bool {
	return !slices.ContainsFunc(s.PartsOf(shell), func(p document.PartID) bool { return s.Grain(int(p)).Mode != flow.None })
}

// stacked is a part that lies on its first.
type stacked struct {
	faces []mesh.FaceID
	pair  map[mesh.HalfedgeID]mesh.HalfedgeID // from the corners of the first
}

// stackRepeats lays equal parts onto their first, where the settings ask for it, and
// those of stacks that are there onto theirs: same seams, same coordinates.
// What it returns needs no place of its own and follows its first.
func stackRepeats(s *document.Tx, m *mesh.Mesh) []stacked {
	faces := s.PartFaces()
	var out []stacked
	for i := range s.Parts {
		p := s.Parts[i]
		on := p.StackedOn // a stack that is there stays one
		if on == nil && s.Settings.Repeats == document.Stack && !p.Mirrored {
			on = p.RepeatOf
		}
		if p.StackedOn != nil {
			s.Part(document.PartID(i)).StackedOn = nil
		}
		if on == nil || !s.Map.IsMapped(faces[*on][0]) {
			continue
		}
		base := *on
		pair, ok := s.GiveMap(m, faces, base, document.PartID(i), false)
		if !ok {
			continue
		}
		s.ComeOff(m, faces[base], document.Others(base))
		s.Part(document.PartID(i)).StackedOn = &base
		out = append(out, stacked{faces[i], pair})
	}
	return out
}
