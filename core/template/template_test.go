package template_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"image/png"
	"io"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/template"
)

// square is a shell from (x, y) with side s.
func square(name string, part int, x, y, s float64) template.Shell {
	a, b, c, d := r2.Vec{X: x, Y: y}, r2.Vec{X: x + s, Y: y}, r2.Vec{X: x + s, Y: y + s}, r2.Vec{X: x, Y: y + s}
	return template.Shell{Name: name, Part: part, Fill: [][3]r2.Vec{{a, b, c}, {a, c, d}},
		Border: []template.Line{{A: a, B: b}, {A: b, B: c}, {A: c, B: d}, {A: d, B: a}},
		Inner:  []template.Line{{A: a, B: c}}, Label: r2.Vec{X: x + s/2, Y: y + s/2}, Room: s}
}

func TestPictureShowsShellsWhereTheyLie(t *testing.T) {
	s := template.Sheet{Tiles: 1, Shells: []template.Shell{square("low left", 0, 0.1, 0.1, 0.3), square("high right", 4, 0.6, 0.6, 0.3)}}
	var b bytes.Buffer
	if err := template.PNG(&b, s, 200); err != nil {
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

func TestVectorsAreWellFormed(t *testing.T) {
	s := template.Sheet{Tiles: 2, Shells: []template.Shell{square(`bolt <1> & "co"`, 1, 0.1, 0.1, 0.5), square("second", 2, 1.2, 0.3, 0.4)}}
	var b bytes.Buffer
	if err := template.SVG(&b, s, 1024); err != nil {
		t.Fatal(err)
	}
	groups, texts := 0, []string{}
	inText := false
	d := xml.NewDecoder(bytes.NewReader(b.Bytes()))
	for {
		tok, err := d.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			t.Fatal(err)
		}
		switch e := tok.(type) {
		case xml.StartElement:
			if e.Name.Local == "g" {
				groups++
			}
			inText = e.Name.Local == "text"
			if e.Name.Local == "svg" {
				for _, a := range e.Attr {
					if a.Name.Local == "width" && a.Value != "2048" {
						t.Errorf("two tiles of 1024 px are %s wide", a.Value)
					}
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
	if groups != 2 || len(texts) != 2 || texts[0] != `bolt <1> & "co"` {
		t.Errorf("%d groups, labels %q", groups, texts)
	}
}

func TestTinyShellsHaveNoLabel(t *testing.T) {
	var b bytes.Buffer
	if err := template.SVG(&b, template.Sheet{Tiles: 1, Shells: []template.Shell{square("a name far too long for this", 0, 0.5, 0.5, 0.01)}}, 256); err != nil {
		t.Fatal(err)
	}
	if strings.Contains(b.String(), "<text") {
		t.Error("a shell of two pixels carries a name")
	}
}

func TestFormats(t *testing.T) {
	for name, known := range map[string]bool{"a.svg": true, "a.PNG": true, "a.tiff": false, "a": false} {
		if template.Known(name) != known {
			t.Errorf("%s: known %v", name, !known)
		}
		err := template.Write(io.Discard, name, template.Sheet{Tiles: 1}, 64)
		if (err == nil) != known {
			t.Errorf("%s: error %v", name, err)
		}
	}
}
