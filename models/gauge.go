package models

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// windGauge is four equal cups on tapering arms, a hub, and a mast of stacked
// turned sections.
func windGauge(k *kit) {
	v := func(r, y float64) r2.Vec { return r2.Vec{X: r, Y: y} }
	w := world()
	const top = 0.62
	for i := range 4 {
		s, c := math.Sincos(2 * math.Pi * float64(i) / 4)
		out, along := r3.Vec{X: c, Z: s}, r3.Vec{X: -s, Z: c}
		arm := toward(r3.Vec{X: 0.025 * c, Y: top, Z: 0.025 * s}, out)
		k.lathe(fmt.Sprintf("arm_%d", i+1), "brushed_steel", arm, supported([]r2.Vec{v(0.007, 0), v(0.004, 0.2)}, 0.02, 0.003), 20, true, true)
		k.cup(fmt.Sprintf("cup_%d", i+1), toward(r3.Vec{X: 0.27 * c, Y: top, Z: 0.27 * s}, along), 0.05, 0.047)
	}
	hub := bevel([]r2.Vec{v(0.01, top-0.03), v(0.03, top-0.03), v(0.03, top+0.018), v(0.012, top+0.04), v(0.004, top+0.04)}, 0.002)
	k.lathe("hub", "painted_steel", w, supported(hub, 0.012, 0.002), 40, true, true)

	sections := []struct {
		y0, y1, r0, r1 float64
	}{{0, 0.2, 0.06, 0.05}, {0.205, 0.38, 0.042, 0.036}, {0.385, 0.585, 0.028, 0.022}}
	for i, s := range sections {
		foot := s.r0 * 1.35
		p := bevel([]r2.Vec{v(s.r0*0.6, s.y0), v(foot, s.y0), v(foot, s.y0+0.015), v(s.r0, s.y0+0.015), v(s.r1, s.y1-0.02), v(s.r1*1.2, s.y1-0.02), v(s.r1*1.2, s.y1), v(s.r1*0.5, s.y1)}, 0.0015)
		k.lathe(fmt.Sprintf("mast_%d", i+1), "painted_steel", w, supported(p, 0.02, 0.002), 48, true, true)
	}
	// A turned foot with a smooth profile.
	var vase []r2.Vec
	for i := 0; i <= 14; i++ {
		t := float64(i) / 14
		vase = append(vase, v(0.088+0.05*(1-t)*(1-t)+0.006*math.Sin(2*math.Pi*t), -0.1+0.1*t))
	}
	k.turned = TruePiece{Kind: shape.Turned}
	k.lathe("foot", "painted_steel", w, vase, 56, true, true)
	k.turned = TruePiece{}
	for i := range 6 {
		s, c := math.Sincos(2 * math.Pi * float64(i) / 6)
		k.bolt(fmt.Sprintf("bolt_%d", i+1), w.moved(0.069*s, 0.0155, 0.069*c))
	}
}

// cup is a thick hemisphere: outside, inside, and the flat rim between.
func (k *kit) cup(object string, f frame, outer, inner float64) {
	const n, rows = 32, 10
	k.begin(object, "painted_steel", f)
	ring := func(r, a float64) []r3.Vec {
		s, c := math.Sincos(a)
		out := make([]r3.Vec, n)
		for i := range n {
			si, co := math.Sincos(2 * math.Pi * float64(i) / n)
			out[i] = f.at(r*c*si, r*s, r*c*co)
		}
		return out
	}
	shell := func(r float64, inside bool) {
		k.now = k.add(TruePiece{Kind: shape.Sphere, Radius: r})
		for i := range rows {
			a, b := ring(r, math.Pi/2*float64(i)/rows), ring(r, math.Pi/2*float64(i+1)/rows)
			if i+1 == rows {
				for j := range b {
					b[j] = f.at(0, r, 0)
				}
			}
			if inside {
				a, b = b, a
			}
			k.rings([][]meshPoint{k.weldRow(b), k.weldRow(a)}, true)
		}
	}
	shell(outer, false)
	shell(inner, true)
	k.now = k.planeTruth(f.y)
	k.rings([][]meshPoint{k.weldRow(ring(outer, 0)), k.weldRow(ring(inner, 0))}, true)
}
