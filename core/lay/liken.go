package lay

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/planar"
)

// Likeness is how one shell can be laid onto another.
type Likeness struct {
	To      func(r2.Vec) r2.Vec
	Off     float64 // the farthest that borders lie apart, as a share of the size of the shell
	Over    bool    // it is turned over
	Stretch float64 // by how much it is stretched more along one axis than along the other, 1 for not
}

// What likeness is sought with: places on each border, and the limits of what is still alike.
const (
	likePlaces = 160
	mostOff    = 0.03
	mostAlike  = 1.12 // times longer along one axis
)

// Liken looks for the way to lay a shell onto another so that their borders agree: turned, turned
// over if it must be, scaled as a whole, then stretched until the boxes are one. The second is
// false if the shells are not alike.
func Liken(s *document.State, u, onto Unit) (best Likeness, ok bool) {
	from, to := s.Map.Border(u.lowest, 0), s.Map.Border(onto.lowest, 0)
	if len(from) == 0 || len(to) == 0 {
		return best, false
	}
	a, b := places(from), places(to)
	size := math.Sqrt(onto.Box.Size().X * onto.Box.Size().Y)
	best.Off = math.Inf(1)
	for _, over := range []bool{false, true} {
		for _, turn := range turnsBetween(a, b, over) {
			l, fits := alongBoxes(from, onto.Box, turn, over)
			if !fits {
				continue
			}
			if l.Off = apart(l.To, a, b, from, to) / size; l.Off < best.Off-1e-6 {
				best = l
			}
		}
	}
	return best, best.Off <= mostOff
}

// places are points evenly along a border.
func places(border []planar.Segment) []r2.Vec {
	var length float64
	for _, g := range border {
		length += r2.Norm(r2.Sub(g.B, g.A))
	}
	step := length / likePlaces
	var out []r2.Vec
	next := 0.
	for _, g := range border {
		l := r2.Norm(r2.Sub(g.B, g.A))
		for ; next < l; next += step {
			out = append(out, r2.Add(g.A, r2.Scale(next/l, r2.Sub(g.B, g.A))))
		}
		next -= l
		if !(step > 0) {
			break
		}
	}
	return out
}

// turnsBetween are the turns worth trying: quarters, and those between the principal axes.
func turnsBetween(a, b []r2.Vec, over bool) []float64 {
	out := []float64{0, math.Pi, math.Pi / 2, -math.Pi / 2}
	at := principal(a)
	if over {
		at = math.Pi - at
	}
	by := principal(b) - at
	for k := range 4 {
		out = append(out, by+float64(k)*math.Pi/2)
	}
	return out
}

// principal is the direction in which points spread most, as an angle.
func principal(p []r2.Vec) float64 {
	var m r2.Vec
	for _, q := range p {
		m = r2.Add(m, r2.Scale(1/float64(len(p)), q))
	}
	var xx, xy, yy float64
	for _, q := range p {
		d := r2.Sub(q, m)
		xx, xy, yy = xx+d.X*d.X, xy+d.X*d.Y, yy+d.Y*d.Y
	}
	return math.Atan2(2*xy, xx-yy) / 2
}

// alongBoxes turns a border and scales it until its box is another.
func alongBoxes(border []planar.Segment, onto planar.Box, turn float64, over bool) (Likeness, bool) {
	sin, cos := math.Sincos(turn)
	if q := math.Round(turn / (math.Pi / 2)); math.Abs(turn-q*math.Pi/2) < 1e-9 { // straight lines stay exactly straight
		sin, cos = math.Round(sin), math.Round(cos)
	}
	turned := func(q r2.Vec) r2.Vec {
		if over {
			q.X = -q.X
		}
		return r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y}
	}
	p := make([]r2.Vec, len(border))
	for i, g := range border {
		p[i] = turned(g.A)
	}
	from := planar.Bounds(p...)
	if !(from.Size().X > 0 && from.Size().Y > 0) {
		return Likeness{}, false
	}
	x, y := onto.Size().X/from.Size().X, onto.Size().Y/from.Size().Y
	l := Likeness{Over: over, Stretch: max(x/y, y/x)}
	l.To = func(q r2.Vec) r2.Vec {
		q = r2.Sub(turned(q), from.Min)
		return r2.Add(r2.Vec{X: x * q.X, Y: y * q.Y}, onto.Min)
	}
	return l, l.Stretch <= mostAlike
}

// apart is the farthest that a place of one border, moved, lies from the other, either way.
func apart(to func(r2.Vec) r2.Vec, a, b []r2.Vec, from, onto []planar.Segment) (far float64) {
	moved := make([]planar.Segment, len(from))
	for i, g := range from {
		moved[i] = planar.Segment{A: to(g.A), B: to(g.B)}
	}
	for _, q := range a {
		far = max(far, nearest(to(q), onto))
	}
	for _, q := range b {
		far = max(far, nearest(q, moved))
	}
	return far
}

func nearest(q r2.Vec, border []planar.Segment) float64 {
	least := math.Inf(1)
	for _, g := range border {
		least = min(least, planar.PointDistance(q, g.A, g.B))
	}
	return least
}
