package models

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// winch builds the Line winch, winchB its revision.
func winch(k *kit)  { winchOf(k, 0.16, false) }
func winchB(k *kit) { winchOf(k, 0.172, true) }

// winchOf builds a winch: metres, Y up, drum along X, so long to each side of its middle; a revised
// one has a rib between its cheeks and two bolts fewer.
func winchOf(k *kit, drumTo float64, revised bool) {
	w := world()
	v := func(x, y float64) r2.Vec { return r2.Vec{X: x, Y: y} }

	k.boredPlate("base", "painted_steel", w.moved(-0.30, 0, -0.20), 12, 8, 0.05, 0.016, 0.011,
		[][2]int{{0, 0}, {11, 0}, {0, 7}, {11, 7}, {5, 0}, {6, 7}, {0, 3}, {11, 4}})

	drum := bevel([]r2.Vec{v(0.02, -drumTo), v(0.105, -drumTo), v(0.105, 0.012-drumTo), v(0.06, 0.012-drumTo), v(0.06, drumTo-0.012), v(0.105, drumTo-0.012), v(0.105, drumTo), v(0.02, drumTo)}, 0.002)
	axle := toward(r3.Vec{Y: 0.15}, r3.Vec{X: 1})
	k.lathe("drum", "brushed_steel", axle, supported(drum, 0.02, 0.003), 64, true, true)
	shaft := bevel([]r2.Vec{v(0.008, -0.225), v(0.014, -0.225), v(0.014, 0.225), v(0.008, 0.225)}, 0.0015)
	k.lathe("shaft", "brushed_steel", axle, supported(shaft, 0.03, 0.003), 24, true, true)

	outline := roundedTriangle(0.12, 0.06, 0.20)
	for i, name := range []string{"cheek_right", "cheek_left"} {
		f := frame{o: r3.Vec{X: 0.18, Y: 0.0165}, x: r3.Vec{Z: 1}, y: r3.Vec{X: 1}, z: r3.Vec{Y: 1}}
		if i == 1 {
			f = f.mirroredX()
		}
		k.extrude(name, "painted_steel", f, outline, 0.016, 0.002, 2)
	}

	for i, g := range []struct {
		teeth  int
		r, x   float64
		y, z   float64
		height float64
	}{{32, 0.09, 0.205, 0.15, 0, 0.018}, {14, 0.036, 0.205, 0.15, 0.128, 0.018}} {
		f := frame{o: r3.Vec{X: g.x, Y: g.y, Z: g.z}, x: r3.Vec{Z: 1}, y: r3.Vec{X: 1}, z: r3.Vec{Y: 1}}
		k.extrude(fmt.Sprintf("gear_%d", i+1), "brushed_steel", f, gear(g.teeth, g.r), g.height, 0, 4)
	}
	pinion := toward(r3.Vec{Y: 0.15, Z: 0.128}, r3.Vec{X: 1})
	k.lathe("pinion_shaft", "brushed_steel", pinion, supported(bevel([]r2.Vec{v(0.006, -0.205), v(0.01, -0.205), v(0.01, 0.24), v(0.006, 0.24)}, 0.001), 0.03, 0.002), 20, true, true)

	// Crank: out along X, down, and out again, with round bends.
	path := bentPath([]r3.Vec{{X: 0.235, Y: 0.15, Z: 0.128}, {X: 0.29, Y: 0.15, Z: 0.128}, {X: 0.29, Y: 0.15, Z: 0.27}, {X: 0.40, Y: 0.15, Z: 0.27}}, 0.022, 8)
	k.sweep("crank", "brushed_steel", path, circle(0.008, 12), r3.Vec{Y: 1}, false)
	grip := bevel([]r2.Vec{v(0.01, 0.315), v(0.016, 0.315), v(0.018, 0.345), v(0.014, 0.385), v(0.014, 0.395), v(0.009, 0.395)}, 0.002)
	k.lathe("grip", "ash_wood", toward(r3.Vec{Y: 0.15, Z: 0.27}, r3.Vec{X: 1}), supported(grip, 0.01, 0.002), 24, true, true)

	k.guard()

	i := 0
	bolt := func(x, y, z float64) {
		i++
		k.bolt(fmt.Sprintf("bolt_%d", i), w.moved(x, y, z))
	}
	for _, x := range []float64{-0.26, -0.13, 0.13, 0.26} {
		for _, z := range []float64{-0.16, -0.08, 0, 0.08, 0.16} {
			if math.Abs(x) > 0.2 || math.Abs(z) > 0.1 {
				bolt(x, 0.0165, z)
			}
		}
	}
	for _, x := range []float64{-0.235, 0.235} {
		for _, z := range []float64{-0.12, -0.04, 0.04, 0.12} {
			bolt(x, 0.0165, z)
		}
	}
	if revised {
		k.extrude("rib", "painted_steel", w.moved(0, 0.0165, -0.03), []r2.Vec{v(-0.17, -0.008), v(0.17, -0.008), v(0.17, 0.008), v(-0.17, 0.008)}, 0.02, 0.001, 2)
		return
	}
	bolt(-0.06, 0.0165, -0.16)
	bolt(0.06, 0.0165, 0.16)
}

// boredPlate is a plate of nx × nz square cells with bores through some of
// them, bevelled along its outer rim: quads throughout.
func (k *kit) boredPlate(object, material string, f frame, nx, nz int, cell, h, bore float64, bored [][2]int) {
	k.begin(object, material, f)
	const m = 4 // segments along a cell side
	const b = 0.002
	holes := map[[2]int]bool{}
	for _, c := range bored {
		holes[c] = true
	}
	point := func(x, y, z float64) mesh.PointID { return k.weld(f.at(x, y, z)) }
	// The outermost lines of the top and bottom faces lie inside by the bevel.
	line := func(i, n int) float64 {
		t := float64(i) * cell / m
		return max(b, min(float64(n)*cell-b, t))
	}
	for _, y := range []float64{0, h} {
		plate := k.planeTruth(f.y)
		k.now = plate
		face := func(p ...mesh.PointID) {
			if y == 0 {
				p[0], p[1], p[2], p[3] = p[3], p[2], p[1], p[0]
			}
			k.face(p...)
		}
		for cx := range nx {
			for cz := range nz {
				if !holes[[2]int{cx, cz}] {
					for i := range m {
						for j := range m {
							x0, x1 := line(cx*m+i, nx), line(cx*m+i+1, nx)
							z0, z1 := line(cz*m+j, nz), line(cz*m+j+1, nz)
							face(point(x0, y, z0), point(x0, y, z1), point(x1, y, z1), point(x1, y, z0))
						}
					}
					continue
				}
				rim := cellRim(cx, cz, nx, nz, m, line)
				ox, oz := (float64(cx)+0.5)*cell, (float64(cz)+0.5)*cell
				ring := func(share float64) []mesh.PointID {
					out := make([]mesh.PointID, len(rim))
					for i, q := range rim {
						s := r2.Add(r2.Scale(1-share, q), r2.Scale(share, onBore(i, len(rim), ox, oz, bore)))
						out[i] = point(s.X, y, s.Y)
					}
					return out
				}
				rows := [][]mesh.PointID{ring(0), ring(0.6), ring(1)}
				for r := range 2 {
					for i := range rim {
						j := (i + 1) % len(rim)
						face(rows[r][i], rows[r+1][i], rows[r+1][j], rows[r][j])
					}
				}
				if y == h {
					k.now = k.roundTruth(shape.Cylinder, f.y, f.at(ox, 0, oz), bore)
					k.boreWall(rows[2], point, ox, oz, bore)
					k.now = plate
				}
			}
		}
	}
	// Rim: bevel, wall, bevel.
	var low, lowOut, highOut, high []mesh.PointID
	add := func(x, z, ox, oz float64) {
		low = append(low, point(x, 0, z))
		lowOut = append(lowOut, point(ox, b, oz))
		highOut = append(highOut, point(ox, h-b, oz))
		high = append(high, point(x, h, z))
	}
	X, Z := float64(nx)*cell, float64(nz)*cell
	out := func(i int) float64 { return float64(i) * cell / m }
	for i := 0; i < nx*m; i++ {
		add(line(i, nx), b, out(i), 0)
	}
	for j := 0; j < nz*m; j++ {
		add(X-b, line(j, nz), X, out(j))
	}
	for i := nx * m; i > 0; i-- {
		add(line(i, nx), Z-b, out(i), Z)
	}
	for j := nz * m; j > 0; j-- {
		add(b, line(j, nz), 0, out(j))
	}
	k.now = Anything
	k.rings([][]mesh.PointID{low, lowOut}, true)
	sides := [4]int32{k.planeTruth(f.z), k.planeTruth(f.x), k.planeTruth(f.z), k.planeTruth(f.x)}
	for i := range low {
		s := 0
		for lim := nx * m; i >= lim; lim += []int{nx, nz, nx, nz}[s%4] * m {
			s++
		}
		k.now = sides[s]
		j := (i + 1) % len(low)
		k.face(lowOut[i], highOut[i], highOut[j], lowOut[j])
	}
	k.now = Anything
	k.rings([][]mesh.PointID{highOut, high}, true)
}

// onBore is the point of a bore's rim that belongs to the i-th of n points
// around its cell, counted from the cell's low corner.
func onBore(i, n int, ox, oz, bore float64) r2.Vec {
	s, c := math.Sincos(math.Pi + math.Pi/4 + 2*math.Pi*float64(i)/float64(n))
	return r2.Vec{X: ox + bore*c, Y: oz + bore*s}
}

// boreWall joins the upper rim of a bore to its lower one.
func (k *kit) boreWall(top []mesh.PointID, point func(x, y, z float64) mesh.PointID, ox, oz, bore float64) {
	n := len(top)
	bottom := make([]mesh.PointID, n)
	for i := range top {
		q := onBore(i, n, ox, oz, bore)
		bottom[i] = point(q.X, 0, q.Y)
	}
	for i := range top {
		j := (i + 1) % n
		k.face(top[i], bottom[i], bottom[j], top[j])
	}
}

// cellRim lists the points around a cell, from its low corner, X first.
func cellRim(cx, cz, nx, nz, m int, line func(i, n int) float64) []r2.Vec {
	var out []r2.Vec
	for i := range m {
		out = append(out, r2.Vec{X: line(cx*m+i, nx), Y: line(cz*m, nz)})
	}
	for j := range m {
		out = append(out, r2.Vec{X: line(cx*m+m, nx), Y: line(cz*m+j, nz)})
	}
	for i := m; i > 0; i-- {
		out = append(out, r2.Vec{X: line(cx*m+i, nx), Y: line(cz*m+m, nz)})
	}
	for j := m; j > 0; j-- {
		out = append(out, r2.Vec{X: line(cx*m, nx), Y: line(cz*m+j, nz)})
	}
	return out
}

// roundedTriangle is the outline of a cheek: a wide foot and a round head,
// counter-clockwise, foot on y = 0.
func roundedTriangle(foot, head, height float64) []r2.Vec {
	var out []r2.Vec
	for i := 0; i <= 6; i++ {
		out = append(out, r2.Vec{X: -foot + 2*foot*float64(i)/6})
	}
	out = append(out, r2.Vec{X: foot, Y: 0.03})
	centre := r2.Vec{Y: height - head}
	for i := 0; i <= 16; i++ {
		s, c := math.Sincos(math.Pi * (float64(i)/16*0.86 + 0.07))
		out = append(out, r2.Vec{X: head * c, Y: centre.Y + head*s})
	}
	return append(out, r2.Vec{X: -foot, Y: 0.03})
}

// gear is a toothed outline with trapezoid teeth, counter-clockwise.
func gear(teeth int, r float64) []r2.Vec {
	var out []r2.Vec
	pitch := 2 * math.Pi / float64(teeth)
	depth := 0.55 * r * pitch
	for t := range teeth {
		for _, q := range [4][2]float64{{0, r - depth}, {0.38, r - depth}, {0.55, r + depth/2}, {0.83, r + depth/2}} {
			s, c := math.Sincos(pitch * (float64(t) + q[0]))
			out = append(out, r2.Vec{X: q[1] * c, Y: q[1] * s})
		}
	}
	return out
}

// bentPath rounds the corners of a path with arcs of a radius in n steps.
func bentPath(p []r3.Vec, radius float64, n int) []r3.Vec {
	out := []r3.Vec{p[0]}
	for i := 1; i+1 < len(p); i++ {
		a, b := r3.Unit(r3.Sub(p[i-1], p[i])), r3.Unit(r3.Sub(p[i+1], p[i]))
		half := math.Acos(r3.Dot(a, b)) / 2
		centre := r3.Add(p[i], r3.Scale(radius/math.Sin(half), r3.Unit(r3.Add(a, b))))
		start := r3.Sub(r3.Add(p[i], r3.Scale(radius/math.Tan(half), a)), centre)
		end := r3.Sub(r3.Add(p[i], r3.Scale(radius/math.Tan(half), b)), centre)
		axis := r3.Unit(r3.Cross(start, end))
		side := r3.Cross(axis, start)
		turn := math.Pi - 2*half
		prev := out[len(out)-1]
		first := r3.Add(centre, start)
		for s := 1; s < 4; s++ { // rows along the straight
			out = append(out, r3.Add(prev, r3.Scale(float64(s)/4, r3.Sub(first, prev))))
		}
		for s := 0; s <= n; s++ {
			si, co := math.Sincos(turn * float64(s) / float64(n))
			out = append(out, r3.Add(centre, r3.Add(r3.Scale(co, start), r3.Scale(si, side))))
		}
	}
	prev, last := out[len(out)-1], p[len(p)-1]
	for s := 1; s <= 6; s++ {
		out = append(out, r3.Add(prev, r3.Scale(float64(s)/6, r3.Sub(last, prev))))
	}
	return out
}

// guard is an open sheet bent over the drum: a flat, a round, a flat.
func (k *kit) guard() {
	k.begin("guard", "painted_steel", world())
	var profile []r2.Vec // z, y
	for i := range 4 {
		profile = append(profile, r2.Vec{X: -0.14, Y: 0.03 + 0.03*float64(i)})
	}
	for i := 0; i <= 20; i++ {
		s, c := math.Sincos(math.Pi * (1 - 0.72*float64(i)/20))
		profile = append(profile, r2.Vec{X: 0.14 * c, Y: 0.15 + 0.14*s})
	}
	end := profile[len(profile)-1]
	s, c := math.Sincos(math.Pi*0.28 - math.Pi/2)
	for i := 1; i <= 2; i++ {
		profile = append(profile, r2.Vec{X: end.X + 0.02*float64(i)*c, Y: end.Y + 0.02*float64(i)*s})
	}
	const cols = 16
	rows := make([][]mesh.PointID, len(profile))
	for r, q := range profile {
		for i := 0; i <= cols; i++ {
			x := -0.15 + 0.30*float64(i)/cols
			rows[r] = append(rows[r], k.b.Point(r3.Vec{X: x, Y: q.Y, Z: q.X}))
		}
	}
	k.now = k.add(TruePiece{Kind: shape.Extruded, Axis: r3.Vec{X: 1}})
	slices.Reverse(rows)
	k.rings(rows, false)
}

// bolt is a hexagon head with a chamfered crown on a washer.
func (k *kit) bolt(object string, f frame) {
	v := func(r, y float64) r2.Vec { return r2.Vec{X: r, Y: y} }
	k.lathe(object+"_washer", "brushed_steel", f, bevel([]r2.Vec{v(0.006, 0), v(0.0115, 0), v(0.0115, 0.002), v(0.006, 0.002)}, 0.0004), 24, true, true)
	hex := make([]r2.Vec, 6)
	for i, q := range circle(0.0088, 6) {
		hex[i] = q
	}
	k.extrude(object, "brushed_steel", f.moved(0, 0.0021, 0), hex, 0.0075, 0.0008, 1)
}
