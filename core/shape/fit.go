// Package shape fits primitive shapes to sets of faces and says how well each
// fits. Faceting is not error: a cylinder with flat facets has its corners on
// the cylinder, so distances are measured at corners and normals are compared
// at the middle of facets.
//
// What a surface can be follows from the rigid motions it is invariant under
// (slippage, Gelfand & Guibas 2004; line geometry, Pottmann & Randrup 1998);
// parameters are refined by least squares on the distance of the corners
// (Levenberg 1944, Marquardt 1963).
package shape

import (
	"math"

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
	Sphere   Kind = "sphere"
	Torus    Kind = "torus"
	Turned   Kind = "turned"
	Extruded Kind = "extruded"
	Swept    Kind = "swept"
	Helix    Kind = "helix"
	Box      Kind = "box"
	Free     Kind = "free"
)

// Kinds lists all kinds, simple ones first.
var Kinds = []Kind{Plane, Cylinder, Cone, Sphere, Torus, Extruded, Turned, Swept, Box, Helix, Free}

// Fit is a shape with its parameters and how far the faces are from it.
type Fit struct {
	Kind      Kind     `json:"kind"`
	Axis      r3.Vec   `json:"axis"`             // unit; normal of a plane, axis of the others, zero for sphere and swept; free: what it goes round, or zero; softened: of what it is mostly
	Origin    r3.Vec   `json:"origin"`           // a point on the plane or axis, the centre of a sphere or torus
	Radius    float64  `json:"radius"`           // model units; cone: the largest, torus, coil: of the tube, swept: mean of the section
	Major     float64  `json:"major,omitempty"`  // torus, coil: from the centre or axis to the middle of the tube; cone: radius at Origin
	Pitch     float64  `json:"pitch,omitempty"`  // helix: way along the axis for a turn, positive for a right-handed one
	HalfAngle float64  `json:"half_angle"`       // radians, cones only; the radius falls along +Axis
	Error     float64  `json:"error"`            // root mean square distance of the corners, model units
	Bend      float64  `json:"bend,omitempty"`   // root mean square deviation of the normals, radians
	Spine     []r3.Vec `json:"spine,omitempty"`  // swept, and a helix that is a tube: middles of the sections from end to end
	Side      r3.Vec   `json:"side"`             // box: the second axis, unit; the third is Axis × Side
	Half      r3.Vec   `json:"half"`             // box: half sizes along Axis, Side and the third
	Mostly    Kind     `json:"mostly,omitempty"` // free: the shape it is but for rounds at its rims
	Score     float64  `json:"score,omitempty"`  // lower is better, comparable between kinds; set where fits are ranked
}

// Faces is the set of faces a fit looks at. Faces that lie in one plane may be
// given as one facet.
type Faces struct {
	Normals []r3.Vec // unit, one a facet
	Areas   []float64
	Centres []r3.Vec // of area
	Points  []r3.Vec // every corner once or more
	Rough   bool     // closed forms only, no refinement: for regions that still grow
}

// Gather collects what a fit needs from faces of a mesh.
func Gather(m *mesh.Mesh, faces []mesh.FaceID) Faces {
	var s Faces
	n, a := m.FaceNormals(), m.FaceAreas()
	for _, f := range faces {
		s.Normals = append(s.Normals, n[f])
		s.Areas = append(s.Areas, a[f])
		s.Centres = append(s.Centres, m.FaceCentre(f))
		for _, p := range m.FacePoints(f) {
			s.Points = append(s.Points, m.Points[p])
		}
	}
	return s
}

// HasDistance tells whether a kind has a distance in closed form.
func (f *Fit) HasDistance() bool {
	switch f.Kind {
	case Plane, Cylinder, Cone, Sphere, Torus, Box:
		return true
	}
	return false
}

// Distance returns the signed distance of a point to the surface, positive on
// the outer side, in model units; 0 for kinds without a closed form.
func (f *Fit) Distance(p r3.Vec) float64 {
	d := r3.Sub(p, f.Origin)
	switch f.Kind {
	case Plane:
		return r3.Dot(d, f.Axis)
	case Sphere:
		return math.Sqrt(r3.Norm2(d)) - f.Radius
	case Box:
		return f.boxDistance(d)
	}
	t := r3.Dot(d, f.Axis)
	rho := math.Sqrt(max(0, r3.Norm2(r3.Sub(d, r3.Scale(t, f.Axis)))))
	switch f.Kind {
	case Cylinder:
		return rho - f.Radius
	case Cone:
		s, c := math.Sincos(f.HalfAngle)
		return (rho-f.Major)*c + t*s
	case Torus:
		rho -= f.Major
		return math.Sqrt(rho*rho+t*t) - f.Radius
	}
	return 0
}

// Normal returns the outer unit normal of the surface nearest to p; ok is false
// where there is none, as on the axis, and for kinds without a closed form.
func (f *Fit) Normal(p r3.Vec) (n r3.Vec, ok bool) {
	d := r3.Sub(p, f.Origin)
	t := r3.Dot(d, f.Axis)
	out := r3.Sub(d, r3.Scale(t, f.Axis))
	rho := math.Sqrt(r3.Norm2(out))
	switch f.Kind {
	case Plane:
		return f.Axis, true
	case Box:
		return f.boxNormal(d), true
	case Sphere:
		n = d
	case Cylinder:
		n = out
	case Cone:
		if rho == 0 {
			return n, false
		}
		s, c := math.Sincos(f.HalfAngle)
		n = r3.Add(r3.Scale(c/rho, out), r3.Scale(s, f.Axis))
	case Torus:
		if rho == 0 {
			return n, false
		}
		n = r3.Sub(d, r3.Scale(f.Major/rho, out))
	default:
		return n, false
	}
	l := math.Sqrt(r3.Norm2(n))
	if l == 0 {
		return n, false
	}
	return r3.Scale(1/l, n), true
}

// Deviation returns the angle in radians by which the normal n of a facet with
// centre c disagrees with the shape, whichever side the facet shows. Kinds
// without a closed form answer by their symmetry: an extrusion wants normals
// across its axis, a turned surface wants them to meet it.
func (f *Fit) Deviation(c, n r3.Vec) float64 {
	switch f.Kind {
	case Extruded:
		return math.Asin(clamp(math.Abs(r3.Dot(n, f.Axis))))
	case Helix:
		v := f.Motion(c)
		if l := r3.Norm(v); l > 0 {
			return math.Asin(clamp(math.Abs(r3.Dot(n, v)) / l))
		}
		return 0
	case Turned:
		t := r3.Cross(f.Axis, r3.Sub(c, f.Origin))
		if l := math.Sqrt(r3.Norm2(t)); l > 0 {
			return math.Asin(clamp(math.Abs(r3.Dot(n, t)) / l))
		}
		return 0
	}
	m, ok := f.Normal(c)
	if !ok {
		return 0
	}
	a := mesh.Angle(m, n)
	return min(a, math.Pi-a)
}

// measure sets Error and Bend from the faces.
func (f *Fit) measure(s Faces) {
	var bend, area, err float64
	for i, n := range s.Normals {
		d := f.Deviation(s.Centres[i], n)
		bend += s.Areas[i] * d * d
		area += s.Areas[i]
		if !f.HasDistance() { // a tilted facet is off by about its tilt times a quarter of its size
			e := d * math.Sqrt(s.Areas[i]) / 4
			err += s.Areas[i] * e * e
		}
	}
	if area > 0 {
		f.Bend = math.Sqrt(bend / area)
		f.Error = math.Sqrt(err / area)
	}
	if f.HasDistance() {
		f.Error = rms(s.Points, f.Distance)
	}
}

func clamp(x float64) float64 { return max(-1, min(1, x)) }

// canonical turns an axis so that its largest component is positive.
func canonical(v r3.Vec) r3.Vec {
	v = mesh.Unit(v)
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

// centroid is the middle of the facets by area, of the corners without any.
func (s Faces) centroid() r3.Vec {
	var c r3.Vec
	var area float64
	for i, q := range s.Centres {
		c = r3.Add(c, r3.Scale(s.Areas[i], q))
		area += s.Areas[i]
	}
	if area == 0 {
		return mean(s.Points)
	}
	return r3.Scale(1/area, c)
}

func rms(p []r3.Vec, dist func(r3.Vec) float64) float64 {
	var sum float64
	for _, q := range p {
		d := dist(q)
		sum += d * d
	}
	return math.Sqrt(sum / float64(max(1, len(p))))
}
