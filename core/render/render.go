// Package render draws a mesh as seen from a side, without a graphics card: parallel projection, the
// nearest triangle of each pixel by a depth buffer (Catmull 1974), flat shading, and lines where what
// faces belong to changes. For reports and small pictures.
package render

import (
	"context"
	"image"
	"image/color"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// View is from where a mesh is looked at.
type View struct {
	From r3.Vec // towards the eye
	Up   r3.Vec // what is up in the picture, roughly
}

// Settings are how a picture looks.
type Settings struct {
	Width, Height int
	Ground        color.RGBA
	Line          color.RGBA
	Tint          func(f mesh.FaceID) color.RGBA
	Of            func(f mesh.FaceID) int32 // lines are drawn between faces of different numbers
}

// margin is how much of a picture stays free around the mesh.
const margin = 0.04

// finer is by how much each side of a picture is drawn finer than it is.
const finer = 2

// Draw draws a mesh; the context ends it.
func Draw(ctx context.Context, m *mesh.Mesh, v View, s Settings) (*image.RGBA, error) {
	w, h := s.Width*finer, s.Height*finer
	back := unit(v.From, r3.Vec{Z: 1})
	right := unit(r3.Cross(v.Up, back), r3.Vec{X: 1})
	up := r3.Cross(back, right)
	pts := make([]r3.Vec, len(m.Points)) // across, up, towards the eye
	lo, hi := r3.Vec{X: math.Inf(1), Y: math.Inf(1)}, r3.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	used := make([]bool, len(m.Points))
	for _, p := range m.CornerPoint {
		used[p] = true
	}
	for i, p := range m.Points {
		pts[i] = r3.Vec{X: r3.Dot(p, right), Y: r3.Dot(p, up), Z: r3.Dot(p, back)}
		if used[i] {
			lo, hi = r3.Vec{X: min(lo.X, pts[i].X), Y: min(lo.Y, pts[i].Y)}, r3.Vec{X: max(hi.X, pts[i].X), Y: max(hi.Y, pts[i].Y)}
		}
	}
	scale := (1 - 2*margin) * min(float64(w)/max(hi.X-lo.X, 1e-300), float64(h)/max(hi.Y-lo.Y, 1e-300))
	mid := r3.Scale(0.5, r3.Add(lo, hi))
	for i := range pts {
		pts[i].X = (pts[i].X-mid.X)*scale + float64(w)/2
		pts[i].Y = float64(h)/2 - (pts[i].Y-mid.Y)*scale
	}
	depth, face := make([]float64, w*h), make([]mesh.FaceID, w*h)
	for i := range depth {
		depth[i], face[i] = math.Inf(-1), mesh.None
	}
	for k, t := range m.Triangles().Corner {
		if k&0xfff == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		fill(pts[m.From(t[0])], pts[m.From(t[1])], pts[m.From(t[2])], w, h, func(i int, z float64) {
			if z > depth[i] {
				depth[i], face[i] = z, m.FaceOf(t[0])
			}
		})
	}
	light := unit(r3.Add(back, r3.Add(r3.Scale(0.5, up), r3.Scale(-0.35, right))), back)
	normals := m.FaceNormals()
	at := func(x, y int) color.RGBA {
		f := face[y*w+x]
		if f == mesh.None {
			return s.Ground
		}
		for _, n := range [2]int{y*w + min(x+1, w-1), min(y+1, h-1)*w + x} {
			if g := face[n]; g == mesh.None || s.Of(g) != s.Of(f) {
				return s.Line
			}
		}
		n := normals[f]
		if r3.Dot(n, back) < 0 { // its back is seen
			n = r3.Scale(-1, n)
		}
		return shaded(s.Tint(f), 0.6+0.42*max(0, r3.Dot(n, light)))
	}
	img := image.NewRGBA(image.Rect(0, 0, s.Width, s.Height))
	for y := range s.Height {
		for x := range s.Width {
			var sum [3]int
			for k := range finer * finer {
				c := at(x*finer+k%finer, y*finer+k/finer)
				sum[0], sum[1], sum[2] = sum[0]+int(c.R), sum[1]+int(c.G), sum[2]+int(c.B)
			}
			const n = finer * finer
			img.SetRGBA(x, y, color.RGBA{uint8(sum[0] / n), uint8(sum[1] / n), uint8(sum[2] / n), 255})
		}
	}
	return img, nil
}

// fill calls do for the pixels whose middle lies in a triangle, with how near it is there.
func fill(a, b, c r3.Vec, w, h int, do func(i int, z float64)) {
	area := (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X)
	if area == 0 || math.IsNaN(area) {
		return
	}
	planar.Triangle{{X: a.X, Y: a.Y}, {X: b.X, Y: b.Y}, {X: c.X, Y: c.Y}}.Runs(w, h, func(y, first, last int) {
		for x := first; x <= last; x++ {
			px, py := float64(x)+0.5, float64(y)+0.5
			u := ((b.X-px)*(c.Y-py) - (b.Y-py)*(c.X-px)) / area
			v := ((c.X-px)*(a.Y-py) - (c.Y-py)*(a.X-px)) / area
			do(y*w+x, u*a.Z+v*b.Z+(1-u-v)*c.Z)
		}
	})
}

func shaded(c color.RGBA, by float64) color.RGBA {
	f := func(v uint8) uint8 { return uint8(min(255, float64(v)*by)) }
	return color.RGBA{f(c.R), f(c.G), f(c.B), 255}
}

func unit(v, other r3.Vec) r3.Vec {
	if n := r3.Norm(v); n > 1e-12 {
		return r3.Scale(1/n, v)
	}
	return other
}
