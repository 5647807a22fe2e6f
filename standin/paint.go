// Package standin is a small painting program that stands in for those of other makers: it knows
// nothing of Morvek but what lies in the folder of a sheet (pictures, tables), paints materials along
// the sheet, wears them where they stick out, letters the parts, and writes the picture back.
package standin

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// Recipe is how a sheet is to be painted.
type Recipe struct {
	Looks  map[string]string // of each material, the name of a look; others get what their name says
	Wear   float64           // 0 new to 1 worn
	Letter bool              // parts get their names
}

// Sheet is the folder of a sheet, as it was sent.
type Sheet struct {
	Dir       string
	Title     string
	Materials []string
	Painted   bool
	Tiles     int
}

// tile is what is known of a picture that is to be painted.
type tile struct {
	materials, parts, exposure *image.NRGBA
	material, part             map[color.NRGBA]string
}

// Open reads what lies in the folder of a sheet; fs.ErrNotExist if that was not sent with masks.
func Open(dir string) (s Sheet, err error) {
	b, err := os.ReadFile(filepath.Join(dir, "sheet.json"))
	if err != nil {
		return s, err
	}
	var note struct {
		Title string
		Tiles int
	}
	if err := json.Unmarshal(b, &note); err != nil {
		return s, fmt.Errorf("sheet.json: %w", err)
	}
	s = Sheet{Dir: dir, Title: note.Title, Tiles: max(1, note.Tiles)}
	for t := range s.Tiles {
		names, err := legend(filepath.Join(dir, s.masks(t), "material.csv"))
		if err != nil {
			return s, err
		}
		for _, n := range names {
			if !slices.Contains(s.Materials, n) {
				s.Materials = append(s.Materials, n)
			}
		}
	}
	slices.Sort(s.Materials)
	_, err = os.Stat(filepath.Join(dir, s.painted(0)))
	s.Painted = err == nil
	return s, nil
}

// masks is the folder of the masks of a tile: one where there is one, else by number.
func (s Sheet) masks(t int) string {
	if found, _ := filepath.Glob(filepath.Join(s.Dir, "masks*")); len(found) > 0 {
		for _, f := range found {
			if s.Tiles == 1 || strings.HasSuffix(f, fmt.Sprintf(".%d", 1001+t)) {
				return filepath.Base(f)
			}
		}
	}
	return "masks"
}

func (s Sheet) painted(t int) string {
	if s.Tiles > 1 {
		return fmt.Sprintf("painted.%d.png", 1001+t)
	}
	return "painted.png"
}

// legend reads which colour stands for what.
func legend(path string) (map[color.NRGBA]string, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	if err != nil {
		return nil, fmt.Errorf("%s: %w", filepath.Base(path), err)
	}
	out := map[color.NRGBA]string{}
	for _, r := range rows {
		var c color.NRGBA
		if len(r) == 2 {
			if n, _ := fmt.Sscanf(r[0], "#%02X%02X%02X", &c.R, &c.G, &c.B); n == 3 {
				c.A = 255
				out[c] = r[1]
			}
		}
	}
	return out, nil
}

// tileOf reads what was sent of a tile. Only the materials have to be there.
func (s Sheet) tileOf(t int) (x tile, err error) {
	masks := filepath.Join(s.Dir, s.masks(t))
	if x.material, err = legend(filepath.Join(masks, "material.csv")); err != nil {
		return x, err
	}
	if x.materials, err = read(filepath.Join(masks, "material.png")); err != nil {
		return x, err
	}
	if x.part, err = legend(filepath.Join(masks, "part.csv")); err == nil {
		x.parts, err = read(filepath.Join(masks, "part.png"))
	}
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return x, err
	}
	found, err := filepath.Glob(filepath.Join(s.Dir, "*-exposure.png"))
	if err != nil {
		return x, err
	}
	for _, f := range found {
		if s.Tiles == 1 || strings.Contains(filepath.Base(f), fmt.Sprintf(".%d-", 1001+t)) {
			if x.exposure, err = read(f); err != nil {
				return x, err
			}
		}
	}
	for _, other := range []*image.NRGBA{x.parts, x.exposure} {
		if other != nil && other.Bounds() != x.materials.Bounds() {
			return x, errors.New("the pictures of the sheet differ in size; send it again")
		}
	}
	return x, nil
}

func read(path string) (*image.NRGBA, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	img, err := png.Decode(f)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", filepath.Base(path), err)
	}
	out, ok := img.(*image.NRGBA)
	if !ok {
		out = image.NewNRGBA(img.Bounds())
		for y := range img.Bounds().Dy() {
			for x := range img.Bounds().Dx() {
				out.Set(x, y, img.At(x, y))
			}
		}
	}
	return out, nil
}

// Paint paints all tiles of a sheet and writes the pictures into its folder, each whole or not at all.
func (s Sheet) Paint(ctx context.Context, r Recipe) error {
	for t := range s.Tiles {
		x, err := s.tileOf(t)
		if err != nil {
			return err
		}
		img, err := x.paint(ctx, r)
		if err != nil {
			return err
		}
		if err := write(filepath.Join(s.Dir, s.painted(t)), img); err != nil {
			return err
		}
	}
	return nil
}

func write(path string, img image.Image) error {
	f, err := os.CreateTemp(filepath.Dir(path), ".painting-*")
	if err != nil {
		return err
	}
	defer os.Remove(f.Name()) //nolint:errcheck // gone once it is renamed
	err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(f, img)
	if err := errors.Join(err, f.Chmod(0o644), f.Close()); err != nil {
		return err
	}
	return os.Rename(f.Name(), path)
}
