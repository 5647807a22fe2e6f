package bake_test

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/bake"
	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// wall is part of a cylinder of radius 1 about z, n faces around a quarter, mapped to a rectangle of
// 0.5 by 0.5 from (0.25, 0.25).
func wall(t *testing.T, n int) *mesh.Mesh {
	t.Helper()
	b := mesh.NewBuilder()
	var low, high []mesh.PointID
	var uv [][2]int32
	for i := range n + 1 {
		s, c := math.Sincos(float64(i) / float64(n) * math.Pi / 2)
		low, high = append(low, b.Point(r3.Vec{X: c, Y: s})), append(high, b.Point(r3.Vec{X: c, Y: s, Z: 1}))
		u := 0.25 + 0.5*float64(i)/float64(n)
		uv = append(uv, [2]int32{b.UV(r2.Vec{X: u, Y: 0.25}), b.UV(r2.Vec{X: u, Y: 0.75})})
	}
	for i := range n {
		b.Corner(low[i], uv[i][0], mesh.None)
		b.Corner(low[i+1], uv[i+1][0], mesh.None)
		b.Corner(high[i+1], uv[i+1][1], mesh.None)
		b.Corner(high[i], uv[i][1], mesh.None)
		b.EndFace()
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func input(m *mesh.Mesh, size int, padding float64) bake.Input {
	uv := format.SourceUV(m)
	return bake.Input{Mesh: m, Size: size, Padding: padding,
		At:     func(h mesh.HalfedgeID) r2.Vec { q, _ := uv(h); return q },
		Mapped: func(mesh.FaceID) bool { return true }}
}

func raster(t *testing.T, in bake.Input) *bake.Raster {
	t.Helper()
	r, err := bake.Rasterise(context.Background(), in)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

func all(mesh.FaceID) bool { return true }

// The pixels of a rectangle are covered without a gap, and exactly those within the padding around it.
func TestPixelsOfAShellAndAroundIt(t *testing.T) {
	const size, padding = 200, 6
	r := raster(t, input(wall(t, 7), size, padding))
	if got := r.Share(); got != 0.25 {
		t.Errorf("%g of the tile is covered", got)
	}
	mask := r.Mask(all)
	for y := range size {
		for x := range size {
			outside := func(v int) float64 { return float64(max(50-v, v-149, 0)) }
			want := math.Hypot(outside(x), outside(y)) <= padding
			if got := mask.GrayAt(x, y).Y == 255; got != want {
				t.Fatalf("at %d, %d it is %v", x, y, got)
			}
		}
	}
	// Around a shell its own border goes on.
	half := raster(t, input(wall(t, 2), size, padding)).Mask(func(f mesh.FaceID) bool { return f == 0 })
	for x, want := range map[int]uint8{47: 255, 99: 255, 100: 0, 153: 0} {
		if got := half.GrayAt(x, 45).Y; got != want {
			t.Errorf("above the shell, at %d, the mask of its left half is %d", x, got)
		}
	}
}

// Normals of a finely cut wall are those of the cylinder; with every edge a crease, those of its faces.
func TestNormalsOfAWall(t *testing.T) {
	const size = 256
	r := raster(t, input(wall(t, 24), size, 2))
	worst := func(deg float64) (worst float64) {
		img := r.Normals(deg)
		for y := 65; y < 191; y++ {
			for x := 72; x < 184; x++ { // its ends have one neighbour only
				c := img.NRGBAAt(x, y)
				v := func(b uint8) float64 { return (float64(b) - 127.5) / 127.5 }
				s, k := math.Sincos((float64(x) + 0.5 - 64) / 128 * math.Pi / 2)
				worst = max(worst, math.Acos(min(1, (v(c.R)*k+v(c.G)*s)/math.Sqrt(v(c.R)*v(c.R)+v(c.G)*v(c.G)+v(c.B)*v(c.B)))))
			}
		}
		return worst * 180 / math.Pi
	}
	if got := worst(30); got > 0.6 { // eight bits are good for 0.3°
		t.Errorf("smooth normals are off by up to %.2f°", got)
	}
	if got := worst(1); got < 1.5 || got > 2.5 { // half of 3.75°, and the bits
		t.Errorf("flat normals are off by up to %.2f°", got)
	}
	if c := r.Normals(30).NRGBAAt(2, 2); c != (color.NRGBA{}) {
		t.Errorf("far from any shell it is %v", c)
	}
}

func TestExposureIsSmoothUpToCreases(t *testing.T) {
	r := raster(t, input(wall(t, 2), 128, 2)) // bent by 45° in its middle
	of := []float32{0, 1}
	at := func(deg float64, x int) uint8 { return r.Exposure(of, deg).NRGBAAt(x, 64).R }
	if a, b := at(30, 62), at(30, 65); a != 0 || b != 255 {
		t.Errorf("beside a crease it is %d and %d", a, b)
	}
	if a, b := at(60, 62), at(60, 65); a < 110 || b > 145 || a > b {
		t.Errorf("beside a smooth edge it is %d and %d", a, b)
	}
}

// Whatever lies on the sheet: every pixel whose middle is within a triangle is taken, by the first of
// those there; the same each time.
func TestAnyTriangles(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 30 {
		b := mesh.NewBuilder()
		var tris [][3]r2.Vec
		for range 12 {
			var tri [3]r2.Vec
			for k := range tri {
				tri[k] = r2.Vec{X: rng.Float64()*1.4 - 0.2, Y: math.Round(rng.Float64()*20) / 20}
				b.Corner(b.Point(r3.Vec{X: rng.Float64(), Y: rng.Float64(), Z: rng.Float64()}), b.UV(tri[k]), mesh.None)
			}
			b.EndFace()
			tris = append(tris, tri)
		}
		m, err := b.Build()
		if err != nil {
			t.Fatal(err)
		}
		const size = 64
		r := raster(t, input(m, size, 0))
		masks := make([][]byte, len(tris))
		for f := range tris {
			masks[f] = r.Mask(func(g mesh.FaceID) bool { return int(g) == f }).Pix
		}
		for y := range size {
			for x := range size {
				p := r2.Vec{X: (float64(x) + 0.5) / size, Y: 1 - (float64(y)+0.5)/size}
				first, sure := -1, true
				for f, tri := range tris {
					least := math.Inf(1)
					turn := math.Copysign(1, r2.Cross(r2.Sub(tri[1], tri[0]), r2.Sub(tri[2], tri[0])))
					for k := range 3 {
						a, b := tri[k], tri[(k+1)%3]
						least = min(least, turn*r2.Cross(r2.Sub(b, a), r2.Sub(p, a)))
					}
					if math.Abs(least) < 1e-9 {
						sure = false // on a side
					}
					if least > 0 && first < 0 {
						first = f
					}
				}
				for f := range tris {
					if got := masks[f][y*size+x] == 255; sure && got != (f == first) {
						t.Fatalf("at %v triangle %d is shown: %v; the first there is %d", p, f, got, first)
					}
				}
			}
		}
		err = r.Masks(len(tris), func(f mesh.FaceID) int { return int(f) }, func(k int, img *image.Gray) error {
			if !bytes.Equal(img.Pix, masks[k]) {
				t.Errorf("the mask of triangle %d is another one among all", k)
			}
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
		if again := raster(t, input(m, size, 5)).Normals(30); !bytes.Equal(again.Pix, raster(t, input(m, size, 5)).Normals(30).Pix) {
			t.Fatal("the same sheet gave another picture")
		}
	}
}

func TestBounds(t *testing.T) {
	in := input(wall(t, 2), 8192, 0)
	in.Wide = true
	if _, err := bake.Rasterise(context.Background(), in); err == nil {
		t.Error("a picture of 16384 by 8192 was begun")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := bake.Rasterise(ctx, input(wall(t, 2), 64, 2)); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
	second := input(wall(t, 2), 64, 2)
	second.Tile = 1
	if r := raster(t, second); r.Share() != 0 {
		t.Error("what lies on the first tile is shown on the second")
	}
}
