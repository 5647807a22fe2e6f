package delivery

import (
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"math"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/bake"
	"morvek/core/document"
	"morvek/core/mesh"
)

// owner is something that faces belong to, of which there are masks.
type owner struct {
	name string
	all  func(d *document.Document) (names []string, of func(f mesh.FaceID) int) // -1: to none
}

var owners = []owner{
	{"part", func(d *document.Document) ([]string, func(mesh.FaceID) int) {
		var names []string
		for _, p := range d.State.Parts {
			names = append(names, p.Name)
		}
		return names, func(f mesh.FaceID) int { return int(d.State.PartOf(f)) }
	}},
	{"material", func(d *document.Document) ([]string, func(mesh.FaceID) int) {
		return d.Mesh.Materials, func(f mesh.FaceID) int { return int(d.Mesh.FaceMaterial[f]) }
	}},
	{"group", func(d *document.Document) ([]string, func(mesh.FaceID) int) {
		return d.Mesh.Groups, func(f mesh.FaceID) int { return int(d.Mesh.FaceGroup[f]) }
	}},
	{"object", func(d *document.Document) ([]string, func(mesh.FaceID) int) {
		return d.Mesh.Objects, func(f mesh.FaceID) int { return int(d.Mesh.FaceObject[f]) }
	}},
}

// rastered is a tile of a map as pixels.
func (p *packing) rastered(s *document.State, tile int) (*bake.Raster, error) {
	if c := &p.raster; c.r != nil && c.of == s && c.tile == tile {
		return c.r, nil
	}
	p.raster.r = nil // the memory of the one before
	set := s.Settings.Sheet
	size := p.order.size(s)
	r, err := bake.Rasterise(p.ctx, bake.Input{Mesh: p.d.Mesh, At: func(h mesh.HalfedgeID) r2.Vec { return s.Map.At(h) }, Mapped: s.Map.IsMapped,
		Size: size, Wide: set.Wide, Tile: tile, Padding: math.Round(set.Padding * float64(size) / float64(set.Size))})
	if err != nil {
		return nil, err
	}
	p.raster.of, p.raster.tile, p.raster.r = s, tile, r
	return r, nil
}

// tiles calls do for each tile of each map, with what names of its files end in: the map where there
// are several, and the number of the tile (UDIM) likewise.
func (p *packing) tiles(do func(s *document.State, r *bake.Raster, suffix string) error) error {
	total, done := 0, 0
	for _, s := range p.seen {
		total += s.Settings.Sheet.Tiles
	}
	for _, s := range p.seen {
		n := s.Settings.Sheet.Tiles
		for t := range n {
			suffix := Suffix(s)
			if n > 1 {
				suffix += fmt.Sprintf(".%d", 1001+t)
			}
			r, err := p.rastered(s, t)
			if err != nil {
				return err
			}
			if err := do(s, r, suffix); err != nil {
				return err
			}
			done++
			p.tell(float64(done) / float64(total))
		}
	}
	return nil
}

func (p *packing) png(name string, img image.Image) error {
	return p.made(name, func(w io.Writer) error { return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(w, img) })
}

// masks adds a picture of distinct colours with its legend, and a mask of each owner.
func (p *packing) masks(o owner) error {
	return p.tiles(func(s *document.State, r *bake.Raster, suffix string) error {
		names, of := o.all(p.d.With(s))
		folder := fmt.Sprintf("masks%s/%s", suffix, o.name)
		legend := [][]string{{"colour", o.name}}
		at := func(t [3]mesh.HalfedgeID, _ [3]float64) color.NRGBA { return distinct(of(p.d.Mesh.FaceOf(t[0]))) }
		for k, n := range names {
			c := distinct(k)
			legend = append(legend, []string{fmt.Sprintf("#%02X%02X%02X", c.R, c.G, c.B), n})
		}
		if err := p.png(folder+".png", r.Picture(at)); err != nil {
			return err
		}
		if err := p.csv(folder+".csv", legend); err != nil {
			return err
		}
		return r.Masks(len(names), of, func(k int, mask *image.Gray) error {
			if err := p.ctx.Err(); err != nil {
				return err
			}
			name := strings.TrimSuffix(fmt.Sprintf("%s/%03d-%s", folder, k+1, plain(names[k])), "-")
			return p.png(name+".png", mask)
		})
	})
}

// distinct is a colour of its own for each number from 0; grey for none. Hues follow the golden
// angle, so that neighbours differ much.
func distinct(k int) color.NRGBA {
	if k < 0 {
		return color.NRGBA{128, 128, 128, 255}
	}
	const golden = 0.6180339887498949
	h := math.Mod(float64(k)*golden, 1) * 6
	bright := []float64{1, 0.75, 0.5}[k/12%3] // and after a round of hues they are darker
	low := 0.15 + 0.25*float64(k/36%3)
	wave := func(shift float64) uint8 {
		v := math.Abs(math.Mod(h+shift, 6)-3) - 1
		return uint8(math.Round(255 * bright * (low + (1-low)*max(0, min(1, v)))))
	}
	return color.NRGBA{wave(0), wave(4), wave(2), 255}
}

func (p *packing) normals() error {
	return p.tiles(func(s *document.State, r *bake.Raster, suffix string) error {
		return p.png(p.base+suffix+"-normals.png", r.Normals(s.Settings.CreaseDeg))
	})
}

func (p *packing) exposure() error {
	x := p.d.Exposure()
	if _, ok := x.Values(); !ok {
		if err := x.PrepareAll(p.ctx, p.tell); err != nil {
			return err
		}
	}
	of, _ := x.Values()
	return p.tiles(func(s *document.State, r *bake.Raster, suffix string) error {
		return p.png(p.base+suffix+"-exposure.png", r.Exposure(of, s.Settings.CreaseDeg))
	})
}
