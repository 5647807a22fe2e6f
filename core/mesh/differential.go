package mesh

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"
)

// Differential is the linear map of a triangle from the surface to the sheet.
type Differential struct {
	GradU, GradV r3.Vec  // gradients of U and V on the surface, 1/model unit
	Area         float64 // of the surface
	SheetArea    float64 // signed, positive when not mirrored
}

// NewDifferential returns the differential of the triangle abc mapped to uv; ok
// is false if the triangle has no area in space.
func NewDifferential(a, b, c r3.Vec, uv [3]r2.Vec) (d Differential, ok bool) {
	e1, e2 := r3.Sub(b, a), r3.Sub(c, a)
	n := r3.Cross(e1, e2)
	n2 := r3.Norm2(n)
	u1, u2 := r2.Sub(uv[1], uv[0]), r2.Sub(uv[2], uv[0])
	d.SheetArea = r2.Cross(u1, u2) / 2
	long := max(r3.Norm2(e1), r3.Norm2(e2))
	if n2 <= long*long*1e-24 {
		return d, false
	}
	d.Area = math.Sqrt(n2) / 2
	// Dual basis of e1, e2 in the triangle's plane.
	g1 := r3.Scale(1/n2, r3.Cross(e2, n))
	g2 := r3.Scale(1/n2, r3.Cross(n, e1))
	d.GradU = r3.Add(r3.Scale(u1.X, g1), r3.Scale(u2.X, g2))
	d.GradV = r3.Add(r3.Scale(u1.Y, g1), r3.Scale(u2.Y, g2))
	return d, true
}

// Push returns the direction on the sheet of a direction on the surface.
func (d Differential) Push(dir r3.Vec) r2.Vec {
	return r2.Vec{X: r3.Dot(d.GradU, dir), Y: r3.Dot(d.GradV, dir)}
}

// Stretch returns the singular values σ₁ ≥ σ₂ of the inverse map, sheet →
// surface, in model units per sheet unit; infinite where the sheet side has no
// area.
func (d Differential) Stretch() (s1, s2 float64) {
	a, b, c := r3.Norm2(d.GradU), r3.Dot(d.GradU, d.GradV), r3.Norm2(d.GradV)
	mid, dev := (a+c)/2, math.Hypot((a-c)/2, b)
	big, small := math.Sqrt(mid+dev), math.Sqrt(max(0, mid-dev))
	if det := math.Abs(d.SheetArea) / d.Area; big > 0 { // exact product, also for slivers
		small = det / big
	}
	return 1 / small, 1 / big
}

// Differentials returns the differentials of the triangles of a patch under a
// map given per vertex; ok is false for triangles without area.
func (p *Patch) Differentials(uv []r2.Vec) (d []Differential, ok []bool) {
	d, ok = make([]Differential, len(p.Tris)), make([]bool, len(p.Tris))
	for i, t := range p.Tris {
		d[i], ok[i] = NewDifferential(p.Pos[t[0]], p.Pos[t[1]], p.Pos[t[2]], [3]r2.Vec{uv[t[0]], uv[t[1]], uv[t[2]]})
	}
	return d, ok
}

// Stretch sums up a map of a patch: L² stretch after scaling to true area (Sander
// et al. 2001), 1 for an isometry, and the 95th percentile by area of σ₁/σ₂.
// Triangles without area in space or on the sheet do not count.
func (p *Patch) Stretch(uv []r2.Vec) (l2, angularP95 float64) {
	d, ok := p.Differentials(uv)
	var area, flat, sum float64
	type ratio struct{ value, area float64 }
	var ratios []ratio
	for i := range d {
		if !ok[i] || d[i].SheetArea == 0 {
			continue
		}
		s1, s2 := d[i].Stretch()
		area += d[i].Area
		flat += math.Abs(d[i].SheetArea)
		sum += d[i].Area * (s1*s1 + s2*s2) / 2
		ratios = append(ratios, ratio{s1 / s2, d[i].Area})
	}
	if area == 0 {
		return 1, 1
	}
	slices.SortFunc(ratios, func(a, b ratio) int { return cmp.Compare(a.value, b.value) })
	run := 0.0
	angularP95 = 1
	for _, r := range ratios {
		angularP95 = r.value
		if run += r.area; run >= 0.95*area {
			break
		}
	}
	return math.Sqrt(sum/area) * math.Sqrt(flat/area), angularP95
}
