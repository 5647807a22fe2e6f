package shape

import (
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Motion is a rigid motion a surface is (nearly) invariant under: a turn about
// an axis, a shift along it, or both at once.
type Motion struct {
	Axis   r3.Vec // unit
	Origin r3.Vec // a point on the axis; of no meaning for pure shifts
	Pitch  float64
	Shift  bool // no turn at all
	Slip   float64
}

// Slippage returns the six motions ordered by how much the surface resists
// them: Slip is the root mean square of normal velocity per unit of motion, 0
// for a motion the surface does not notice. Centres are taken about their mean
// and scaled to unit size, so lengths and angles weigh alike (Gelfand & Guibas
// 2004).
func Slippage(s Faces) [6]Motion {
	var out [6]Motion
	o := s.centroid()
	var size, area float64
	for i, c := range s.Centres {
		size += s.Areas[i] * r3.Norm(r3.Sub(c, o))
		area += s.Areas[i]
	}
	if area == 0 || size == 0 {
		return out
	}
	size /= area
	m := mat.NewSymDense(6, nil)
	for k, n := range s.Normals {
		p := r3.Scale(1/size, r3.Sub(s.Centres[k], o))
		c := r3.Cross(p, n)
		row := [6]float64{c.X, c.Y, c.Z, n.X, n.Y, n.Z}
		for i := range 6 {
			for j := i; j < 6; j++ {
				m.SetSym(i, j, m.At(i, j)+s.Areas[k]/area*row[i]*row[j])
			}
		}
	}
	var e mat.EigenSym
	if !e.Factorize(m, true) {
		return out
	}
	var v mat.Dense
	e.VectorsTo(&v)
	for k := range out {
		w := r3.Vec{X: v.At(0, k), Y: v.At(1, k), Z: v.At(2, k)}
		d := r3.Vec{X: v.At(3, k), Y: v.At(4, k), Z: v.At(5, k)}
		mo := Motion{Slip: math.Sqrt(max(0, e.Values(nil)[k]))}
		if w2 := r3.Norm2(w); w2 > 1e-6 {
			mo.Axis = mesh.Unit(w)
			mo.Origin = r3.Add(o, r3.Scale(size/w2, r3.Cross(w, d)))
			mo.Pitch = r3.Dot(w, d) / w2 * size
		} else {
			mo.Axis, mo.Origin, mo.Shift = mesh.Unit(d), o, true
		}
		out[k] = mo
	}
	return out
}

// RevolutionAxis returns the axis about which a surface may be turned: the best
// motion without pitch. Normals of such a surface all meet the axis.
func RevolutionAxis(s Faces) (axis, origin r3.Vec, ok bool) {
	motions := Slippage(s)
	for _, m := range motions[:3] {
		if !m.Shift && m.Axis != (r3.Vec{}) && m.Slip < 0.2 {
			return canonical(m.Axis), m.Origin, true
		}
	}
	return r3.Vec{}, r3.Vec{}, false
}
