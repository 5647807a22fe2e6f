package parts_test

import (
	"fmt"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

// clip keeps what of a convex polygon is not beyond a plane: n·p ≤ d.
func clip(poly []r3.Vec, n r3.Vec, d float64) (out []r3.Vec) {
	for i, p := range poly {
		q := poly[(i+1)%len(poly)]
		a, b := r3.Dot(n, p)-d, r3.Dot(n, q)-d
		if a <= 0 {
			out = append(out, p)
		}
		if (a < 0) != (b < 0) && a != 0 && b != 0 {
			out = append(out, r3.Add(p, r3.Scale(a/(a-b), r3.Sub(q, p))))
		}
	}
	if len(out) < 3 {
		return nil
	}
	return out
}

// slotted is a lathe with two slots of a half width, each from a height up to the rim, as a
// boolean operation leaves it: corners of the slots lie on the chords of its columns.
func slotted(t *testing.T, n int, half float64, from [2]float64, profile ...r2.Vec) *mesh.Mesh {
	t.Helper()
	full := meshtest.Lathe(t, n, profile...)
	up, across := r3.Vec{Y: 1}, r3.Vec{Z: 1}
	var polys [][]r3.Vec
	keep := func(p []r3.Vec) {
		if p != nil {
			polys = append(polys, p)
		}
	}
	for f := range full.NumFaces() {
		var poly []r3.Vec
		in, side := false, 0
		for _, p := range full.FacePoints(mesh.FaceID(f)) {
			q := full.Points[p]
			poly = append(poly, q)
			in = in || math.Abs(q.Z) < half
			if q.X < 0 {
				side = 1
			}
		}
		if !in {
			keep(poly)
			continue
		}
		keep(clip(poly, up, from[side]))
		above := clip(poly, r3.Scale(-1, up), -from[side])
		keep(clip(above, across, -half))
		keep(clip(above, r3.Scale(-1, across), -half))
	}
	w := meshtest.NewWelder()
	for i, poly := range polys {
		var ids []mesh.PointID
		for k, p := range poly {
			ids = append(ids, w.Point(p))
			q := poly[(k+1)%len(poly)]
			for j, other := range polys { // what ends on its side
				for _, x := range other {
					d, e := r3.Sub(x, p), r3.Sub(q, p)
					s := r3.Dot(d, e) / r3.Norm2(e)
					if j != i && s > 1e-6 && s < 1-1e-6 && r3.Norm(r3.Cross(d, e)) < 1e-9*r3.Norm2(e) {
						if id := w.Point(x); id != ids[len(ids)-1] {
							ids = append(ids, id)
						}
					}
				}
			}
		}
		w.Face(ids...)
	}
	return w.Mesh(t)
}

// A wall and what slots leave of the cone it goes over into are parts of their own.
func TestSlottedWallsAndTheirCones(t *testing.T) {
	for _, n := range []int{32, 48, 90} {
		for _, deg := range []float64{10, 16, 24} {
			top := 10 - 12*math.Tan(deg*math.Pi/180)
			for _, half := range []float64{0.9, 3} {
				m := slotted(t, n, half, [2]float64{14, 2}, r2.Vec{}, r2.Vec{X: 10}, r2.Vec{X: 10, Y: 20}, r2.Vec{X: top, Y: 32}, r2.Vec{Y: 32})
				found := recognise(t, exported(t, m))
				name := fmt.Sprintf("%d round, %g°, slot of %g", n, deg, 2*half)
				wantKinds(t, name, found, map[shape.Kind]int{shape.Cylinder: 1, shape.Cone: 2, shape.Plane: 3})
				for _, p := range found {
					if p.Fit.Kind == shape.Cylinder && math.Abs(p.Fit.Radius-10) > 1e-3 {
						t.Errorf("%s: the wall has a radius of %g, want 10", name, p.Fit.Radius)
					}
					if p.Fit.Kind == shape.Cone && math.Abs(p.Fit.HalfAngle*180/math.Pi-deg) > 0.05 {
						t.Errorf("%s: half angle %g°", name, p.Fit.HalfAngle*180/math.Pi)
					}
				}
			}
		}
	}
}
