package lay

import (
	"context"
	"errors"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/stat"

	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/sheet"
	"morvek/core/words"
)

// Pack lays all shells on the sheet at one texel density, as large as it finds; locked ones stay
// where they are.
func Pack(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	return PackAs(ctx, d, How{}, progress)
}

// PackAs lays all shells on the sheet but those that are locked.
func PackAs(ctx context.Context, d *document.Document, how How, progress func(float64)) (*document.State, error) {
	if err := how.check(d.State); err != nil {
		return nil, err
	}
	s := d.Begin()
	if equal, mirrored := s.Settings.Stacks(); equal {
		stackRepeats(s, d.Mesh, mirrored)
	}
	locked := marked(s.Wishes.Locked)
	var list, stay []Unit
	for _, u := range Units(s.State) {
		if locked(u) {
			stay = append(stay, u)
		} else {
			list = append(list, u)
		}
	}
	if len(list) == 0 {
		return nil, document.Refuse("there are no shells to pack; flatten something first")
	}
	in, size := packed(s.State, list, how.Sizes != Even)
	placed, err := how.packOn(ctx, s, list, in, ground(s.State, stay), progress)
	if err != nil {
		return nil, refusal(ctx, err)
	}
	for i, u := range list {
		u.layAs(s, size[i], placed[i])
	}
	s.Wishes.Placed = nil // now they lie where packing put them
	return s.Done(), nil
}

// packOn packs shells around what stays; where their size is fixed, the state gets as many tiles as
// they take.
func (how How) packOn(ctx context.Context, s *document.Tx, list []Unit, in []sheet.Shell, around []planar.Triangle, progress func(float64)) ([]sheet.Placement, error) {
	o := Packing(s.Settings)
	if how.Blocks != NoBlocks {
		return sheet.PackBlocks(ctx, in, how.groups(s.State, list), around, o, progress)
	}
	if how.Sizes != Fixed {
		return sheet.PackAround(ctx, in, around, o, progress)
	}
	if !o.Wide {
		o.Tiles = document.MostTiles
	}
	placed, laid, err := sheet.Fill(ctx, in, around, o)
	if err != nil {
		return nil, err
	}
	if slices.Contains(laid, false) {
		return nil, document.Refuse("so large, the shells do not fit on %s; make them smaller or the sheet larger", words.Count(o.Tiles, "tile"))
	}
	if o.Wide {
		return placed, nil
	}
	s.Settings.Sheet.Tiles = 1
	for _, p := range placed {
		s.Settings.Sheet.Tiles = max(s.Settings.Sheet.Tiles, p.Tile+1)
	}
	for _, t := range around {
		s.Settings.Sheet.Tiles = max(s.Settings.Sheet.Tiles, min(document.MostTiles, int(t[0].X)+1))
	}
	return placed, nil
}

// Filled is what became of shells that were laid into free room.
type Filled struct {
	Laid int
	Left []mesh.FaceID // a face of each shell that found no room and waits on the rack
}

// Fill lays shells into the room that all others leave: at the density of those that lie on the
// sheet, or at the size they have. faces are some of each shell; none means all that wait on the
// rack. What finds no room comes to the rack, or stays there.
func Fill(ctx context.Context, d *document.Document, faces []mesh.FaceID, z Sizes) (*document.State, Filled, error) {
	if err := z.check(); err != nil {
		return nil, Filled{}, err
	}
	s := d.Begin()
	locked := marked(s.Wishes.Locked)
	asked := Unit.OnRack
	if len(faces) > 0 {
		if _, err := UnitsOf(s.State, faces); err != nil {
			return nil, Filled{}, err
		}
		asked = marked(s.Map.ShellsOf(faces))
	}
	var list, stay []Unit
	for _, u := range Units(s.State) {
		if asked(u) && !locked(u) {
			list = append(list, u)
		} else if !u.OnRack() {
			stay = append(stay, u)
		}
	}
	if len(list) == 0 {
		if len(faces) > 0 {
			return nil, Filled{}, document.Refuse("these shells are locked; let go of them first")
		}
		return nil, Filled{}, document.Refuse("no shell waits on the rack")
	}
	in, size := packed(s.State, list, z != Even)
	if z == Even {
		common := CommonDensity(s.State, stay)
		for i := range in {
			in[i].Tris = scaled(in[i].Tris, common)
			size[i] *= common
		}
	}
	placed, laid, err := sheet.Fill(ctx, in, ground(s.State, stay), Packing(s.Settings))
	if err != nil {
		return nil, Filled{}, refusal(ctx, err)
	}
	var result Filled
	var toRack [][]mesh.FaceID
	for i, u := range list {
		switch {
		case laid[i]:
			result.Laid++
			u.layAs(s, size[i], placed[i])
		case !u.OnRack():
			toRack = append(toRack, u.Faces)
			fallthrough
		default:
			result.Left = append(result.Left, u.Faces[0])
		}
	}
	s.Map.ToRack(toRack...)
	return s.Done(), result, nil
}

// refusal is what to say of an error of packing: all but the end of a context is about what was
// asked.
func refusal(ctx context.Context, err error) error {
	if ctx.Err() != nil || errors.Is(err, document.ErrRefused) {
		return err
	}
	return document.Refuse("%v", err)
}

// layAs moves a unit to where packing placed it, that much larger than it was.
func (u Unit) layAs(s *document.Tx, size float64, at sheet.Placement) {
	u.Move(s, func(q r2.Vec) r2.Vec { return at.Apply(r2.Scale(size, q)) })
}

// packed are shells as packing takes them, at a common density of 1 times their weight, or as
// large as they are; and how much larger each is than on the sheet.
func packed(s *document.State, list []Unit, kept bool) ([]sheet.Shell, []float64) {
	fixed, weight := fixed(s), s.Weights()
	in, size := make([]sheet.Shell, len(list)), make([]float64, len(list))
	for i, u := range list {
		in[i].Tris = s.Map.Triangles(u.lowest)
		in[i].Still = fixed(u.lowest)
		in[i].Free = Grainless(s, u.lowest)
		size[i] = 1
		var flat float64
		for _, t := range in[i].Tris {
			flat += math.Abs(t.Area())
		}
		if area := document.AreaOf(s.Map.Mesh(), u.lowest); flat > 0 && area > 0 && !kept {
			size[i] = math.Sqrt(area/flat) * weight(u.lowest)
			in[i].Tris = scaled(in[i].Tris, size[i])
		}
	}
	return in, size
}

func scaled(tris []planar.Triangle, by float64) []planar.Triangle {
	for k, t := range tris {
		tris[k] = planar.Triangle{r2.Scale(by, t[0]), r2.Scale(by, t[1]), r2.Scale(by, t[2])}
	}
	return tris
}

// ground are the triangles of what stays.
func ground(s *document.State, stay []Unit) (out []planar.Triangle) {
	for _, u := range stay {
		out = append(out, s.Map.Triangles(u.lowest)...)
	}
	return out
}

// CommonDensity is that of most of the area of some shells, less their weights, in sheet units
// per model unit: of all that is mapped where there are none.
func CommonDensity(s *document.State, of []Unit) float64 {
	if len(of) == 0 {
		of = Units(s)
	}
	weight := s.Weights()
	var flat, area float64
	for _, u := range of {
		a, w := document.AreaOf(s.Map.Mesh(), u.lowest), weight(u.lowest)
		d := s.Map.Density(u.lowest)
		flat += d * d * a
		area += w * w * a
	}
	if area > 0 && flat > 0 {
		return math.Sqrt(flat / area)
	}
	return 1
}

// UsualDensity is the one that half of the area of all shells has at most, less their weights, in
// sheet units per model unit.
func UsualDensity(s *document.State) float64 {
	weight := s.Weights()
	var density, area []float64
	for _, u := range Units(s) {
		if a, d := document.AreaOf(s.Map.Mesh(), u.lowest), s.Map.Density(u.lowest); a > 0 && d > 0 {
			density, area = append(density, d/weight(u.lowest)), append(area, a)
		}
	}
	if len(density) == 0 {
		return 1
	}
	stat.SortWeighted(density, area)
	return stat.Quantile(0.5, stat.Empirical, density, area)
}

// Packing is what these settings ask of a packing.
func Packing(s document.Settings) sheet.Options {
	return sheet.Options{SizePx: s.Sheet.Size, PaddingPx: s.Sheet.Padding, MarginPx: s.Sheet.Margin, Turns: s.Turns, Tiles: s.Sheet.Tiles, Wide: s.Sheet.Wide}
}

// Grainless tells whether the part of a shell has no grain, so that it may lie any way.
func Grainless(s *document.State, shell []mesh.FaceID) bool {
	return !slices.ContainsFunc(s.PartsOf(shell), func(p document.PartID) bool { return s.Grain(int(p)).Mode != flow.None })
}

// stackRepeats lays equal parts onto their first, mirrored ones if they are wanted too.
func stackRepeats(s *document.Tx, m *mesh.Mesh, mirrored bool) {
	faces := s.PartFaces()
	on := map[document.PartID]document.PartID{}
	for i, p := range s.Parts {
		if p.RepeatOf != nil && (mirrored || !p.Mirrored) && s.Map.IsMapped(faces[*p.RepeatOf][0]) {
			on[document.PartID(i)] = *p.RepeatOf
		}
	}
	s.StackRepeats(m, on)
}
