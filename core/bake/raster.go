// Package bake brings what is known of the surface onto the sheet, as pictures: which face a pixel
// shows, and from that masks, normals and exposure. Pixels are sampled in their middle; around
// shells the nearest pixel goes on, as far as padding allows, so that nothing else bleeds in when the
// picture is filtered.
package bake

import (
	"context"
	"fmt"
	"image"
	"image/color"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// Input is what is rasterised: the map of a mesh on one tile.
type Input struct {
	Mesh   *mesh.Mesh
	At     func(h mesh.HalfedgeID) r2.Vec // sheet units
	Mapped func(f mesh.FaceID) bool

	Size    int     // height in pixels
	Wide    bool    // the tile is twice as wide as high
	Tile    int     // from 0
	Padding float64 // pixels around shells that are filled
}

// MostPixels bounds a picture; a pixel takes four bytes.
const MostPixels = 8192 * 8192

// Raster tells what each pixel of a tile shows.
type Raster struct {
	W, H int
	in   Input
	cell []int32 // triangle; or the pixel that goes on there, as far(pixel); or nothing
}

const nothing = int32(-1)

// far and its inverse keep the number of a pixel apart from that of a triangle.
func far(pixel int) int32     { return int32(-2 - pixel) }
func fromFar(cell int32) int  { return int(-2 - cell) }
func isFar(cell int32) bool   { return cell <= -2 }
func isShell(cell int32) bool { return cell >= 0 }

// Rasterise finds what each pixel shows. Of faces that lie on each other the first is shown.
func Rasterise(ctx context.Context, in Input) (*Raster, error) {
	r := &Raster{W: in.Size, H: in.Size, in: in}
	if in.Wide {
		r.W *= 2
	}
	if in.Size < 1 || r.W*r.H > MostPixels {
		return nil, fmt.Errorf("a picture of %d by %d pixels is too large", r.W, r.H)
	}
	r.cell = make([]int32, r.W*r.H)
	for i := range r.cell {
		r.cell[i] = nothing
	}
	for k, t := range in.Mesh.Triangles().Corner {
		if k&0xfff == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if in.Mapped(in.Mesh.FaceOf(t[0])) {
			r.triangle(int32(k), t)
		}
	}
	return r, r.bleed(ctx)
}

// pixel is where a corner lies, in pixels from the upper left.
func (r *Raster) pixel(h mesh.HalfedgeID) r2.Vec {
	q := r.in.At(h)
	return r2.Vec{X: (q.X - float64(r.in.Tile)) * float64(r.H), Y: (1 - q.Y) * float64(r.H)}
}

// triangle takes the pixels whose middle lies in a triangle.
func (r *Raster) triangle(k int32, t [3]mesh.HalfedgeID) {
	p := planar.Triangle{r.pixel(t[0]), r.pixel(t[1]), r.pixel(t[2])}
	p.Runs(r.W, r.H, func(y, first, last int) {
		for i := y*r.W + first; i <= y*r.W+last; i++ {
			if r.cell[i] == nothing {
				r.cell[i] = k
			}
		}
	})
}

// bleed lets shells go on around themselves: in rings, each pixel takes the nearest of those that its
// neighbours go on with.
func (r *Raster) bleed(ctx context.Context) error {
	var ring []int
	for i, c := range r.cell {
		if isShell(c) {
			ring = append(ring, i)
		}
	}
	reach := r.in.Padding * r.in.Padding
	for n := 0; len(ring) > 0 && float64(n) <= r.in.Padding; n++ {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		var next []int
		for _, i := range ring {
			r.around(i, func(j int) {
				if r.cell[j] == nothing {
					r.cell[j] = far(j) // it is in the next ring; its source comes below
					next = append(next, j)
				}
			})
		}
		sources := make([]int32, len(next)) // of the ring as a whole, so that its order does not matter
		for k, i := range next {
			best, from := math.Inf(1), -1
			r.around(i, func(j int) {
				s := r.source(j)
				if s < 0 || isFar(r.cell[j]) && fromFar(r.cell[j]) == j {
					return
				}
				if d := r.apart(i, s); d < best || d == best && s < from {
					best, from = d, s
				}
			})
			sources[k] = nothing
			if from >= 0 && best <= reach {
				sources[k] = far(from)
			}
		}
		ring = ring[:0]
		for k, i := range next {
			if r.cell[i] = sources[k]; sources[k] != nothing {
				ring = append(ring, i)
			}
		}
	}
	return nil
}

// around calls do for the pixels beside one.
func (r *Raster) around(i int, do func(j int)) {
	x, y := i%r.W, i/r.W
	for dy := -1; dy <= 1; dy++ {
		for dx := -1; dx <= 1; dx++ {
			if u, v := x+dx, y+dy; (dx != 0 || dy != 0) && u >= 0 && v >= 0 && u < r.W && v < r.H {
				do(v*r.W + u)
			}
		}
	}
}

// apart is the square of how far pixels lie from each other.
func (r *Raster) apart(i, j int) float64 {
	dx, dy := float64(i%r.W-j%r.W), float64(i/r.W-j/r.W)
	return dx*dx + dy*dy
}

// source is the pixel whose triangle is shown at one, -1 where nothing is.
func (r *Raster) source(i int) int {
	switch c := r.cell[i]; {
	case isShell(c):
		return i
	case isFar(c):
		return fromFar(c)
	}
	return -1
}

// Share is how much of the tile shells cover.
func (r *Raster) Share() float64 {
	n := 0
	for _, c := range r.cell {
		if isShell(c) {
			n++
		}
	}
	return float64(n) / float64(len(r.cell))
}

// Mask is white where faces are that somebody wants, and around their shells.
func (r *Raster) Mask(want func(f mesh.FaceID) bool) *image.Gray {
	img := image.NewGray(image.Rect(0, 0, r.W, r.H))
	tris := r.in.Mesh.Triangles()
	for i := range r.cell {
		if s := r.source(i); s >= 0 && want(r.in.Mesh.FaceOf(tris.Corner[r.cell[s]][0])) {
			img.Pix[i] = 255
		}
	}
	return img
}

// Masks calls do with the mask of each owner of faces from 0 to n-1; of tells whose a face is, -1 for
// nobody's. The picture is the same each time and valid until do returns.
func (r *Raster) Masks(n int, of func(f mesh.FaceID) int, do func(owner int, img *image.Gray) error) error {
	tris := r.in.Mesh.Triangles()
	pixels := make([][]int32, n)
	for i := range r.cell {
		if s := r.source(i); s >= 0 {
			if k := of(r.in.Mesh.FaceOf(tris.Corner[r.cell[s]][0])); k >= 0 {
				pixels[k] = append(pixels[k], int32(i))
			}
		}
	}
	img := image.NewGray(image.Rect(0, 0, r.W, r.H))
	for k, own := range pixels {
		for _, i := range own {
			img.Pix[i] = 255
		}
		if err := do(k, img); err != nil {
			return err
		}
		for _, i := range own {
			img.Pix[i] = 0
		}
	}
	return nil
}

// Picture has a colour for each pixel that shows something, of a triangle and the weights of its
// corners there; the others cover nothing.
func (r *Raster) Picture(paint func(t [3]mesh.HalfedgeID, w [3]float64) color.NRGBA) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, r.W, r.H))
	tris := r.in.Mesh.Triangles()
	for i := range r.cell {
		s := r.source(i)
		if s < 0 {
			continue
		}
		t := tris.Corner[r.cell[s]]
		c := paint(t, r.weights(t, s))
		copy(img.Pix[4*i:4*i+4], []uint8{c.R, c.G, c.B, c.A})
	}
	return img
}

// weights are those of the corners of a triangle in the middle of a pixel, by area.
func (r *Raster) weights(t [3]mesh.HalfedgeID, i int) (w [3]float64) {
	a, b, c := r.pixel(t[0]), r.pixel(t[1]), r.pixel(t[2])
	p := r2.Vec{X: float64(i%r.W) + 0.5, Y: float64(i/r.W) + 0.5}
	w = [3]float64{r2.Cross(r2.Sub(c, b), r2.Sub(p, b)), r2.Cross(r2.Sub(a, c), r2.Sub(p, c)), r2.Cross(r2.Sub(b, a), r2.Sub(p, a))}
	sum := w[0] + w[1] + w[2]
	if sum == 0 {
		return [3]float64{1.0 / 3, 1.0 / 3, 1.0 / 3}
	}
	for k := range w {
		w[k] /= sum
	}
	return w
}
