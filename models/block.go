package models

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

type meshPoint = mesh.PointID

func (k *kit) weldRow(p []r3.Vec) []meshPoint {
	out := make([]meshPoint, len(p))
	for i, q := range p {
		out[i] = k.weld(q)
	}
	return out
}

const portSides = 24 // points round a port; a multiple of four cells sides

// valveBlock is one welded piece, a block with two bores that cross, an elbow on
// top and flanges, with a hand wheel and nuts beside it.
func valveBlock(k *kit) {
	w := world()
	const half, bore = 0.09, 0.03
	k.begin("block", "painted_steel", w)
	faces := []frame{
		{x: r3.Vec{Z: 1}, y: r3.Vec{X: 1}, z: r3.Vec{Y: 1}}, {x: r3.Vec{Y: 1}, y: r3.Vec{X: -1}, z: r3.Vec{Z: 1}},
		{x: r3.Vec{Y: 1}, y: r3.Vec{Z: 1}, z: r3.Vec{X: 1}}, {x: r3.Vec{X: 1}, y: r3.Vec{Z: -1}, z: r3.Vec{Y: 1}},
		{x: r3.Vec{X: 1}, y: r3.Vec{Y: 1}, z: r3.Vec{Z: -1}}, {x: r3.Vec{X: 1}, y: r3.Vec{Y: -1}, z: r3.Vec{Z: 1}},
	}
	for i, f := range faces {
		f.o = r3.Scale(half, f.y)
		radius := bore * 1.25
		if i == 5 {
			radius = 0
		}
		k.portFace(f, half, radius)
	}
	for i, f := range faces[:4] {
		k.flangedPort(r3.Scale(half, f.y), f.y, bore*1.25, bore, i < 2)
	}
	k.crossBores(half+0.06, bore)

	// The elbow on top, welded to the block: pipe, quarter bend, pipe, flange.
	up := bore * 1.25
	path := bentPath([]r3.Vec{{Y: half}, {Y: half + 0.15}, {X: 0.2, Y: half + 0.15}}, 0.07, 8)
	rows := k.pipeRows(path, up)
	truths := k.sweptTruth(path, circle(up, portSides))
	for r := range len(rows) - 1 {
		k.now = truths[r]
		k.rings([][]meshPoint{rows[r+1], rows[r]}, true)
	}
	k.flange(path[len(path)-1], r3.Vec{X: 1}, rows[len(rows)-1], up, bore)

	for i, f := range faces[:4] {
		for b := range 6 {
			s, c := math.Sincos(2 * math.Pi * (float64(b) + 0.5) / 6)
			u, v := mesh.Basis(f.y)
			at := r3.Add(r3.Scale(half+0.06+0.0005, f.y), r3.Add(r3.Scale(0.053*c, u), r3.Scale(0.053*s, v)))
			k.nut(fmt.Sprintf("nut_%d_%d", i+1, b+1), toward(at, f.y))
		}
	}
	k.handWheel(toward(r3.Vec{X: -0.02, Y: 0.02, Z: half + 0.13}, r3.Vec{Z: 1}))
}

// portFace is one side of the block, quads around a round port of the given
// radius, or a plain grid.
func (k *kit) portFace(f frame, half, radius float64) {
	k.now = k.planeTruth(f.y)
	const cells, middle = 10, 6 // the port takes the middle cells
	at := func(i float64) float64 { return half * (2*i/cells - 1) }
	lo := (cells - middle) / 2
	for i := range cells {
		for j := range cells {
			if radius > 0 && i >= lo && i < lo+middle && j >= lo && j < lo+middle {
				continue
			}
			p := func(a, b int) meshPoint { return k.weld(f.at(at(float64(a)), 0, at(float64(b)))) }
			k.face(p(i, j), p(i, j+1), p(i+1, j+1), p(i+1, j))
		}
	}
	if radius == 0 {
		return
	}
	rim := make([]r2.Vec, 0, portSides)
	for s := range 4 {
		for i := range middle {
			a, b := at(float64(lo+i)), at(float64(lo))
			q := r2.Vec{X: a, Y: b}
			for range s {
				q = r2.Vec{X: -q.Y, Y: q.X}
			}
			rim = append(rim, q)
		}
	}
	ring := portRing(r3.Vec{}, f.y, radius)
	u, v := f.x, f.z
	row := make([][]meshPoint, 3)
	for i, q := range rim {
		// The nearest point of the port, so that spokes do not cross.
		angle := math.Atan2(q.Y, q.X)
		dir := r3.Add(r3.Scale(math.Cos(angle), u), r3.Scale(math.Sin(angle), v))
		best := 0
		for j := range ring {
			if r3.Dot(ring[j], dir) > r3.Dot(ring[best], dir) {
				best = j
			}
		}
		edge := f.at(q.X, 0, q.Y)
		port := r3.Add(f.o, ring[best])
		row[0] = append(row[0], k.weld(edge))
		row[1] = append(row[1], k.weld(r3.Add(r3.Scale(0.4, edge), r3.Scale(0.6, port))))
		row[2] = append(row[2], k.weld(port))
		_ = i
	}
	k.rings(row, true)
}

// portRing returns the points of a circle about an axis; the same axis line
// always gives the same points.
func portRing(o, axis r3.Vec, radius float64) []r3.Vec {
	if axis.X+axis.Y+axis.Z < 0 {
		axis = r3.Scale(-1, axis)
	}
	u, v := mesh.Basis(axis)
	out := make([]r3.Vec, portSides)
	for i := range out {
		s, c := math.Sincos(2 * math.Pi * (float64(i) + 0.5) / portSides)
		out[i] = r3.Add(o, r3.Add(r3.Scale(radius*c, u), r3.Scale(radius*s, v)))
	}
	return out
}

// skin joins two rings so that faces look away from the axis, or towards it.
func (k *kit) skin(a, b []r3.Vec, axis r3.Vec, inward bool) {
	turn := r3.Dot(r3.Cross(a[0], a[1]), axis) // rings about the axis through the origin of their centre
	_ = turn
	ra, rb := k.weldRow(a), k.weldRow(b)
	n := len(a)
	var c r3.Vec
	for _, p := range a {
		c = r3.Add(c, r3.Scale(1/float64(n), p))
	}
	for i := range n {
		j := (i + 1) % n
		q := []meshPoint{ra[i], ra[j], rb[j], rb[i]}
		normal := r3.Cross(r3.Sub(a[j], a[i]), r3.Sub(b[i], a[i]))
		out := r3.Sub(r3.Scale(0.5, r3.Add(a[i], a[j])), c)
		if (r3.Dot(normal, out) < 0) != inward {
			q[0], q[1], q[2], q[3] = q[3], q[2], q[1], q[0]
		}
		k.face(q...)
	}
}

// annulus joins two rings in one plane so that the faces look along n.
func (k *kit) annulus(a, b []r3.Vec, n r3.Vec) {
	ra, rb := k.weldRow(a), k.weldRow(b)
	for i := range a {
		j := (i + 1) % len(a)
		q := []meshPoint{ra[i], ra[j], rb[j], rb[i]}
		if r3.Dot(r3.Cross(r3.Sub(a[j], a[i]), r3.Sub(b[i], a[i])), n) < 0 {
			q[0], q[1], q[2], q[3] = q[3], q[2], q[1], q[0]
		}
		k.face(q...)
	}
}

// flangedPort is a stub pipe out of the block with a flange at its end.
func (k *kit) flangedPort(o, axis r3.Vec, pipe, bore float64, rows bool) {
	at := func(t, r float64) []r3.Vec { return portRing(r3.Add(o, r3.Scale(t, axis)), axis, r) }
	k.now = k.roundTruth(shape.Cylinder, axis, o, pipe)
	steps := []float64{0, 0.012, 0.03, 0.045}
	for i := 1; i < len(steps); i++ {
		k.skin(at(steps[i-1], pipe), at(steps[i], pipe), axis, false)
	}
	k.flangeAt(at, axis, pipe, bore, 0.045)
}

func (k *kit) flangeAt(at func(t, r float64) []r3.Vec, axis r3.Vec, pipe, bore, t float64) {
	const reach, thick = 0.07, 0.015
	k.now = k.planeTruth(axis)
	k.annulus(at(t, pipe), at(t, 0.055), r3.Scale(-1, axis))
	k.annulus(at(t, 0.055), at(t, reach), r3.Scale(-1, axis))
	k.now = k.roundTruth(shape.Cylinder, axis, r3.Vec{}, reach)
	k.skin(at(t, reach), at(t+thick, reach), axis, false)
	k.now = k.planeTruth(axis)
	k.annulus(at(t+thick, reach), at(t+thick, 0.055), axis)
	k.annulus(at(t+thick, 0.055), at(t+thick, bore), axis)
}

// flange closes a pipe that ends in a given row.
func (k *kit) flange(o, axis r3.Vec, row []meshPoint, pipe, bore float64) {
	at := func(t, r float64) []r3.Vec {
		if t == 0 && r == pipe { // the points of the pipe itself
			out := make([]r3.Vec, len(row))
			for i, p := range row {
				out[i] = k.place(p)
			}
			return out
		}
		base := portRing(r3.Add(o, r3.Scale(t, axis)), axis, r)
		// Turned so that it starts where the pipe's row does.
		first := k.place(row[0])
		best := 0
		for i := range base {
			if r3.Norm(r3.Sub(base[i], first)) < r3.Norm(r3.Sub(base[best], first)) {
				best = i
			}
		}
		second := k.place(row[1])
		step := 1
		if r3.Norm(r3.Sub(base[(best+1)%portSides], second)) > r3.Norm(r3.Sub(base[(best+portSides-1)%portSides], second)) {
			step = portSides - 1
		}
		out := make([]r3.Vec, portSides)
		for i := range out {
			out[i] = base[(best+i*step)%portSides]
		}
		return out
	}
	k.flangeAt(at, axis, pipe, bore, 0)
	k.now = k.roundTruth(shape.Cylinder, axis, o, bore)
	k.skin(at(0.015, bore), at(-0.06, bore), axis, true)
	k.now = k.planeTruth(axis)
	k.cap(k.weldRow(at(-0.06, bore)), r3.Dot(r3.Cross(r3.Sub(at(0, bore)[1], at(0, bore)[0]), r3.Sub(at(0, bore)[2], at(0, bore)[1])), axis) < 0)
}

func (k *kit) place(id meshPoint) r3.Vec {
	return k.b.Place(id)
}

// pipeRows returns the rings of a pipe along a path that starts at a port of the
// block.
func (k *kit) pipeRows(path []r3.Vec, radius float64) [][]meshPoint {
	rows := make([][]meshPoint, len(path))
	ring := portRing(r3.Vec{}, r3.Unit(r3.Sub(path[1], path[0])), radius)
	dir := r3.Unit(r3.Sub(path[1], path[0]))
	for i, p := range path {
		in, out := dir, dir
		if i > 0 {
			in = r3.Unit(r3.Sub(p, path[i-1]))
		}
		out = in
		if i+1 < len(path) {
			out = r3.Unit(r3.Sub(path[i+1], p))
		}
		t := r3.Unit(r3.Add(in, out))
		switch { // where a bend begins or ends, the ring belongs to the straight
		case i > 1 && i+1 < len(path) && r3.Dot(in, r3.Unit(r3.Sub(path[i-1], path[i-2]))) > 1-1e-9:
			t = in
		case i > 0 && i+2 < len(path) && r3.Dot(out, r3.Unit(r3.Sub(path[i+2], path[i+1]))) > 1-1e-9:
			t = out
		}
		turned := make([]r3.Vec, len(ring))
		for j, q := range ring {
			turned[j] = carry(q, dir, t)
		}
		ring, dir = turned, t
		at := make([]r3.Vec, len(ring))
		for j, q := range ring {
			at[j] = r3.Add(p, q)
		}
		rows[i] = k.weldRow(at)
	}
	return rows
}

// carry turns v by the turn that takes direction a to b.
func carry(v, a, b r3.Vec) r3.Vec {
	axis := r3.Cross(a, b)
	s := r3.Norm(axis)
	if s < 1e-12 {
		return v
	}
	return r3.Rotate(v, math.Atan2(s, r3.Dot(a, b)), axis)
}

// crossBores is two equal bores that cross: four arms that meet along mitred
// curves.
func (k *kit) crossBores(reach, r float64) {
	arms := []r3.Vec{{X: 1}, {X: -1}, {Z: 1}, {Z: -1}}
	truth := map[r3.Vec]int32{}
	for _, a := range arms {
		line := r3.Vec{X: math.Abs(a.X), Z: math.Abs(a.Z)}
		id := k.roundTruth(shape.Cylinder, line, r3.Vec{}, r)
		truth[a] = id
		k.now = id
		outer := portRing(r3.Scale(reach, a), a, r)
		prev := outer
		const rows = 5
		for s := 1; s <= rows; s++ {
			next := make([]r3.Vec, len(outer))
			for i, p := range outer {
				cross := math.Abs(p.Z)
				if a.Z != 0 {
					cross = math.Abs(p.X)
				}
				t := float64(s) / rows
				d := reach + t*(cross-reach)
				q := r3.Sub(p, r3.Scale(reach, a))
				next[i] = r3.Add(q, r3.Scale(d, a))
			}
			k.skin(prev, next, a, true)
			prev = next
		}
	}
}

// nut is a hexagon nut.
func (k *kit) nut(object string, f frame) {
	hex := circle(0.0095, 6)
	k.extrude(object, "brushed_steel", f, hex, 0.009, 0.0009, 1)
	stud := bevel([]r2.Vec{{X: 0.002, Y: 0.0085}, {X: 0.005, Y: 0.0085}, {X: 0.005, Y: 0.016}, {X: 0.002, Y: 0.016}}, 0.0006)
	k.lathe(object+"_stud", "brushed_steel", f, stud, 16, true, true)
}

// handWheel is a torus with a hub and five spokes.
func (k *kit) handWheel(f frame) {
	const ring, tube, n, m = 0.075, 0.009, 64, 16
	k.begin("wheel_ring", "painted_steel", f)
	k.now = k.add(TruePiece{Kind: shape.Torus, Axis: f.y, Radius: tube})
	var rows [][]meshPoint
	for i := range n {
		s, c := math.Sincos(2 * math.Pi * float64(i) / n)
		row := make([]r3.Vec, m)
		for j := range m {
			sj, cj := math.Sincos(2 * math.Pi * float64(j) / m)
			rho := ring + tube*cj
			row[j] = f.at(rho*c, tube*sj, rho*s)
		}
		rows = append(rows, k.weldRow(row))
	}
	rows = append(rows, rows[0])
	k.rings(rows, true)
	v := func(r, y float64) r2.Vec { return r2.Vec{X: r, Y: y} }
	hub := bevel([]r2.Vec{v(0.006, -0.014), v(0.016, -0.014), v(0.016, 0.014), v(0.006, 0.014)}, 0.0015)
	k.lathe("wheel_hub", "painted_steel", f, supported(hub, 0.01, 0.0015), 32, true, true)
	k.lathe("wheel_stem", "brushed_steel", f, supported([]r2.Vec{v(0.006, -0.1), v(0.006, 0.02)}, 0.02, 0.002), 20, true, true)
	for i := range 5 {
		s, c := math.Sincos(2 * math.Pi * float64(i) / 5)
		out := r3.Add(r3.Scale(c, f.x), r3.Scale(s, f.z))
		k.lathe(fmt.Sprintf("spoke_%d", i+1), "painted_steel", toward(r3.Add(f.o, r3.Scale(0.015, out)), out), supported([]r2.Vec{v(0.0055, 0), v(0.0045, 0.053)}, 0.012, 0.002), 14, true, true)
	}
}
