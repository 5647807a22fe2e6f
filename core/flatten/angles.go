package flatten

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/sparse"
)

// AngleBased returns the map whose angles differ least, relative to themselves, from
// those of the surface: linear angle-based flattening (Zayer, Lévy & Seidel 2007). The
// places of the vertices then follow from the angles by least squares.
func AngleBased(ctx context.Context, p *mesh.Patch) ([]r2.Vec, error) {
	return measured(p).angleBased(ctx, &Constraints{})
}

func (g *surface) angleBased(ctx context.Context, keep *Constraints) ([]r2.Vec, error) {
	angles, err := g.flatAngles(ctx)
	if err != nil {
		return nil, err
	}
	flat := &surface{Patch: g.Patch, el: make([]element, len(g.el)), area: g.area}
	for t := range g.Tris {
		flat.el[t] = withAngles(angles[t], g.el[t].area, g.el[t].thin)
	}
	return flat.conformal(ctx, keep)
}

// leastAngle bounds the angles of flat triangles from below, radians.
const leastAngle = 1e-4

// withAngles is a triangle with given angles, scaled to a sum of π, and area.
func withAngles(a [3]float64, area float64, thin bool) element {
	total := 0.0
	for k := range a {
		a[k] = max(a[k], leastAngle)
		total += a[k]
	}
	for k := range a {
		a[k] *= math.Pi / total
	}
	// Side 0–1 of length 1, the others by the law of sines.
	s, c := math.Sincos(a[0])
	side := math.Sin(a[1]) / math.Sin(a[2])
	q := [3]r2.Vec{{}, {X: 1}, {X: side * c, Y: side * s}}
	k := math.Sqrt(2 * area / (side * s))
	for i := range q {
		q[i] = r2.Scale(k, q[i])
	}
	return shaped(q, thin)
}

// flatAngles solves for the angles of each triangle in the plane: they sum to π in each
// triangle, to 2π around each inside vertex, and the fans close (linearised).
func (g *surface) flatAngles(ctx context.Context) ([][3]float64, error) {
	border := make([]bool, len(g.Pos))
	for _, loop := range g.Borders() {
		for _, c := range loop {
			border[g.CornerVert[c]] = true
		}
	}
	angle := make([][3]float64, len(g.Tris))
	around := make([]float64, len(g.Pos))
	for t, tri := range g.Tris {
		for k, v := range tri {
			// Gradients are normal to the sides, so they show the angles between them.
			a, b := g.el[t].grad[(k+1)%3], g.el[t].grad[(k+2)%3]
			angle[t][k] = max(math.Pi-math.Atan2(math.Abs(r2.Cross(a, b)), r2.Dot(a, b)), leastAngle)
			around[v] += angle[t][k]
		}
	}
	index := make([]int, len(g.Pos)) // row of each inside vertex
	rows := len(g.Tris)
	for v := range index {
		if !border[v] {
			index[v] = rows
			rows += 2 // the sum around it and the closing of its fan
		}
	}
	for t, tri := range g.Tris {
		for k, v := range tri {
			if !border[v] {
				angle[t][k] *= 2 * math.Pi / around[v]
			}
		}
	}
	b := sparse.NewBuilder(rows, 30*len(g.Tris)+rows)
	rhs := make([]float64, rows)
	type entry struct {
		row int
		x   float64
	}
	column := func(t, k int) (out []entry) { // what the k-th angle of a triangle counts in
		tri := g.Tris[t]
		out = append(out, entry{t, 1})
		if v := tri[k]; !border[v] {
			out = append(out, entry{index[v], 1})
		}
		cot := 1 / math.Tan(angle[t][k])
		if v := tri[(k+2)%3]; !border[v] { // it is the next angle of that vertex
			out = append(out, entry{index[v] + 1, cot})
		}
		if v := tri[(k+1)%3]; !border[v] {
			out = append(out, entry{index[v] + 1, -cot})
		}
		return out
	}
	for t, tri := range g.Tris {
		rhs[t] += math.Pi
		for k := range 3 {
			rhs[t] -= angle[t][k]
			l := math.Log(math.Sin(angle[t][k]))
			if v := tri[(k+2)%3]; !border[v] {
				rhs[index[v]+1] -= l
			}
			if v := tri[(k+1)%3]; !border[v] {
				rhs[index[v]+1] += l
			}
			c := column(t, k)
			w := angle[t][k] * angle[t][k]
			for i, x := range c {
				for _, y := range c[i:] {
					b.Add(x.row, y.row, w*x.x*y.x)
				}
			}
		}
	}
	var most float64
	for t := range angle {
		for k := range 3 {
			most = max(most, angle[t][k])
		}
	}
	for r := range rows {
		b.Add(r, r, 1e-12*most*most)
	}
	x, err := sparse.Solve(ctx, b.Build(), rhs)
	if err != nil {
		return nil, err
	}
	for t := range g.Tris {
		var change [3]float64
		for k := range 3 {
			for _, e := range column(t, k) {
				change[k] += e.x * x[e.row]
			}
			change[k] *= angle[t][k] * angle[t][k]
		}
		for k := range 3 {
			angle[t][k] = max(angle[t][k]+change[k], leastAngle)
		}
	}
	return angle, nil
}
