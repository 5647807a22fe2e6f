package models

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// lamp builds the Storm lamp of Fennhollow: metres, Y up, 0.42 m high.
func lamp(k *kit) {
	const n = 48
	w := world()
	v := func(r, y float64) r2.Vec { return r2.Vec{X: r, Y: y} }

	base := bevel([]r2.Vec{v(0.06, 0), v(0.09, 0), v(0.09, 0.014), v(0.064, 0.014)}, 0.0015)
	k.lathe("base_plate", "painted_steel", w, supported(base, 0.02, 0.002), n, true, true)

	body := bevel([]r2.Vec{v(0.05, 0.0145), v(0.064, 0.0145), v(0.064, 0.05), v(0.068, 0.05), v(0.068, 0.06), v(0.064, 0.06), v(0.064, 0.078), v(0.068, 0.078), v(0.068, 0.086), v(0.056, 0.098), v(0.05, 0.104), v(0.03, 0.104)}, 0.0012)
	k.lathe("body", "painted_steel", w, supported(body, 0.014, 0.0016), n, true, true)

	burner := bevel([]r2.Vec{v(0.02, 0.1045), v(0.027, 0.1045), v(0.027, 0.118), v(0.014, 0.124), v(0.014, 0.132), v(0.006, 0.132)}, 0.0008)
	k.lathe("burner", "brushed_steel", w, supported(burner, 0.01, 0.001), 24, true, true)

	k.lathe("glass", "glass", w, supported([]r2.Vec{v(0.047, 0.108), v(0.047, 0.248)}, 0.018, 0.003), n, false, false)

	hood := bevel([]r2.Vec{v(0.04, 0.246), v(0.066, 0.246), v(0.066, 0.252), v(0.036, 0.298), v(0.036, 0.312), v(0.028, 0.312)}, 0.0012)
	k.lathe("hood", "painted_steel", w, supported(hood, 0.013, 0.0015), n, true, true)

	var dome []r2.Vec
	for i := 0; i <= 10; i++ {
		s, c := math.Sincos(math.Pi / 2 * float64(i) / 10)
		dome = append(dome, v(0.03*c, 0.3125+0.03*s))
	}
	dome[10].X = 0
	k.turned = TruePiece{Kind: shape.Sphere}
	k.lathe("dome", "brushed_steel", w, dome, 32, true, false)
	k.turned = TruePiece{}
	finial := bevel([]r2.Vec{v(0.006, 0.3408), v(0.006, 0.351), v(0.003, 0.351)}, 0.0008)
	k.lathe("finial", "brushed_steel", w, finial, 16, false, true)

	for i := range 6 {
		s, c := math.Sincos(2 * math.Pi * (float64(i) + 0.5) / 6)
		var path []r3.Vec
		for j := 0; j <= 20; j++ {
			t := float64(j) / 20
			bulge := 0.054 + 0.012*math.Sin(math.Pi*t)
			path = append(path, r3.Vec{X: bulge * s, Y: 0.1 + 0.15*t, Z: bulge * c})
		}
		k.sweep(fmt.Sprintf("cage_rod_%d", i+1), "brushed_steel", path, circle(0.0024, 10), r3.Vec{X: -s, Z: -c}, false)
	}

	var arc []r3.Vec
	for j := 0; j <= 40; j++ {
		s, c := math.Sincos(math.Pi * float64(j) / 40)
		arc = append(arc, r3.Vec{X: -0.088 * c, Y: 0.262 + 0.15*s})
	}
	strap := []r2.Vec{v(-0.008, -0.002), v(0.008, -0.002), v(0.008, 0.002), v(-0.008, 0.002)}
	k.sweep("handle", "ash_wood", arc, strap, r3.Vec{Z: 1}, false)

	screw := bevel([]r2.Vec{v(0.0028, 0.0138), v(0.005, 0.0138), v(0.005, 0.0175), v(0.0036, 0.0175)}, 0.0006)
	for i := range 8 {
		s, c := math.Sincos(2 * math.Pi * float64(i) / 8)
		k.lathe(fmt.Sprintf("screw_%d", i+1), "brushed_steel", w.moved(0.078*s, 0, 0.078*c), screw, 12, true, true)
	}

	side := toward(r3.Vec{X: 0.0665, Y: 0.032}, r3.Vec{X: 1})
	k.lathe("knob_shaft", "brushed_steel", side, supported([]r2.Vec{v(0.003, -0.004), v(0.003, 0.012)}, 0.006, 0.001), 16, true, true)
	knob := bevel([]r2.Vec{v(0.006, 0.011), v(0.011, 0.011), v(0.011, 0.018), v(0.007, 0.018)}, 0.001)
	k.lathe("wick_knob", "rubber", side, supported(knob, 0.004, 0.0012), 24, true, true)

	// The enamel sign hangs in front of the body.
	plate := []r2.Vec{v(-0.02, -0.008), v(0.02, -0.008), v(0.02, 0.008), v(-0.02, 0.008)}
	sign := frame{o: r3.Vec{Y: 0.068, Z: 0.0695}, x: r3.Vec{X: 1}, y: r3.Vec{Z: 1}, z: r3.Vec{Y: -1}}
	k.extrude("sign", "enamel", sign, plate, 0.002, 0.0005, 1)
}
