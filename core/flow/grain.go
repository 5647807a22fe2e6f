// Package flow turns shells so that the grain runs along the sheet and up is
// up: the wished direction of each part comes from its shape, the exact turn
// from the directions of its edges, as the fourth power of unit complex numbers
// (directions modulo a quarter turn).
package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// Mode says how the grain of a part runs.
type Mode string

// The modes of grain.
const (
	None   Mode = ""       // no wished direction
	Along  Mode = "along"  // along the axis of the shape
	Around Mode = "around" // around the axis
	Toward Mode = "toward" // toward a direction in space
)

// Grain is the wished direction of texture on a part, a line unless it has a sense.
type Grain struct {
	Mode  Mode   `json:"mode"`
	Axis  r3.Vec `json:"axis"`            // axis of the shape, or the direction for Toward
	Sense bool   `json:"sense,omitempty"` // it goes one way only: to the right on the sheet, or up
}

// At returns the unit tangent of the grain on a face with normal n; ok is false
// where the grain has no direction.
func (g Grain) At(n r3.Vec) (d r3.Vec, ok bool) {
	switch g.Mode {
	case Along, Toward:
		d = r3.Sub(g.Axis, r3.Scale(r3.Dot(g.Axis, n), n))
	case Around:
		d = r3.Cross(g.Axis, n)
	default:
		return d, false
	}
	l := r3.Norm(d)
	if l < 1e-3 {
		return d, false
	}
	return r3.Scale(1/l, d), true
}

// DefaultGrain chooses a grain from the shape: around a wall if it is longer
// that way and along it otherwise, on a plate along its prevailing long edges.
// Cones fan out on the sheet and free shapes bend, so they have none unless
// somebody asks for it.
func DefaultGrain(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) Grain {
	switch fit.Kind {
	case shape.Cylinder, shape.Extruded, shape.Turned:
		if fit.Kind == shape.Turned && !upright(m, faces, fit) {
			return Grain{} // fans out like a cone, or bulges
		}
		long, round := wallSize(m, faces, fit.Axis)
		if round >= long {
			return Grain{Mode: Around, Axis: fit.Axis}
		}
		return Grain{Mode: Along, Axis: fit.Axis}
	case shape.Plane:
		if d, ok := prevailing(m, faces, fit.Axis); ok {
			return Grain{Mode: Toward, Axis: d}
		}
	}
	return Grain{}
}

// LoopGrain is the grain along the longest loops of a part: on a wall along or around its
// axis, whichever its edges make longer, on anything else the direction in space most
// edge length runs in; none where there is none.
func LoopGrain(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) Grain {
	switch fit.Kind {
	case shape.Cylinder, shape.Cone, shape.Turned, shape.Extruded:
		long, round := wallSize(m, faces, fit.Axis)
		if round >= long {
			return Grain{Mode: Around, Axis: fit.Axis}
		}
		return Grain{Mode: Along, Axis: fit.Axis}
	}
	n := r3.Vec{}
	for _, f := range faces {
		n = r3.Add(n, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f]))
	}
	if d, ok := prevailing(m, faces, n); ok {
		return Grain{Mode: Toward, Axis: d}
	}
	return Grain{}
}

// upright tells whether a turned part is near enough to a cylinder to be laid
// straight: all of it at like distance from the axis.
func upright(m *mesh.Mesh, faces []mesh.FaceID, fit shape.Fit) bool {
	lo, hi := math.Inf(1), 0.0
	for _, f := range faces {
		for _, p := range m.FacePoints(f) {
			d := r3.Sub(m.Points[p], fit.Origin)
			t := r3.Dot(d, fit.Axis)
			rho := math.Sqrt(max(0, r3.Norm2(d)-t*t))
			lo, hi = min(lo, rho), max(hi, rho)
		}
	}
	return hi <= 1.2*lo
}

// wallSize returns the length of a wall along its axis and around it.
func wallSize(m *mesh.Mesh, faces []mesh.FaceID, axis r3.Vec) (long, round float64) {
	lo, hi := math.Inf(1), math.Inf(-1)
	var area float64
	for _, f := range faces {
		area += m.FaceAreas()[f]
		for _, p := range m.FacePoints(f) {
			t := r3.Dot(m.Points[p], axis)
			lo, hi = min(lo, t), max(hi, t)
		}
	}
	long = hi - lo
	if long <= 1e-6*math.Sqrt(area) {
		return 0, 1
	}
	return long, area / long
}

// prevailing returns the direction in space in which most edge length of a
// plate runs, the longer way of the plate if both ways across are alike.
func prevailing(m *mesh.Mesh, faces []mesh.FaceID, n r3.Vec) (r3.Vec, bool) {
	u, v := mesh.Basis(n)
	var edges []weighted
	box := [2]r2.Vec{{X: math.Inf(1), Y: math.Inf(1)}, {X: math.Inf(-1), Y: math.Inf(-1)}}
	inside := make(map[mesh.FaceID]bool, len(faces))
	for _, f := range faces {
		inside[f] = true
	}
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			d := m.EdgeVec(h)
			w := weighted{r2.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v)}, 1}
			if t := m.Twin(h); t != mesh.None && inside[m.FaceOf(t)] {
				w.weight = 0.25 // inner edges come twice and say less than the rim
			}
			edges = append(edges, w)
		}
	}
	angle, share := prevailingAngle(edges)
	if share < 0.25 {
		return r3.Vec{}, false
	}
	s, c := math.Sincos(angle)
	for _, f := range faces {
		for _, p := range m.FacePoints(f) {
			x, y := r3.Dot(m.Points[p], u), r3.Dot(m.Points[p], v)
			q := r2.Vec{X: c*x + s*y, Y: -s*x + c*y}
			box[0] = r2.Vec{X: min(box[0].X, q.X), Y: min(box[0].Y, q.Y)}
			box[1] = r2.Vec{X: max(box[1].X, q.X), Y: max(box[1].Y, q.Y)}
		}
	}
	if size := r2.Sub(box[1], box[0]); size.Y > size.X*(1+1e-6) {
		s, c = c, -s // a quarter turn on
	}
	return r3.Add(r3.Scale(c, u), r3.Scale(s, v)), true
}

type weighted struct {
	d      r2.Vec
	weight float64
}

// prevailingAngle returns the direction, modulo a quarter turn, in which most
// length runs, and the share of length within 3° of it or across it. A
// histogram finds the peak, weighted means of fourth powers make it exact.
func prevailingAngle(edges []weighted) (angle, share float64) {
	const bins = 180
	var hist [bins]float64
	var total float64
	for _, e := range edges {
		l := r2.Norm(e.d) * e.weight
		total += l
		a := math.Mod(math.Atan2(e.d.Y, e.d.X)+2*math.Pi, math.Pi/2)
		hist[int(a/(math.Pi/2)*bins)%bins] += l
	}
	if total == 0 {
		return 0, 0
	}
	best, peak := 0, -1.0
	for i := range hist {
		var sum float64
		for k := -6; k <= 6; k++ {
			sum += hist[(i+k+bins)%bins] * (7 - math.Abs(float64(k)))
		}
		if sum > peak*(1+1e-9) {
			best, peak = i, sum
		}
	}
	angle = (float64(best) + 0.5) / bins * math.Pi / 2
	for _, width := range []float64{6, 3, 1.5, 0.75, 0.4, 0.2, 0.1} {
		width *= math.Pi / 180
		var re, im float64
		for _, e := range edges {
			off := quarterOff(math.Atan2(e.d.Y, e.d.X), angle)
			w := r2.Norm(e.d) * e.weight * math.Exp(-off*off/(2*width*width))
			s, c := math.Sincos(4 * off)
			re += w * c
			im += w * s
		}
		angle += math.Atan2(im, re) / 4
	}
	for _, e := range edges {
		if math.Abs(quarterOff(math.Atan2(e.d.Y, e.d.X), angle)) < 3*math.Pi/180 {
			share += r2.Norm(e.d) * e.weight
		}
	}
	return angle, share / total
}

// quarterOff is the difference of two angles modulo a quarter turn, in ±45°.
func quarterOff(a, b float64) float64 {
	d := math.Mod(a-b, math.Pi/2)
	if d > math.Pi/4 {
		d -= math.Pi / 2
	} else if d < -math.Pi/4 {
		d += math.Pi / 2
	}
	return d
}

// MeanDirection is the unit direction in space that edges run in, by length, as lines.
func MeanDirection(m *mesh.Mesh, edges []mesh.EdgeID) r3.Vec {
	// The direction that the longest edge has, drawn to the others a few times: a power
	// iteration on the sum of d·dᵀ/|d|.
	var d r3.Vec
	for _, e := range edges {
		if v := m.EdgeVec(m.EdgeHalf(e)); r3.Norm2(v) > r3.Norm2(d)*(1+1e-9) {
			d = v
		}
	}
	for range 60 {
		var next r3.Vec
		for _, e := range edges {
			v := m.EdgeVec(m.EdgeHalf(e))
			if l := r3.Norm(v); l > 0 {
				next = r3.Add(next, r3.Scale(r3.Dot(v, d)/l, v))
			}
		}
		l := r3.Norm(next)
		if l == 0 {
			return d
		}
		d = r3.Scale(1/l, next)
	}
	return d
}
