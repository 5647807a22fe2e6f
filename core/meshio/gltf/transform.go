package gltf

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"
)

// affine maps points: columns of the linear part, and where the origin goes.
type affine struct {
	x, y, z, at r3.Vec
}

var identity = affine{x: r3.Vec{X: 1}, y: r3.Vec{Y: 1}, z: r3.Vec{Z: 1}}

func (a affine) linear(v r3.Vec) r3.Vec {
	return r3.Add(r3.Add(r3.Scale(v.X, a.x), r3.Scale(v.Y, a.y)), r3.Scale(v.Z, a.z))
}

func (a affine) point(v r3.Vec) r3.Vec { return r3.Add(a.linear(v), a.at) }

// of is a after b.
func (a affine) of(b affine) affine {
	return affine{a.linear(b.x), a.linear(b.y), a.linear(b.z), a.point(b.at)}
}

// det is the factor of volumes; below 0 the map mirrors.
func (a affine) det() float64 { return r3.Dot(a.x, r3.Cross(a.y, a.z)) }

// normal maps normals: by the cofactors, which are the inverse transposed but for a scale.
func (a affine) normal(n r3.Vec) r3.Vec {
	s := 1.
	if a.det() < 0 {
		s = -1
	}
	out := affine{x: r3.Cross(a.y, a.z), y: r3.Cross(a.z, a.x), z: r3.Cross(a.x, a.y)}.linear(r3.Scale(s, n))
	if l := r3.Norm(out); l > 0 {
		return r3.Scale(1/l, out)
	}
	return n
}

// scales are the largest and the least factor of lengths.
func (a affine) scales() (most, least float64) {
	var svd mat.SVD
	m := mat.NewDense(3, 3, []float64{a.x.X, a.y.X, a.z.X, a.x.Y, a.y.Y, a.z.Y, a.x.Z, a.y.Z, a.z.Z})
	if !svd.Factorize(m, mat.SVDNone) {
		return 1, 1
	}
	v := svd.Values(nil)
	return v[0], v[2]
}

// even is how much two scales may differ and still be one.
const even = 1e-6

// says tells in words what baking a transform does beside turning and moving; "" for nothing.
func (a affine) says() string {
	most, least := a.scales()
	mirrored := a.det() < 0
	switch {
	case most-least > even*most && mirrored:
		return fmt.Sprintf("mirrored, and an uneven scale of %.4g to %.4g, baked in", least, most)
	case most-least > even*most:
		return fmt.Sprintf("an uneven scale of %.4g to %.4g baked in", least, most)
	case mirrored && math.Abs(most-1) > even:
		return fmt.Sprintf("mirrored, and a scale of %.4g, baked in", most)
	case mirrored:
		return "mirrored, baked in"
	case math.Abs(most-1) > even:
		return fmt.Sprintf("a scale of %.4g baked in", most)
	}
	return ""
}

// transform is that of a node itself.
func (n *node) transform() (affine, error) {
	if m := n.Matrix; m != nil {
		a := affine{r3.Vec{X: m[0], Y: m[1], Z: m[2]}, r3.Vec{X: m[4], Y: m[5], Z: m[6]}, r3.Vec{X: m[8], Y: m[9], Z: m[10]}, r3.Vec{X: m[12], Y: m[13], Z: m[14]}}
		if math.Abs(m[3])+math.Abs(m[7])+math.Abs(m[11])+math.Abs(m[15]-1) > 1e-6 {
			return a, fmt.Errorf("its matrix is no affine one")
		}
		return a, nil
	}
	a := identity
	if q := n.Rotation; q != nil {
		x, y, z, w := q[0], q[1], q[2], q[3]
		l := math.Sqrt(x*x + y*y + z*z + w*w)
		if !(l > 1e-9) {
			return a, fmt.Errorf("its rotation is none")
		}
		x, y, z, w = x/l, y/l, z/l, w/l
		a.x = r3.Vec{X: 1 - 2*(y*y+z*z), Y: 2 * (x*y + z*w), Z: 2 * (x*z - y*w)}
		a.y = r3.Vec{X: 2 * (x*y - z*w), Y: 1 - 2*(x*x+z*z), Z: 2 * (y*z + x*w)}
		a.z = r3.Vec{X: 2 * (x*z + y*w), Y: 2 * (y*z - x*w), Z: 1 - 2*(x*x+y*y)}
	}
	if s := n.Scale; s != nil {
		a.x, a.y, a.z = r3.Scale(s[0], a.x), r3.Scale(s[1], a.y), r3.Scale(s[2], a.z)
	}
	if t := n.Translation; t != nil {
		a.at = r3.Vec{X: t[0], Y: t[1], Z: t[2]}
	}
	return a, nil
}
