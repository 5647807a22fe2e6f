// Package shape fits primitive shapes to sets of faces. Faceting is not error:
// a cylinder with flat facets has its corners on the cylinder, so fits go
// through corners and judge normals against the facets.
//
// The axis of a single-curved surface is the direction its normals avoid, the
// smallest eigenvector of their scatter (Pottmann & Randrup 1998); circles are
// fitted by Gauss-Newton from an algebraic start (Kåsa 1976).
package shape

import (
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Kind names what a part is.
type Kind string

// The kinds of shape.
const (
	Plane    Kind = "plane"
	Cylinder Kind = "cylinder"
	Cone     Kind = "cone"
	Turned   Kind = "turned"
	Extruded Kind = "extruded"
	Free     Kind = "free"
)

// Fit is a shape with its parameters and how far the faces are from it.
type Fit struct {
	Kind      Kind    `json:"kind"`
	Axis      r3.Vec  `json:"axis"`       // unit; normal of a plane, axis of the others, zero for free
	Origin    r3.Vec  `json:"origin"`     // a point on the plane or axis; the apex side is along +Axis on a cone
	Radius    float64 `json:"radius"`     // model units; largest radius of a cone
	HalfAngle float64 `json:"half_angle"` // radians, cones only
	Error     float64 `json:"error"`      // root mean square distance of the corners, model units
}

// Faces is the set of faces a fit looks at.
type Faces struct {
	Normals []r3.Vec
	Areas   []float64
	Points  []r3.Vec // every corner once or more
}

// Gather collects what a fit needs from faces of a mesh.
func Gather(m *mesh.Mesh, faces []mesh.FaceID) Faces {
	var s Faces
	n, a := m.FaceNormals(), m.FaceAreas()
	for _, f := range faces {
		s.Normals = append(s.Normals, n[f])
		s.Areas = append(s.Areas, a[f])
		for _, p := range m.FacePoints(f) {
			s.Points = append(s.Points, m.Points[p])
		}
	}
	return s
}

// FitPlane returns the plane of mean normal through the mean of the corners.
func FitPlane(s Faces) Fit {
	var n r3.Vec
	for i, v := range s.Normals {
		n = r3.Add(n, r3.Scale(s.Areas[i], v))
	}
	f := Fit{Kind: Plane, Axis: unit(n), Origin: mean(s.Points)}
	f.Error = rms(s.Points, func(p r3.Vec) float64 { return r3.Dot(r3.Sub(p, f.Origin), f.Axis) })
	return f
}

// AcrossAxis returns the direction that the normals avoid, and how well: the
// root mean square of sin(angle to the plane across it), weighted by area.
func AcrossAxis(s Faces) (axis r3.Vec, spread float64) {
	m := mat.NewSymDense(3, nil)
	var total float64
	for i, n := range s.Normals {
		addOuter(m, n, s.Areas[i])
		total += s.Areas[i]
	}
	v, l := smallest(m)
	if total == 0 {
		return v, 1
	}
	return v, math.Sqrt(max(0, l) / total)
}

// FitCylinder fits a circular cylinder along a known axis direction.
func FitCylinder(s Faces, axis r3.Vec) Fit {
	axis = canonical(axis)
	u, v := mesh.Basis(axis)
	o := mean(s.Points)
	flat := make([]r2.Vec, len(s.Points))
	for i, p := range s.Points {
		d := r3.Sub(p, o)
		flat[i] = r2.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v)}
	}
	c, r := fitCircle(flat)
	f := Fit{Kind: Cylinder, Axis: axis, Radius: r}
	f.Origin = r3.Add(o, r3.Add(r3.Scale(c.X, u), r3.Scale(c.Y, v)))
	var sum float64
	for _, p := range flat {
		e := r2.Norm(r2.Sub(p, c)) - r
		sum += e * e
	}
	f.Error = math.Sqrt(sum / float64(max(1, len(flat))))
	return f
}

// ConeAxis returns the axis to which all normals keep one angle, and the root
// mean square deviation of n·axis from its mean.
func ConeAxis(s Faces) (axis r3.Vec, height, spread float64) {
	var total float64
	var m r3.Vec
	for i, n := range s.Normals {
		m = r3.Add(m, r3.Scale(s.Areas[i], n))
		total += s.Areas[i]
	}
	if total == 0 {
		return r3.Vec{Z: 1}, 0, 1
	}
	m = r3.Scale(1/total, m)
	sc := mat.NewSymDense(3, nil)
	for i, n := range s.Normals {
		addOuter(sc, r3.Sub(n, m), s.Areas[i])
	}
	v, l := smallest(sc)
	h := r3.Dot(v, m)
	if h < 0 {
		v, h = r3.Scale(-1, v), -h
	}
	return v, h, math.Sqrt(max(0, l) / total)
}

// FitCone fits a circular cone whose normals lean along axis by height = n·axis.
// Gauss-Newton on the distance of the corners to the cone, over the place of
// the axis, the radius and the slope.
func FitCone(s Faces, axis r3.Vec, height float64) Fit {
	axis = unit(axis)
	u, v := mesh.Basis(axis)
	o := mean(s.Points)
	slope := height / math.Sqrt(max(1e-12, 1-height*height)) // radius lost per unit along the axis
	var c r2.Vec
	var r0 float64
	// Start: remove the slope, so that every corner lies on a circle of one radius.
	flat := make([]r3.Vec, len(s.Points))
	for i, p := range s.Points {
		d := r3.Sub(p, o)
		flat[i] = r3.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v), Z: r3.Dot(d, axis)}
		r0 += math.Hypot(flat[i].X, flat[i].Y) + slope*flat[i].Z
	}
	r0 /= float64(max(1, len(flat)))
	for range 20 {
		a := mat.NewSymDense(4, nil)
		b := mat.NewVecDense(4, nil)
		for _, p := range flat {
			dx, dy := p.X-c.X, p.Y-c.Y
			rho := math.Hypot(dx, dy)
			if rho == 0 {
				continue
			}
			e := rho - (r0 - slope*p.Z)
			g := [4]float64{-dx / rho, -dy / rho, -1, p.Z}
			for i := range 4 {
				b.SetVec(i, b.AtVec(i)-g[i]*e)
				for j := i; j < 4; j++ {
					a.SetSym(i, j, a.At(i, j)+g[i]*g[j])
				}
			}
		}
		for i := range 4 {
			a.SetSym(i, i, a.At(i, i)*(1+1e-12)+1e-300)
		}
		var x mat.VecDense
		if err := x.SolveVec(a, b); err != nil {
			break
		}
		c.X += x.AtVec(0)
		c.Y += x.AtVec(1)
		r0 += x.AtVec(2)
		slope += x.AtVec(3)
		if mat.Norm(&x, 2) < 1e-13*(math.Abs(r0)+1e-300) {
			break
		}
	}
	f := Fit{Kind: Cone, Axis: axis, HalfAngle: math.Atan(math.Abs(slope))}
	f.Origin = r3.Add(o, r3.Add(r3.Scale(c.X, u), r3.Scale(c.Y, v)))
	cos := math.Cos(math.Atan(slope))
	var sum float64
	for _, p := range flat {
		rho := math.Hypot(p.X-c.X, p.Y-c.Y)
		f.Radius = max(f.Radius, rho)
		e := (rho - (r0 - slope*p.Z)) * cos
		sum += e * e
	}
	f.Error = math.Sqrt(sum / float64(max(1, len(flat))))
	return f
}

// fitCircle starts from the algebraic fit and refines the geometric distance.
func fitCircle(p []r2.Vec) (c r2.Vec, r float64) {
	a, b := mat.NewSymDense(3, nil), mat.NewVecDense(3, nil)
	var scale float64
	for _, q := range p {
		scale = max(scale, r2.Norm(q))
	}
	if scale == 0 {
		return c, 0
	}
	for _, q := range p {
		x, y := q.X/scale, q.Y/scale
		g, z := [3]float64{x, y, 1}, x*x+y*y
		for i := range 3 {
			b.SetVec(i, b.AtVec(i)+g[i]*z)
			for j := i; j < 3; j++ {
				a.SetSym(i, j, a.At(i, j)+g[i]*g[j])
			}
		}
	}
	var x mat.VecDense
	if err := x.SolveVec(a, b); err != nil {
		return c, scale
	}
	c = r2.Vec{X: x.AtVec(0) / 2 * scale, Y: x.AtVec(1) / 2 * scale}
	r = scale * math.Sqrt(max(0, x.AtVec(2)+(c.X*c.X+c.Y*c.Y)/(scale*scale)))
	for range 20 {
		a, b := mat.NewSymDense(3, nil), mat.NewVecDense(3, nil)
		for _, q := range p {
			d := r2.Sub(q, c)
			rho := r2.Norm(d)
			if rho == 0 {
				continue
			}
			e := rho - r
			g := [3]float64{-d.X / rho, -d.Y / rho, -1}
			for i := range 3 {
				b.SetVec(i, b.AtVec(i)-g[i]*e)
				for j := i; j < 3; j++ {
					a.SetSym(i, j, a.At(i, j)+g[i]*g[j])
				}
			}
		}
		if err := x.SolveVec(a, b); err != nil {
			break
		}
		c = r2.Add(c, r2.Vec{X: x.AtVec(0), Y: x.AtVec(1)})
		r += x.AtVec(2)
		if mat.Norm(&x, 2) < 1e-14*scale {
			break
		}
	}
	return c, math.Abs(r)
}

func addOuter(m *mat.SymDense, n r3.Vec, w float64) {
	v := [3]float64{n.X, n.Y, n.Z}
	for i := range 3 {
		for j := i; j < 3; j++ {
			m.SetSym(i, j, m.At(i, j)+w*v[i]*v[j])
		}
	}
}

func smallest(m *mat.SymDense) (r3.Vec, float64) {
	var e mat.EigenSym
	if !e.Factorize(m, true) {
		return r3.Vec{Z: 1}, 0
	}
	var v mat.Dense
	e.VectorsTo(&v)
	return unit(r3.Vec{X: v.At(0, 0), Y: v.At(1, 0), Z: v.At(2, 0)}), e.Values(nil)[0]
}

func unit(v r3.Vec) r3.Vec {
	l := r3.Norm(v)
	if l == 0 {
		return r3.Vec{}
	}
	return r3.Scale(1/l, v)
}

// canonical turns an axis so that its largest component is positive.
func canonical(v r3.Vec) r3.Vec {
	v = unit(v)
	x, y, z := math.Abs(v.X), math.Abs(v.Y), math.Abs(v.Z)
	if y > x*1.001 && y >= z && v.Y < 0 || z > x*1.001 && z > y*1.001 && v.Z < 0 || x*1.001 >= y && x*1.001 >= z && v.X < 0 {
		return r3.Scale(-1, v)
	}
	return v
}

func mean(p []r3.Vec) r3.Vec {
	var c r3.Vec
	for _, q := range p {
		c = r3.Add(c, q)
	}
	return r3.Scale(1/float64(max(1, len(p))), c)
}

func rms(p []r3.Vec, dist func(r3.Vec) float64) float64 {
	var sum float64
	for _, q := range p {
		d := dist(q)
		sum += d * d
	}
	return math.Sqrt(sum / float64(max(1, len(p))))
}
