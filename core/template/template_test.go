package template_test

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/template"
)

// square is a shell from (x, y) with side s.
func square(name string, part int, x, y, s float64) template.Shell {
	a, b, c, d := r2.Vec{X: x, Y: y}, r2.Vec{X: x + s, Y: y}, r2.Vec{X: x + s, Y: y + s}, r2.Vec{X: x, Y: y + s}
	return template.Shell{Name: name, Fill: []template.Patch{{P: [3]r2.Vec{a, b, c}, Part: part, Material: 9}, {P: [3]r2.Vec{a, c, d}, Part: part, Material: 9}},
		Border: []template.Line{{A: a, B: b}, {A: b, B: c}, {A: c, B: d}, {A: d, B: a}},
		Inner:  []template.Line{{A: a, B: c}}}
}

func TestPictureShowsShellsWhereTheyLie(t *testing.T) {
	s := template.Sheet{Tiles: 1, Shells: []template.Shell{square("low left", 0, 0.1, 0.1, 0.3), square("high right", 4, 0.6, 0.6, 0.3)}}
	var b bytes.Buffer
	if err := template.PNG(&b, s, template.Options{Size: 200, Bare: true}); err != nil {
		t.Fatal(err)
	}
	img, err := png.Decode(&b)
	if err != nil {
		t.Fatal(err)
	}
	if got := img.Bounds().Size(); got.X != 200 || got.Y != 200 {
		t.Fatalf("the picture is %v", got)
	}
	at := func(u, v float64) [3]uint32 {
		r, g, b, _ := img.At(int(u*200), int((1-v)*200)).RGBA()
		return [3]uint32{r >> 8, g >> 8, b >> 8}
	}
	is := func(part int) [3]uint32 {
		c := template.Tint(part)
		return [3]uint32{uint32(c.R), uint32(c.G), uint32(c.B)}
	}
	if got := at(0.2, 0.15); got != is(0) { // off the label and the diagonal
		t.Errorf("low left is %v, want the tint of part 0 %v", got, is(0))
	}
	if got := at(0.7, 0.65); got != is(4) {
		t.Errorf("high right is %v, want the tint of part 4 %v", got, is(4))
	}
	if got := at(0.5, 0.5); got == is(0) || got == is(4) {
		t.Error("the empty middle is filled")
	}
}

// read is what a drawing holds: the names of its layers and its texts.
func read(t *testing.T, svg []byte) (layers, texts []string) {
	t.Helper()
	inText := false
	d := xml.NewDecoder(bytes.NewReader(svg))
	for {
		tok, err := d.Token()
		if errors.Is(err, io.EOF) {
			return layers, texts
		}
		if err != nil {
			t.Fatal(err)
		}
		switch e := tok.(type) {
		case xml.StartElement:
			inText = e.Name.Local == "text"
			for _, a := range e.Attr {
				if e.Name.Local == "g" && a.Name.Local == "id" {
					layers = append(layers, a.Value)
				}
				if e.Name.Local == "svg" && a.Name.Local == "width" && a.Value != "2048" {
					t.Errorf("two tiles of 1024 px are %s wide", a.Value)
				}
			}
		case xml.CharData:
			if inText {
				texts = append(texts, string(e))
			}
		case xml.EndElement:
			inText = false
		}
	}
}

var all = []string{"padding", "parts", "materials", "edges", "outlines", "up", "names"}

func TestVectorsAreWellFormedAndInLayers(t *testing.T) {
	s := template.Sheet{Tiles: 2, Shells: []template.Shell{square(`bolt <1> & "co"`, 1, 0.1, 0.1, 0.5), square("second", 2, 1.2, 0.3, 0.4)}}
	var b bytes.Buffer
	if err := template.SVG(&b, s, template.Options{Size: 1024}); err != nil {
		t.Fatal(err)
	}
	layers, texts := read(t, b.Bytes())
	if !slices.Equal(layers, all) || !slices.Equal(texts, []string{`bolt <1> & "co"`, "second"}) {
		t.Errorf("layers %q, labels %q", layers, texts)
	}
}

// A name stands in its shell where there is room, beside it where there is none, once for a stack; no
// two lie on each other.
func TestNamesHaveAPlace(t *testing.T) {
	s := template.Sheet{Wide: true, Shells: []template.Shell{square("a wall", 0, 0.1, 0.1, 0.4), square("small bolt", 1, 0.7, 0.7, 0.01), square("small nut", 1, 0.72, 0.7, 0.01), square("stacked", 2, 1.2, 0.2, 0.3), square("stacked", 2, 1.2, 0.2, 0.3)}}
	s.Shells[3].Copies, s.Shells[4].Copies, s.Shells[4].Below = 2, 2, true
	var b bytes.Buffer
	if err := template.SVG(&b, s, template.Options{Size: 1024}); err != nil {
		t.Fatal(err)
	}
	_, texts := read(t, b.Bytes())
	slices.Sort(texts)
	if want := []string{"a wall", "small bolt", "small nut", "stacked ×2"}; !slices.Equal(texts, want) {
		t.Fatalf("labels %q, want %q", texts, want)
	}
	places := regexp.MustCompile(`<text x="([\d.]+)" y="([\d.]+)"[^>]*>([^<]*)<`).FindAllSubmatch(b.Bytes(), -1)
	num := func(b []byte) float64 { v, _ := strconv.ParseFloat(string(b), 64); return v }
	for i, p := range places {
		x, y := num(p[1])/1024, 1-num(p[2])/1024
		switch name := string(p[3]); {
		case name == "a wall" && !(x > 0.1 && x < 0.5 && y > 0.1 && y < 0.5):
			t.Errorf("%s stands at %.2f, %.2f, not in its shell", name, x, y)
		case strings.HasPrefix(name, "small") && !(x > 0.6 && x < 0.85 && y > 0.6 && y < 0.8):
			t.Errorf("%s stands at %.2f, %.2f, far from its shell", name, x, y)
		}
		for _, q := range places[:i] {
			if dy := num(p[2]) - num(q[2]); dy > -9 && dy < 9 && num(p[1])-num(q[1]) < 30 && num(p[1])-num(q[1]) > -30 {
				t.Errorf("%s stands on %s", p[3], q[3])
			}
		}
	}
}

// The picture in layers is an OpenRaster file: its kind first and unpacked, a stack of pictures of the
// whole sheet, of which those that are shown make the merged one. It is the same each time.
func TestPictureInLayers(t *testing.T) {
	s := template.Sheet{Tiles: 1, Padding: 0.02, Shells: []template.Shell{square("lid", 0, 0.2, 0.2, 0.6)}}
	s.Shells[0].Up = r2.Vec{Y: 1}
	o := template.Options{Size: 256, Line: 5}
	var b, again bytes.Buffer
	if err := errors.Join(template.OpenRaster(&b, s, o), template.OpenRaster(&again, s, o)); err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(b.Bytes(), again.Bytes()) {
		t.Error("the same template gave other bytes")
	}
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	if z.File[0].Name != "mimetype" || z.File[0].Method != zip.Store {
		t.Errorf("it begins with %s", z.File[0].Name)
	}
	var doc struct {
		Layers []struct {
			Name string `xml:"name,attr"`
			Src  string `xml:"src,attr"`
			Seen string `xml:"visibility,attr"`
		} `xml:"stack>layer"`
	}
	open := func(name string) io.Reader {
		f, err := z.Open(name)
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	if err := xml.NewDecoder(open("stack.xml")).Decode(&doc); err != nil {
		t.Fatal(err)
	}
	merged, err := png.Decode(open("mergedimage.png"))
	if err != nil {
		t.Fatal(err)
	}
	sum := image.NewRGBA(merged.Bounds())
	var names []string
	for _, l := range slices.Backward(doc.Layers) {
		img, err := png.Decode(open(l.Src))
		if err != nil || img.Bounds() != merged.Bounds() {
			t.Fatalf("%s: %v", l.Src, err)
		}
		if l.Seen == "visible" {
			draw.Draw(sum, sum.Bounds(), img, image.Point{}, draw.Over)
		}
		names = append(names, l.Name)
		count := 0
		for y := range 256 {
			for x := range 256 {
				if _, _, _, a := img.At(x, y).RGBA(); a > 0 {
					count++
				}
			}
		}
		if count == 0 {
			t.Errorf("the layer %s is empty", l.Name)
		}
	}
	if want := append([]string{"paper"}, all...); !slices.Equal(names, want) {
		t.Errorf("layers %q", names)
	}
	for y := range 256 {
		for x := range 256 {
			if a, c := merged.At(x, y), sum.RGBAAt(x, y); !near(a, c) {
				t.Fatalf("at %d, %d the merged picture is %v, its layers %v", x, y, a, c)
			}
		}
	}
}

// near tells whether colours differ by rounding only.
func near(a, b color.Color) bool {
	ar, ag, ab, _ := a.RGBA()
	br, bg, bb, _ := b.RGBA()
	for _, d := range []int{int(ar) - int(br), int(ag) - int(bg), int(ab) - int(bb)} {
		if d > 0x300 || d < -0x300 {
			return false
		}
	}
	return true
}

// Outlines are as wide as they are asked to be, and the padding lies around shells.
func TestWidthsAreInPixels(t *testing.T) {
	s := template.Sheet{Tiles: 1, Padding: 0.05, Shells: []template.Shell{square("lid", 0, 0.25, 0.25, 0.5)}}
	img := template.Picture(s, template.Options{Size: 200, Line: 6, Bare: true})
	is := func(x, y int, c color.RGBA) bool { return near(img.At(x, y), c) }
	dark, bleed := color.RGBA{0x1F, 0x2A, 0x33, 0xff}, color.RGBA{0xEE, 0xEA, 0xE0, 0xff}
	for x, want := range map[int]color.RGBA{48: dark, 52: dark, 46: bleed, 41: bleed, 39: {0xFD, 0xFC, 0xF8, 0xff}, 54: template.Tint(0)} {
		if !is(x, 90, want) {
			t.Errorf("at %d px it is %v, want %v", x, img.At(x, 90), want)
		}
	}
}

func TestFormats(t *testing.T) {
	for name, known := range map[string]bool{"a.svg": true, "a.PNG": true, "a.ora": true, "a.tiff": false, "a": false} {
		if template.Known(name) != known {
			t.Errorf("%s: known %v", name, !known)
		}
		err := template.Write(io.Discard, name, template.Sheet{Tiles: 1}, template.Options{Size: 64})
		if (err == nil) != known {
			t.Errorf("%s: error %v", name, err)
		}
	}
	for _, o := range []template.Options{{Size: 0}, {Size: 1 << 14}, {Size: 64, Line: -1}, {Size: 64, Line: math.NaN()}} {
		if template.Write(io.Discard, "a.png", template.Sheet{Tiles: 1}, o) == nil {
			t.Errorf("%+v was drawn", o)
		}
	}
}
