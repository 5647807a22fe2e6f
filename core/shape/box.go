package shape

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// FitBox fits a box with right angles: the normal of most area is the first axis,
// that of most area across it the second, and the sides lie where the corners
// reach. Bend is infinite if the faces do not show two axes.
func FitBox(s Faces) Fit {
	f := Fit{Kind: Box, Error: math.Inf(1), Bend: math.Pi, Origin: s.centroid()}
	first := s.mostly(func(r3.Vec) bool { return true })
	second := s.mostly(func(n r3.Vec) bool { return math.Abs(r3.Dot(n, first)) < 0.2 })
	if first == (r3.Vec{}) || second == (r3.Vec{}) {
		return f
	}
	f.Axis = canonical(first)
	f.Side = canonical(mesh.Unit(r3.Sub(second, r3.Scale(r3.Dot(second, f.Axis), f.Axis))))
	axes := f.boxAxes()
	lo, hi := [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)}, [3]float64{math.Inf(-1), math.Inf(-1), math.Inf(-1)}
	for _, p := range s.Points {
		for k, a := range axes {
			t := r3.Dot(p, a)
			lo[k], hi[k] = min(lo[k], t), max(hi[k], t)
		}
	}
	f.Origin = r3.Vec{}
	for k, a := range axes {
		f.Origin = r3.Add(f.Origin, r3.Scale((lo[k]+hi[k])/2, a))
	}
	f.Half = r3.Vec{X: (hi[0] - lo[0]) / 2, Y: (hi[1] - lo[1]) / 2, Z: (hi[2] - lo[2]) / 2}
	f.measure(s)
	return f
}

// mostly returns the direction, whichever way, that most area faces among the
// normals that are accepted: the mean of what lies within 20° of the best facet.
func (s Faces) mostly(accept func(r3.Vec) bool) r3.Vec {
	var best r3.Vec
	most := 0.0
	seen := map[[3]int]bool{} // directions alike are tried once
	for _, n := range s.Normals {
		n = canonical(n)
		key := [3]int{int(math.Round(n.X * 20)), int(math.Round(n.Y * 20)), int(math.Round(n.Z * 20))}
		if n == (r3.Vec{}) || !accept(n) || seen[key] {
			continue
		}
		seen[key] = true
		var sum r3.Vec
		var area float64
		for i, m := range s.Normals {
			d := r3.Dot(m, n)
			if math.Abs(d) < math.Cos(20*math.Pi/180) || !accept(m) {
				continue
			}
			area += s.Areas[i]
			sum = r3.Add(sum, r3.Scale(math.Copysign(s.Areas[i], d), m))
		}
		if area > most*(1+1e-9) {
			most, best = area, mesh.Unit(sum)
		}
	}
	return best
}

func (f *Fit) boxAxes() [3]r3.Vec { return [3]r3.Vec{f.Axis, f.Side, r3.Cross(f.Axis, f.Side)} }

// boxDistance is the distance of d, from the middle, to the surface of the box.
func (f *Fit) boxDistance(d r3.Vec) float64 {
	half := [3]float64{f.Half.X, f.Half.Y, f.Half.Z}
	inside, outside := math.Inf(-1), 0.0
	for k, a := range f.boxAxes() {
		q := math.Abs(r3.Dot(d, a)) - half[k]
		inside = max(inside, q)
		outside += max(0, q) * max(0, q)
	}
	if outside > 0 {
		return math.Sqrt(outside)
	}
	return inside
}

// boxNormal is the outer normal of the side nearest to d, from the middle.
func (f *Fit) boxNormal(d r3.Vec) r3.Vec {
	half := [3]float64{f.Half.X, f.Half.Y, f.Half.Z}
	best, normal := math.Inf(-1), f.Axis
	for k, a := range f.boxAxes() {
		t := r3.Dot(d, a)
		if q := math.Abs(t) - half[k]; q > best {
			best, normal = q, r3.Scale(math.Copysign(1, t), a)
		}
	}
	return normal
}
