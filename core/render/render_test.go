package render_test

import (
	"bytes"
	"context"
	"errors"
	"image/color"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/render"
)

var (
	paper = color.RGBA{250, 250, 250, 255}
	line  = color.RGBA{1, 2, 3, 255}
	tints = []color.RGBA{{200, 0, 0, 255}, {0, 200, 0, 255}}
)

// plates are two squares, the green one nearer in Z and on the right half of the red one.
func plates(t *testing.T) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	square := func(x0, x1, z float64) {
		b.Face(b.Point(r3.Vec{X: x0, Z: z}), b.Point(r3.Vec{X: x1, Z: z}), b.Point(r3.Vec{X: x1, Y: 2, Z: z}), b.Point(r3.Vec{X: x0, Y: 2, Z: z}))
	}
	square(0, 2, 0)
	square(1, 2, 1)
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func settings(w, h int) render.Settings {
	return render.Settings{Width: w, Height: h, Ground: paper, Line: line,
		Tint: func(f mesh.FaceID) color.RGBA { return tints[f] }, Of: func(f mesh.FaceID) int32 { return int32(f) }}
}

// What is nearer hides what is farther, seen from either side; around it is the ground.
func TestTheNearestIsSeen(t *testing.T) {
	m := plates(t)
	hue := func(c color.Color) string {
		r, g, b, _ := c.RGBA()
		switch {
		case r>>8 > 100 && g>>8 < 60:
			return "red"
		case g>>8 > 100 && r>>8 < 60:
			return "green"
		case r>>8 > 240 && b>>8 > 240:
			return "ground"
		}
		return "line"
	}
	for _, c := range []struct {
		from        r3.Vec
		left, right string
	}{{r3.Vec{Z: 5}, "red", "green"}, {r3.Vec{Z: -5}, "red", "red"}} {
		img, err := render.Draw(context.Background(), m, render.View{From: c.from, Up: r3.Vec{Y: 1}}, settings(100, 100))
		if err != nil {
			t.Fatal(err)
		}
		if l, r, out := hue(img.At(25, 50)), hue(img.At(75, 50)), hue(img.At(1, 1)); l != c.left || r != c.right || out != "ground" {
			t.Errorf("from %v it is %s, %s and %s", c.from, l, r, out)
		}
	}
	img, err := render.Draw(context.Background(), m, render.View{From: r3.Vec{Z: 1}, Up: r3.Vec{Y: 1}}, settings(200, 100))
	if err != nil {
		t.Fatal(err)
	}
	if hue(img.At(20, 50)) != "ground" || hue(img.At(60, 50)) != "red" {
		t.Error("in a wide picture the model is not in the middle")
	}
	again, _ := render.Draw(context.Background(), m, render.View{From: r3.Vec{Z: 1}, Up: r3.Vec{Y: 1}}, settings(200, 100))
	if !bytes.Equal(img.Pix, again.Pix) {
		t.Error("drawn again it is another picture")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := render.Draw(ctx, m, render.View{}, settings(10, 10)); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
}
