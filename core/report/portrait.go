package report

import (
	"context"
	"image"
	"image/color"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/render"
	"morvek/core/template"
)

// Half is the direction towards an eye that sees a model half turned and a little from above.
func Half(d *document.Document) r3.Vec {
	up, front := d.State.Settings.Up.Vec(), d.State.Settings.Up.Front()
	return r3.Add(r3.Add(front, r3.Scale(0.8, r3.Cross(up, front))), r3.Scale(0.6, up))
}

// Portrait draws a model with its parts in their tints, seen from a direction, as a square of some
// pixels; the context ends it.
func Portrait(ctx context.Context, d *document.Document, from r3.Vec, size int) (*image.RGBA, error) {
	return render.Draw(ctx, d.Mesh, render.View{From: from, Up: d.State.Settings.Up.Vec()}, render.Settings{Width: size, Height: size,
		Ground: color.RGBA{0xFD, 0xFC, 0xF8, 0xff}, Line: color.RGBA{0x1F, 0x2A, 0x33, 0xff},
		Tint: func(f mesh.FaceID) color.RGBA { return template.Tint(int(d.State.PartOf(f))) },
		Of:   func(f mesh.FaceID) int32 { return int32(d.State.PartOf(f)) }})
}
