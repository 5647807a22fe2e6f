package models

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// surveyCase is a wooden case of boards with bent corner irons, latches, a strap
// and an enamel label.
func surveyCase(k *kit) {
	w := world()
	const x, z, h, lid, t = 0.24, 0.16, 0.15, 0.05, 0.012 // half width, half depth, heights, board
	board := func(name string, o r3.Vec, sx, sy, sz float64, rows int) {
		f := w
		f.o = o
		k.board(name, f, sx, sy, sz, rows)
	}
	for level, part := range []struct {
		name string
		y, h float64
	}{{"body", 0, h}, {"lid", h + 0.001, lid}} {
		n := 2 - level
		for i := range n {
			bh := part.h / float64(n)
			y := part.y + float64(i)*bh
			id := fmt.Sprintf("%s_board_%d", part.name, i+1)
			board(id+"_front", r3.Vec{X: -x, Y: y, Z: z - t}, 2*x, bh, t, 16)
			board(id+"_back", r3.Vec{X: -x, Y: y, Z: -z}, 2*x, bh, t, 16)
			board(id+"_left", r3.Vec{X: -x, Y: y, Z: -z + t}, t, bh, 2*z-2*t, 12)
			board(id+"_right", r3.Vec{X: x - t, Y: y, Z: -z + t}, t, bh, 2*z-2*t, 12)
		}
		for i := range 4 {
			d := (2*z - 2*t) / 4
			y := part.y
			if level == 1 {
				y += part.h - t
			}
			board(fmt.Sprintf("%s_flat_%d", part.name, i+1), r3.Vec{X: -x + t, Y: y, Z: -z + t + float64(i)*d}, 2*x-2*t, t, d, 16)
		}
	}
	for i := range 4 {
		sx, sz := float64(1-2*(i&1)), float64(1-(i&2))
		k.cornerIron(fmt.Sprintf("corner_iron_%d", i+1), r3.Vec{X: sx * (x + 0.0008), Z: sz * (z + 0.0008)}, sx, sz, 0.01, h-0.02)
	}
	for i, px := range []float64{-0.13, 0.13} {
		name := fmt.Sprintf("latch_%d", i+1)
		f := frame{o: r3.Vec{X: px, Y: h, Z: z + 0.0005}, x: r3.Vec{X: 1}, y: r3.Vec{Z: 1}, z: r3.Vec{Y: -1}}
		k.extrude(name, "brushed_steel", f, rounded(0.018, 0.03, 0.006, 5), 0.004, 0.0008, 1)
		k.lathe(name+"_pin", "brushed_steel", frame{o: r3.Vec{X: px - 0.02, Y: h, Z: z + 0.008}, x: r3.Vec{Z: 1}, y: r3.Vec{X: 1}, z: r3.Vec{Y: 1}},
			supported([]r2.Vec{{X: 0.003}, {X: 0.003, Y: 0.04}}, 0.01, 0.001), 16, true, true)
		k.lathe(name+"_knob", "brushed_steel", f.moved(0, 0.004, 0.016), bevel([]r2.Vec{{X: 0.002}, {X: 0.006}, {X: 0.006, Y: 0.006}, {X: 0.002, Y: 0.006}}, 0.0008), 20, true, true)
	}
	// The strap runs from side to side over the lid, with round corners.
	y := h + lid + 0.004
	path := bentPath([]r3.Vec{{X: -x - 0.004, Y: 0.06}, {X: -x - 0.004, Y: y}, {X: x + 0.004, Y: y}, {X: x + 0.004, Y: 0.06}}, 0.02, 8)
	webbing := []r2.Vec{{X: -0.0015, Y: -0.02}, {X: 0.0015, Y: -0.02}, {X: 0.0015, Y: 0.02}, {X: -0.0015, Y: 0.02}}
	k.sweep("strap", "webbing", path, webbing, r3.Vec{Z: 1}, false)

	label := frame{o: r3.Vec{Y: 0.06, Z: z + 0.0004}, x: r3.Vec{X: 1}, y: r3.Vec{Z: 1}, z: r3.Vec{Y: -1}}
	k.extrude("label", "enamel", label, rounded(0.05, 0.022, 0.008, 6), 0.0025, 0.0006, 1)
	for i := range 3 {
		k.extrude(fmt.Sprintf("rib_%d", i+1), "ash_wood", frame{o: r3.Vec{X: 0.15 * float64(i-1), Y: -0.008, Z: -0.13}, x: r3.Vec{X: 1}, y: r3.Vec{Z: 1}, z: r3.Vec{Y: -1}},
			[]r2.Vec{{X: -0.012, Y: -0.008}, {X: 0.012, Y: -0.008}, {X: 0.016, Y: 0.008}, {X: -0.016, Y: 0.008}}, 0.26, 0.0015, 8)
	}
}

// board is a box with bevelled edges all around, its long way cut into rows.
func (k *kit) board(object string, f frame, sx, sy, sz float64, rows int) {
	// Raised along its longest side, outline across.
	const b = 0.0015
	switch {
	case sx >= sz && sx >= sy:
		g := frame{o: f.at(0, sy/2, sz/2), x: f.z, y: f.x, z: f.y}
		k.extrude(object, "ash_wood", g, chamfered(sz/2, sy/2, b), sx, b, rows)
	default:
		g := frame{o: f.at(sx/2, sy/2, 0), x: f.y, y: f.z, z: f.x}
		k.extrude(object, "ash_wood", g, chamfered(sy/2, sx/2, b), sz, b, rows)
	}
}

// chamfered is a rectangle of half sizes a, b with its corners cut by c.
func chamfered(a, b, c float64) []r2.Vec {
	return []r2.Vec{{X: -a + c, Y: -b}, {X: a - c, Y: -b}, {X: a, Y: -b + c}, {X: a, Y: b - c}, {X: a - c, Y: b}, {X: -a + c, Y: b}, {X: -a, Y: b - c}, {X: -a, Y: -b + c}}
}

// rounded is a rectangle of half sizes a, b with round corners of n steps.
func rounded(a, b, r float64, n int) []r2.Vec {
	var out []r2.Vec
	for q, c := range []r2.Vec{{X: a - r, Y: -b + r}, {X: a - r, Y: b - r}, {X: -a + r, Y: b - r}, {X: -a + r, Y: -b + r}} {
		for i := 0; i <= n; i++ {
			s, co := math.Sincos(math.Pi/2*(float64(q)-1) + math.Pi/2*float64(i)/float64(n))
			out = append(out, r2.Vec{X: c.X + r*co, Y: c.Y + r*s})
		}
	}
	return out
}

// cornerIron is a sheet bent round an upright edge: two wings and a round bend,
// open all around.
func (k *kit) cornerIron(object string, o r3.Vec, sx, sz, y0, y1 float64) {
	k.begin(object, "brushed_steel", world())
	k.now = k.add(TruePiece{Kind: shape.Extruded, Axis: r3.Vec{Y: 1}})
	const wing, r, n, rows = 0.035, 0.005, 5, 8
	var profile []r2.Vec
	for i := range 4 {
		profile = append(profile, r2.Vec{X: -wing + (wing-r)*float64(i)/4, Y: 0})
	}
	for i := 0; i <= n; i++ {
		s, c := math.Sincos(math.Pi / 2 * float64(i) / n)
		profile = append(profile, r2.Vec{X: -r + r*s, Y: -r + r*c})
	}
	for i := 1; i <= 4; i++ {
		profile = append(profile, r2.Vec{X: 0, Y: -r - (wing-r)*float64(i)/4})
	}
	k.flip = sx*sz > 0
	var grid [][]meshPoint
	for i := 0; i <= rows; i++ {
		y := y0 + (y1-y0)*float64(i)/rows
		var row []meshPoint
		for _, q := range profile {
			row = append(row, k.b.Point(r3.Vec{X: o.X + sx*q.X, Y: y, Z: o.Z + sz*q.Y}))
		}
		grid = append(grid, row)
	}
	k.rings(grid, false)
}
