// Package flow turns shells so that the grain runs along the sheet and up is
// up: the wished direction of each part comes from its shape, the exact turn
// from the directions of its edges, as the fourth power of unit complex numbers
// (directions modulo a quarter turn).
package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// Mode says how the grain of a part runs.
type Mode string

// The modes of grain.
const (
	None   Mode = ""       // no wished direction
	Along  Mode = "along"  // along the axis of the shape
	Around Mode = "around" // around the axis
	Toward Mode = "toward" // toward a direction in space, or along a picked chain
	Walls  Mode = "walls"  // on each flat wall along its own long edges
)

// Grain is the wished direction of texture on a part, a line unless it has a sense.
type Grain struct {
	Mode   Mode     `json:"mode"`
	Axis   r3.Vec   `json:"axis"`            // axis of the shape, or the direction for Toward
	Origin r3.Vec   `json:"origin,omitzero"` // a point on the axis
	Pitch  float64  `json:"pitch,omitempty"` // it runs about the axis as a screw of this pitch does, or across that
	Path   []r3.Vec `json:"path,omitempty"`  // a polyline the axis bends along; where it has one, Axis is its mean direction
	Walls  []Wall   `json:"walls,omitempty"` // of Walls, the largest first
	Sense  bool     `json:"sense,omitempty"` // it goes one way only: to the right on the sheet, or up
}

// At returns the unit tangent of the grain at a point with unit normal n of the surface;
// ok is false where the grain has no direction.
func (g Grain) At(c, n r3.Vec) (d r3.Vec, ok bool) {
	if g.Mode == None {
		return d, false
	}
	axis, origin := g.axisAt(c)
	if g.Pitch != 0 {
		return g.wound(c, n)
	}
	if g.Mode == Walls {
		axis = g.wall(n)
	}
	out := r3.Sub(c, origin)
	far := r3.Norm(out)
	out = r3.Sub(out, r3.Scale(r3.Dot(out, axis), axis))
	if r3.Norm(out) > 1e-6*far { // else on the axis
		out = unit(out)
	}
	switch g.Mode {
	case Around:
		if d = r3.Cross(axis, n); r3.Norm(d) < alongNormal { // as at the top of a ring
			d = r3.Cross(axis, out)
		}
	case Along:
		if d = r3.Sub(axis, r3.Scale(r3.Dot(axis, n), n)); r3.Norm(d) < alongNormal {
			d = r3.Sub(out, r3.Scale(r3.Dot(out, n), n))
		}
	default:
		d = r3.Sub(axis, r3.Scale(r3.Dot(axis, n), n))
	}
	if l := r3.Norm(d); l >= alongNormal {
		return r3.Scale(1/l, d), true
	}
	return d, false
}

// wound is the tangent along a screw or across it.
func (g Grain) wound(c, n r3.Vec) (d r3.Vec, ok bool) {
	f := shape.Fit{Axis: g.Axis, Origin: g.Origin, Pitch: g.Pitch}
	m := f.Motion(c)
	d = r3.Sub(m, r3.Scale(r3.Dot(m, n), n))
	if g.Mode == Around {
		d = r3.Cross(n, d)
	}
	if l := r3.Norm(d); l >= alongNormal*r3.Norm(m) && l > 0 {
		return r3.Scale(1/l, d), true
	}
	return d, false
}

// alongNormal is the sine of the angle between an axis and a normal below which the axis
// says nothing about the face.
const alongNormal = 1e-3

// axisAt is the axis near a point, and a point on it: that of the path where there is one.
func (g Grain) axisAt(c r3.Vec) (axis, origin r3.Vec) {
	if len(g.Path) < 2 {
		return g.Axis, g.Origin
	}
	best, at, share := math.Inf(1), 0, 0.0
	for k := 1; k < len(g.Path); k++ {
		e := r3.Sub(g.Path[k], g.Path[k-1])
		t := 0.0
		if l := r3.Norm2(e); l > 0 {
			t = max(0, min(1, r3.Dot(r3.Sub(c, g.Path[k-1]), e)/l))
		}
		if d := r3.Norm2(r3.Sub(c, r3.Add(g.Path[k-1], r3.Scale(t, e)))); d < best*(1-1e-9) {
			best, at, share = d, k, t
		}
	}
	// In between two points the tangent turns evenly, so that the direction does not jump.
	d := r3.Add(r3.Scale(1-share, g.tangent(at-1)), r3.Scale(share, g.tangent(at)))
	return unit(d), r3.Add(r3.Scale(1-share, g.Path[at-1]), r3.Scale(share, g.Path[at]))
}

// tangent is the unit direction of the path at one of its points: the mean of the pieces
// that meet there. At an open end it goes on as it turns in the last piece.
func (g Grain) tangent(k int) r3.Vec {
	last := len(g.Path) - 1
	piece := func(i int) r3.Vec { return unit(r3.Sub(g.Path[i+1], g.Path[i])) }
	between := func(i, j int) r3.Vec { return unit(r3.Add(piece(i), piece(j))) }
	end := func(e, next r3.Vec) r3.Vec { return r3.Sub(r3.Scale(2*r3.Dot(e, next), e), next) }
	switch {
	case 0 < k && k < last:
		return between(k-1, k)
	case last > 2 && r3.Norm2(r3.Sub(g.Path[0], g.Path[last])) == 0:
		return between(last-1, 0)
	case last == 1:
		return piece(0)
	case k == 0:
		return end(piece(0), between(0, 1))
	}
	return end(piece(last-1), between(last-2, last-1))
}

func unit(v r3.Vec) r3.Vec {
	if l := r3.Norm(v); l > 0 {
		return r3.Scale(1/l, v)
	}
	return v
}
