package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Settings say what along and up mean.
type Settings struct {
	GrainOnV bool   // the grain runs along V instead of U
	Up       r3.Vec // up in the model, unit
	Back     r3.Vec // away from who looks at its front: up on what lies flat
}

// Orient turns the map of a patch in place: the grain to the axis of the sheet,
// the loops exactly straight where they nearly are, up upwards.
func Orient(p *mesh.Patch, uv []r2.Vec, g Grain, s Settings) {
	target := 0.0
	if s.GrainOnV {
		target = math.Pi / 2
	}
	coarse, found, bends := grainAngle(p, uv, g)
	if !found {
		var long bool
		if coarse, long = longAngle(p, uv); !long { // as broad as long: up is up
			coarse = target
			if up := upOn(p, uv, s); r2.Norm(up) > 0 {
				coarse = target + math.Atan2(up.Y, up.X) - math.Pi/2
			}
		}
	}
	Turn(uv, target-coarse)
	// Loops decide the rest, as far as a grain lets them.
	if fine, share := prevailingAngle(edgesOf(p, uv)); share > 0.3 {
		if off := quarterOff(fine, 0); !found || bends || math.Abs(off) < loopsMayTurn {
			Turn(uv, -off)
		}
	}
	back := upward(p, uv, s) < 0
	if g.Sense && found {
		back = forward(p, uv, g, s) < 0
	}
	if back {
		Turn(uv, math.Pi)
	}
}

// loopsMayTurn is how far a grain may be turned for the loops to be exactly straight,
// radians: less than what proof finds.
const loopsMayTurn = 4 * math.Pi / 180

// forward tells how much of a grain with a sense runs the right way along the sheet.
func forward(p *mesh.Patch, uv []r2.Vec, g Grain, s Settings) (sum float64) {
	d, has := p.Differentials(uv)
	for i := range d {
		if !has[i] {
			continue
		}
		if w, ok := g.on(p, i); ok {
			q := d[i].Push(w)
			if s.GrainOnV {
				q.X = q.Y
			}
			sum += d[i].Area * q.X
		}
	}
	return sum
}

// Turn turns a map about the origin, counter-clockwise.
func Turn(uv []r2.Vec, angle float64) {
	s, c := math.Sincos(angle)
	if angle == math.Pi {
		s, c = 0, -1
	}
	for i, q := range uv {
		uv[i] = r2.Vec{X: c*q.X - s*q.Y, Y: s*q.X + c*q.Y}
	}
}

// grainAngle returns the direction of the grain on the sheet modulo a half turn: that of
// its straights, if there are enough, else the mean of what bends.
func grainAngle(p *mesh.Patch, uv []r2.Vec, g Grain) (angle float64, ok, bends bool) {
	d, has := p.Differentials(uv)
	var re, im, total float64
	var list []Direction
	for i := range d {
		if !has[i] {
			continue
		}
		w, ok := g.on(p, i)
		if !ok {
			continue
		}
		q := d[i].Push(w)
		at := Direction{math.Atan2(q.Y, q.X), d[i].Area}
		s, c := math.Sincos(2 * at.Angle)
		re += at.Weight * c
		im += at.Weight * s
		total += at.Weight
		list = append(list, at)
	}
	if angle, share := Prevailing(list, math.Pi); share >= StraightEnough {
		return angle, true, false
	}
	if total == 0 || math.Hypot(re, im) < 0.2*total {
		return 0, false, true
	}
	return math.Atan2(im, re) / 2, true, true
}

// longAngle returns the direction in which a flat shell reaches furthest: the
// main axis of its area; ok is false when it is as broad as long.
func longAngle(p *mesh.Patch, uv []r2.Vec) (angle float64, ok bool) {
	var area float64
	var mean r2.Vec
	each := func(visit func(c r2.Vec, a float64, q [3]r2.Vec)) {
		for _, t := range p.Tris {
			q := [3]r2.Vec{uv[t[0]], uv[t[1]], uv[t[2]]}
			a := r2.Cross(r2.Sub(q[1], q[0]), r2.Sub(q[2], q[0])) / 2
			visit(r2.Scale(1./3, r2.Add(q[0], r2.Add(q[1], q[2]))), a, q)
		}
	}
	each(func(c r2.Vec, a float64, _ [3]r2.Vec) { area += a; mean = r2.Add(mean, r2.Scale(a, c)) })
	if area == 0 {
		return 0, false
	}
	mean = r2.Scale(1/area, mean)
	var xx, xy, yy float64
	each(func(_ r2.Vec, a float64, q [3]r2.Vec) {
		// Second moments of a triangle: edge midpoints carry a third each.
		for k := range 3 {
			d := r2.Sub(r2.Scale(0.5, r2.Add(q[k], q[(k+1)%3])), mean)
			xx += a / 3 * d.X * d.X
			xy += a / 3 * d.X * d.Y
			yy += a / 3 * d.Y * d.Y
		}
	})
	if math.Hypot(xx-yy, 2*xy) < 0.05*(xx+yy) {
		return 0, false
	}
	return math.Atan2(2*xy, xx-yy) / 2, true
}

func edgesOf(p *mesh.Patch, uv []r2.Vec) []weighted {
	out := make([]weighted, 0, len(p.Corner))
	for c := range p.Corner {
		a, b := p.Ends(int32(c))
		w := 1.0
		if p.Across(int32(c)) != mesh.None {
			w = 0.5 // seen from both sides
		}
		out = append(out, weighted{r2.Sub(uv[b], uv[a]), w})
	}
	return out
}

// upward tells how much of the model's up runs up the sheet, and right where a
// part lies on its side.
func upward(p *mesh.Patch, uv []r2.Vec, s Settings) float64 {
	sum := upOn(p, uv, s)
	if math.Abs(sum.Y) < 0.1*math.Abs(sum.X) {
		return sum.X
	}
	return sum.Y
}

// upOn is the model's up on the sheet, in the mean; on what lies flat, as a lid does, back
// is up.
func upOn(p *mesh.Patch, uv []r2.Vec, s Settings) r2.Vec {
	d, has := p.Differentials(uv)
	mean := func(dir r3.Vec) (sum r2.Vec) {
		for i := range d {
			if has[i] {
				sum = r2.Add(sum, r2.Scale(d[i].Area, d[i].Push(dir)))
			}
		}
		return sum
	}
	sum := mean(s.Up)
	if back := mean(s.Back); r2.Norm(sum) < 0.1*r2.Norm(back) {
		sum = back
	}
	return sum
}

// StraightShare returns the length of polygon edges of a patch within half a
// degree of the axes of the sheet, and the whole length.
func StraightShare(p *mesh.Patch, uv []r2.Vec) (straight, total float64) {
	for _, e := range edgesOf(p, uv) {
		l := r2.Norm(e.d) * e.weight
		total += l
		if math.Abs(quarterOff(math.Atan2(e.d.Y, e.d.X), 0)) <= math.Pi/360 {
			straight += l
		}
	}
	return straight, total
}

// Error returns the angle in radians between a wished direction w on the surface, a line
// unless it has a sense, and the axis of the sheet on a triangle with differential d and
// normal n.
func Error(w r3.Vec, sense bool, s Settings, d mesh.Differential, n r3.Vec) float64 {
	return Aside(Off(w, s, d, n), sense)
}

// Aside is how far an angle from the axis is off it, for a line or for what has a sense.
func Aside(off float64, sense bool) float64 {
	off = math.Abs(off)
	if sense {
		return off
	}
	return min(off, math.Pi-off)
}

// Off is the angle, counter-clockwise about the normal, from the axis of the sheet to a
// wished direction.
func Off(w r3.Vec, s Settings, d mesh.Differential, n r3.Vec) float64 {
	// Image of the sheet's grain axis on the surface: across the other gradient.
	axis := r3.Cross(d.GradV, n)
	if s.GrainOnV {
		axis = r3.Cross(n, d.GradU)
	}
	across := r3.Cross(axis, w)
	return math.Copysign(math.Atan2(r3.Norm(across), r3.Dot(axis, w)), r3.Dot(across, n))
}

// on is the grain on a triangle of a patch.
func (g Grain) on(p *mesh.Patch, tri int) (r3.Vec, bool) {
	f := p.Faces[p.TriFace[tri]]
	return g.At(p.Mesh.FaceCentre(f), p.Mesh.FaceNormals()[f])
}
