package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// opening returns the edges at which faces around an axis are torn: those that the
// angle jumps at, and with poles all that meet the axis.
func (f *frame) opening(m *mesh.Mesh, faces []mesh.FaceID, poles bool) []mesh.EdgeID {
	lo, hi := m.Bounds()
	near := 1e-6 * r3.Norm(r3.Sub(hi, lo))
	return between(m, faces, func(a, b mesh.FaceID, e mesh.EdgeID) bool {
		h := m.EdgeHalf(e)
		p, q := m.Points[m.From(h)], m.Points[m.To(h)]
		if poles && (f.radius(p) < near || f.radius(q) < near) {
			return true
		}
		ca, cb := f.angle(m.FaceCentre(a)), f.angle(m.FaceCentre(b))
		at := p
		if f.radius(p) < f.radius(q) { // the end on the axis has no angle of its own
			at = q
		}
		return math.Abs(nearestTurn(f.angle(at), ca)-nearestTurn(f.angle(at), cb)) > math.Pi
	})
}

// nearestTurn returns a + 2πk nearest to another angle.
func nearestTurn(a, to float64) float64 { return a - 2*math.Pi*math.Round((a-to)/(2*math.Pi)) }

// angles returns the angle of each vertex of a patch about the axis, counted on over
// the turn within a face; on the axis it is that of the middle of a face.
func (f *frame) angles(p *mesh.Patch) []float64 {
	out := make([]float64, len(p.Pos))
	seen := make([]bool, len(p.Pos))
	size := 1e-9 * math.Sqrt(p.Area())
	for i, face := range p.Faces {
		middle := f.angle(p.Mesh.FaceCentre(face))
		for c := p.FaceStart[i]; c < p.FaceStart[i+1]; c++ {
			v := p.CornerVert[c]
			if seen[v] {
				continue
			}
			seen[v] = true
			if out[v] = middle; f.radius(p.Pos[v]) > size {
				out[v] = nearestTurn(f.angle(p.Pos[v]), middle)
			}
		}
	}
	return out
}

// cylindrical is the angle times the mean radius, and the height.
func (f *frame) cylindrical(p *mesh.Patch) []r2.Vec {
	r := f.meanRadius(p)
	uv := make([]r2.Vec, len(p.Pos))
	for v, a := range f.angles(p) {
		uv[v] = r2.Vec{X: a * r, Y: f.height(p.Pos[v])}
	}
	return uv
}

func (f *frame) meanRadius(p *mesh.Patch) float64 {
	var sum, area float64
	for _, face := range p.Faces {
		a := p.Mesh.FaceAreas()[face]
		for _, pt := range p.Mesh.FacePoints(face) {
			sum += a * f.radius(p.Mesh.Points[pt])
			area += a
		}
	}
	if area == 0 || sum == 0 {
		return 1
	}
	return sum / area
}

// conical is a sector about the tip: the slant length from it, and the angle as far as
// the slope lets it open.
func (f *frame) conical(p *mesh.Patch) []r2.Vec {
	// Radius over height by least squares.
	var n, sh, sr, shh, shr float64
	for _, q := range p.Pos {
		h, r := f.height(q), f.radius(q)
		n, sh, sr, shh, shr = n+1, sh+h, sr+r, shh+h*h, shr+h*r
	}
	slope := 0.0
	if d := n*shh - sh*sh; d > 1e-12*n*shh {
		slope = (n*shr - sh*sr) / d
	}
	if math.Abs(slope) < 1e-6 {
		return f.cylindrical(p)
	}
	tip := (sh - sr/slope) / n // height at which the radius is nothing
	half := math.Atan(math.Abs(slope))
	uv := make([]r2.Vec, len(p.Pos))
	angles := f.angles(p)
	var middle float64
	for _, a := range angles {
		middle += a / float64(len(angles))
	}
	up := 1.0 // whether it opens downwards, as a skirt does
	if slope > 0 {
		up = -1
	}
	for v, q := range p.Pos {
		l := math.Hypot(f.height(q)-tip, f.radius(q))
		s, c := math.Sincos((angles[v] - middle) * math.Sin(half))
		uv[v] = r2.Vec{X: l * s, Y: tip - up*l*c}
	}
	return uv
}

// spherical is longitude and latitude times the mean radius.
func (f *frame) spherical(p *mesh.Patch) []r2.Vec {
	var r float64
	for _, q := range p.Pos {
		r += r3.Norm(r3.Sub(q, f.o)) / float64(len(p.Pos))
	}
	uv := make([]r2.Vec, len(p.Pos))
	for v, a := range f.angles(p) {
		q := p.Pos[v]
		uv[v] = r2.Vec{X: a * r, Y: math.Atan2(f.height(q), f.radius(q)) * r}
	}
	return uv
}

// profiled lays a wall of revolution along its profile, or by its height where its
// faces do not follow one.
func (f *frame) profiled(p *mesh.Patch) []r2.Vec {
	level := f.cylindrical(p)
	uv, closes := Turned(p, shape.Fit{Kind: shape.Turned, Axis: f.axis, Origin: f.o})
	if !closes || flatten.Flips(p, uv) > flatten.Flips(p, level) {
		return level
	}
	return moved(uv, level)
}

// prismatic sums up the steps around an outline, facet by facet, and the heights.
func (f *frame) prismatic(p *mesh.Patch) []r2.Vec {
	normals := p.Mesh.FaceNormals()
	around := make([]r3.Vec, len(p.Faces))
	for i, face := range p.Faces {
		around[i] = r3.Cross(f.axis, normals[face])
		if l := r3.Norm(around[i]); l > 0 {
			around[i] = r3.Scale(1/l, around[i])
		}
	}
	uv, _ := summed(p, func(face int32, from, to r3.Vec) r2.Vec {
		d := r3.Sub(to, from)
		return r2.Vec{X: r3.Dot(d, around[face]), Y: r3.Dot(d, f.axis)}
	})
	return moved(uv, f.cylindrical(p))
}

// moved shifts a map so that its middle lies on that of another.
func moved(uv, to []r2.Vec) []r2.Vec {
	var shift r2.Vec
	for i := range uv {
		shift = r2.Add(shift, r2.Scale(1/float64(len(uv)), r2.Sub(to[i], uv[i])))
	}
	for i := range uv {
		uv[i] = r2.Add(uv[i], shift)
	}
	return uv
}

// summed adds up steps from face to face and returns the place of each vertex, with
// the largest disagreement of two ways to one vertex, on each axis.
func summed(p *mesh.Patch, step func(face int32, from, to r3.Vec) r2.Vec) (uv []r2.Vec, gap r2.Vec) {
	uv = make([]r2.Vec, len(p.Pos))
	known := make([]bool, len(p.Pos))
	faceOf := p.CornerFaces()
	seen := make([]bool, len(p.Faces))
	known[p.CornerVert[0]] = true
	queue := []int32{0}
	seen[0] = true
	for len(queue) > 0 {
		f := queue[0]
		queue = queue[1:]
		lo, hi := p.FaceStart[f], p.FaceStart[f+1]
		start := lo
		for !known[p.CornerVert[start]] {
			start++
		}
		for k, c := lo, start; k < hi; k++ {
			a, b := p.Ends(c)
			next := r2.Add(uv[a], step(f, p.Pos[a], p.Pos[b]))
			if !known[b] {
				uv[b], known[b] = next, true
			} else {
				gap = r2.Vec{X: max(gap.X, math.Abs(next.X-uv[b].X)), Y: max(gap.Y, math.Abs(next.Y-uv[b].Y))}
			}
			if o := p.Across(c); o != mesh.None && !seen[faceOf[o]] {
				seen[faceOf[o]] = true
				queue = append(queue, faceOf[o])
			}
			c = p.NextCorner(c)
		}
	}
	return uv, gap
}
