package flow_test

import (
	"context"
	"math"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// laid flattens a patch and turns it upright.
func laid(t testing.TB, p *mesh.Patch) []r2.Vec {
	t.Helper()
	r, err := flatten.Flatten(context.Background(), p, flatten.Settings{})
	if err != nil {
		t.Fatal(err)
	}
	flatten.TrueScale(p, r.UV)
	flow.Orient(p, r.UV, flow.Grain{}, flow.Settings{Up: r3.Vec{Y: 1}})
	return r.UV
}

func trued(t testing.TB, p *mesh.Patch, uv []r2.Vec, s flow.TrueSettings) flow.Trued {
	t.Helper()
	r, err := flow.TrueUp(context.Background(), p, uv, s)
	if err != nil {
		t.Fatal(err)
	}
	if n := flatten.Flips(p, r.UV); n > 0 {
		t.Errorf("%d triangles turned over", n)
	}
	for _, l := range r.Lines {
		if l.Released {
			continue
		}
		for _, v := range l.Verts {
			d := r2.Sub(r.UV[v], r.UV[l.Verts[0]])
			if off := d.X; l.AlongU {
				off = d.Y
				if off != 0 {
					t.Fatalf("a line along U is off by %g", off)
				}
			} else if off != 0 {
				t.Fatalf("a line along V is off by %g", off)
			}
		}
	}
	return r
}

// The shapes that people straighten, as functions of two parameters.
func drumWall(u, v float64) r3.Vec {
	s, c := math.Sincos(6 * u)
	return r3.Vec{X: s, Y: 1.5 * v, Z: c}
}
func bentChannel(u, v float64) r3.Vec { // along Z, its section three sides of a box
	x := 3 * u
	z := -4 * v
	switch {
	case x < 1:
		return r3.Vec{X: 0, Y: 1 - x, Z: z}
	case x < 2:
		return r3.Vec{X: x - 1, Y: 0, Z: z}
	}
	return r3.Vec{X: 1, Y: x - 2, Z: z}
}
func curvedStrip(u, v float64) r3.Vec { // a guard panel bent in its own plane
	s, c := math.Sincos(0.7 * (u - 0.5))
	r := 4 + 0.5*v
	return r3.Vec{X: r * s, Z: -r * c}
}
func taperedArm(u, v float64) r3.Vec {
	return r3.Vec{X: 3 * u, Z: -(v - 0.5) * (0.6 - 0.1*u), Y: 0.1 * u * u}
}
func elbow(u, v float64) r3.Vec { // the outside of a tight bend
	su, cu := math.Sincos(math.Pi / 2 * u)
	sv, cv := math.Sincos(math.Pi * (v - 0.5))
	return r3.Vec{X: (1.5 + cv) * cu, Y: sv, Z: -(1.5 + cv) * su}
}
func cap_(u, v float64) r3.Vec {
	x, y := 1.3*(u-0.5), 1.3*(v-0.5)
	return r3.Vec{X: x, Z: -y, Y: math.Sqrt(1 - x*x - y*y)}
}
func twisted(u, v float64) r3.Vec { // a quarter turn along its length
	s, c := math.Sincos(math.Pi / 2 * u)
	return r3.Vec{X: 6 * u, Y: (v - 0.5) * s, Z: -(v - 0.5) * c}
}
func sBend(u, v float64) r3.Vec { // straight, a quarter left, straight, a quarter right, straight
	l := u * (6 + math.Pi)
	w := 0.6 * (v - 0.5)
	at := func(x, y, a float64) r3.Vec { s, c := math.Sincos(a); return r3.Vec{X: x - w*s, Z: -(y + w*c)} }
	switch {
	case l < 2:
		return at(l, 0, 0)
	case l < 2+math.Pi/2:
		a := l - 2
		s, c := math.Sincos(a)
		return at(2+s, 1-c, a)
	case l < 4+math.Pi/2:
		return at(3, 1+l-2-math.Pi/2, math.Pi/2)
	case l < 4+math.Pi:
		a := math.Pi/2 - (l - 4 - math.Pi/2)
		s, c := math.Sincos(a)
		return at(4-s, 3+c, a)
	}
	return at(4+l-4-math.Pi, 4, 0)
}

func patchOf(t testing.TB, n, rows int, at func(u, v float64) r3.Vec) *mesh.Patch {
	return meshtest.Whole(meshtest.Grid(t, n, rows, at))
}

// Shells whose loops can be straight come out as grids, every edge on an axis.
func TestGridsComeOutStraight(t *testing.T) {
	for name, c := range map[string]struct {
		n, rows int
		at      func(u, v float64) r3.Vec
		most    float64
	}{
		"drum wall": {24, 4, drumWall, 1 + 1e-6}, "bent channel": {9, 6, bentChannel, 1 + 1e-6}, "curved strip": {20, 3, curvedStrip, 1.08},
		"tapered arm": {12, 3, taperedArm, 1.15}, "twisted": {30, 3, twisted, 1.06},
	} {
		p := patchOf(t, c.n, c.rows, c.at)
		r := trued(t, p, laid(t, p), flow.TrueSettings{})
		straight, total := flow.StraightShare(p, r.UV)
		if !r.Grid || straight < total*(1-1e-9) || r.After.Worst > c.most {
			t.Errorf("%s: grid %v, %.1f %% straight, worst ×%.4f (before ×%.4f), %s", name, r.Grid, 100*straight/total, r.After.Worst, r.Before.Worst, r.Why)
		}
	}
}

// What resists stays within the tolerance: loops are shortened to where they are straight
// or released, worst first.
func TestWhatResistsIsReleased(t *testing.T) {
	for name, c := range map[string]struct {
		n, rows int
		at      func(u, v float64) r3.Vec
	}{"elbow": {16, 10, elbow}, "cap": {12, 12, cap_}} {
		p := patchOf(t, c.n, c.rows, c.at)
		uv := laid(t, p)
		r := trued(t, p, uv, flow.TrueSettings{})
		released := 0
		for _, l := range r.Lines {
			if l.Released || l.Shortened {
				released++
			}
		}
		if r.Grid || released == 0 || r.After.Worst > max(1.15, 1.021*r.Before.Worst) {
			t.Errorf("%s: grid %v, %d of %d released or shortened, worst ×%.3f after ×%.3f, %s", name, r.Grid, released, len(r.Lines), r.After.Worst, r.Before.Worst, r.Why)
		}
		// Forced, it is a grid at a price that is shown.
		g := trued(t, p, uv, flow.TrueSettings{Mode: flow.AsGrid})
		if !g.Grid || g.After.Worst <= r.After.Worst || g.WorstFace == mesh.None {
			t.Errorf("%s as a grid: ×%.3f at face %d", name, g.After.Worst, g.WorstFace)
		}
	}
}

// A strip that bends twice is straight between its bends, along U, V and U again.
// stretches is the worst stretch of each triangle at true scale.
func stretches(p *mesh.Patch, uv []r2.Vec) []float64 {
	own := append([]r2.Vec{}, uv...)
	flatten.TrueScale(p, own)
	d, ok := p.Differentials(own)
	out := make([]float64, len(d))
	for i := range d {
		if ok[i] {
			s1, s2 := d[i].Stretch()
			out[i] = max(s1, 1/s2)
		}
	}
	return out
}

// A tightly curved strip on whose map a point was moved by hand: what is stretched before
// already at one place is no leave to stretch the rest of it as much.
func TestTrianglesKeepToTheTolerance(t *testing.T) {
	tight := func(u, v float64) r3.Vec {
		s, c := math.Sincos(1.2 * (u - 0.5))
		r := 1.6 + 0.8*v
		return r3.Vec{X: r * s, Z: -r * c}
	}
	for name, p := range map[string]*mesh.Patch{"elbow": patchOf(t, 16, 8, elbow), "cap": patchOf(t, 12, 12, cap_), "tight": patchOf(t, 16, 6, tight)} {
		uv := laid(t, p)
		if name == "tight" {
			_, border := p.Defects()
			inner := slices.Index(border, false)
			uv[inner] = r2.Add(uv[inner], r2.Vec{X: 0.07, Y: 0.05})
		}
		free := stretches(p, uv)
		for _, tolerance := range []float64{1.03, 1.15, 1.4} {
			r := trued(t, p, uv, flow.TrueSettings{Tolerance: tolerance})
			for i, x := range stretches(p, r.UV) {
				if x > max(tolerance, 1.02*free[i])*(1+1e-9) {
					t.Fatalf("%s within ×%g: triangle %d goes from ×%.3f to ×%.3f (grid %v)", name, tolerance, i, free[i], x, r.Grid)
				}
			}
		}
	}
}

// Lines that pins hold apart give way; pins and all other lines stay exact.
func TestLinesYieldToPins(t *testing.T) {
	p := patchOf(t, 20, 3, curvedStrip)
	uv := laid(t, p)
	var row []int32 // a line along
	for _, l := range trued(t, p, uv, flow.TrueSettings{}).Lines {
		if l.AlongU && len(l.Verts) > len(row) {
			row = l.Verts
		}
	}
	a, b := row[0], row[len(row)/2]
	pins := []flatten.Pin{{Vertex: a, At: uv[a]}, {Vertex: b, At: uv[b]}}
	if math.Abs(uv[a].Y-uv[b].Y) < 1e-3 {
		t.Fatal("the pins are not apart")
	}
	r := trued(t, p, uv, flow.TrueSettings{Pins: pins, Tolerance: 2})
	if r.Grid || r.UV[a] != uv[a] || r.UV[b] != uv[b] {
		t.Errorf("grid %v, pins at %v and %v", r.Grid, r.UV[a], r.UV[b])
	}
	kept := 0
	for _, l := range r.Lines {
		if !l.Released {
			kept++
		}
		if !l.Released && slices.Contains(l.Verts, a) && slices.Contains(l.Verts, b) {
			t.Error("the line through both pins is not released")
		}
	}
	if kept == 0 {
		t.Errorf("no line is left: %s", r.Why)
	}
	if g := trued(t, p, uv, flow.TrueSettings{Pins: pins, Mode: flow.AsGrid}); g.Why != "its pins hold points of one row or column apart" {
		t.Errorf("as a grid it says %q", g.Why)
	}
}

func TestBendsAreFreeBetweenStraightStretches(t *testing.T) {
	p := patchOf(t, 48, 3, sBend)
	r := trued(t, p, laid(t, p), flow.TrueSettings{})
	along, across := 0.0, 0.0
	for _, l := range r.Lines {
		if l.Released {
			continue
		}
		d := r2.Sub(r.UV[l.Verts[len(l.Verts)-1]], r.UV[l.Verts[0]])
		if l.AlongU {
			along = max(along, math.Abs(d.X))
		} else {
			across = max(across, math.Abs(d.Y))
		}
	}
	if r.Grid || along < 1.8 || across < 1.8 || r.After.Worst > 1.15 {
		t.Errorf("grid %v, stretches of %.2f along and %.2f across, worst ×%.3f, %s", r.Grid, along, across, r.After.Worst, r.Why)
	}
}

// Strips cut into triangles come out as the quads do.
func TestTrianglesOfQuadsAreTreatedAsQuads(t *testing.T) {
	for name, at := range map[string]func(u, v float64) r3.Vec{"drum wall": drumWall, "curved strip": curvedStrip, "tapered arm": taperedArm} {
		const n, rows = 18, 4
		quads := patchOf(t, n, rows, at)
		w := meshtest.NewWelder()
		for j := range rows {
			for i := range n {
				c := func(i, j int) mesh.PointID { return w.Point(at(float64(i)/n, float64(j)/rows)) }
				a, b, d, e := c(i, j), c(i+1, j), c(i+1, j+1), c(i, j+1)
				if (i+j)%2 == 0 {
					w.Face(a, b, d)
					w.Face(a, d, e)
				} else {
					w.Face(a, b, e)
					w.Face(b, d, e)
				}
			}
		}
		tris := meshtest.Whole(w.Mesh(t))
		q := trued(t, quads, laid(t, quads), flow.TrueSettings{})
		r := trued(t, tris, laid(t, tris), flow.TrueSettings{})
		if !q.Grid || !r.Grid || len(q.Lines) != len(r.Lines) {
			t.Errorf("%s: %d lines as quads, %d as triangles", name, len(q.Lines), len(r.Lines))
			continue
		}
		place := map[r3.Vec]r2.Vec{}
		for v, x := range quads.Pos {
			place[x] = q.UV[v]
		}
		// Up to a shift and half a turn.
		o, first := tris.Pos[0], r.UV[0]
		sign := 1.0
		far := 0
		for v := range r.UV {
			if r2.Norm(r2.Sub(r.UV[v], first)) > r2.Norm(r2.Sub(r.UV[far], first)) {
				far = v
			}
		}
		if r2.Dot(r2.Sub(r.UV[far], first), r2.Sub(place[tris.Pos[far]], place[o])) < 0 {
			sign = -1
		}
		for v, x := range tris.Pos {
			if d := r2.Norm(r2.Sub(r2.Scale(sign, r2.Sub(r.UV[v], first)), r2.Sub(place[x], place[o]))); d > 2e-3 {
				t.Errorf("%s: a point lies %g elsewhere", name, d)
				break
			}
		}
	}
}

// naive are three ways to straighten a grid by hand; each gives straight lines.
func naive(t testing.TB, p *mesh.Patch, uv []r2.Vec, lines []flow.TrueLine) map[string][]r2.Vec {
	t.Helper()
	out := map[string][]r2.Vec{}
	snapped := append([]r2.Vec(nil), uv...)
	type span struct{ lo, hi float64 } // of U, and of V
	var us, vs []float64
	for _, l := range lines {
		var m float64
		for _, v := range l.Verts {
			if l.AlongU {
				m += uv[v].Y / float64(len(l.Verts))
			} else {
				m += uv[v].X / float64(len(l.Verts))
			}
		}
		for _, v := range l.Verts {
			if l.AlongU {
				snapped[v].Y = m
			} else {
				snapped[v].X = m
			}
		}
		if l.AlongU {
			vs = append(vs, m)
		} else {
			us = append(us, m)
		}
	}
	out["points put on their axis"] = snapped
	lo, hi := span{math.Inf(1), math.Inf(-1)}, span{math.Inf(1), math.Inf(-1)}
	for _, q := range snapped {
		lo, hi = span{min(lo.lo, q.X), max(lo.hi, q.X)}, span{min(hi.lo, q.Y), max(hi.hi, q.Y)}
	}
	// Rows and columns equally far from each other.
	rank := func(list []float64, x float64) float64 {
		k := 0.0
		for _, y := range list {
			if y < x-1e-9 {
				k++
			}
		}
		return k / float64(len(list)-1)
	}
	even := append([]r2.Vec(nil), snapped...)
	for v := range even {
		even[v] = r2.Vec{X: lo.lo + (lo.hi-lo.lo)*rank(us, snapped[v].X), Y: hi.lo + (hi.hi-hi.lo)*rank(vs, snapped[v].Y)}
	}
	out["rows equally far"] = even
	// The border a rectangle, the inside harmonic.
	keep := flatten.Constraints{}
	for _, loop := range p.Borders() {
		for _, c := range loop {
			v := p.CornerVert[c]
			keep.Pins = append(keep.Pins, flatten.Pin{Vertex: v, At: snapped[v]})
		}
	}
	inside, err := flatten.Between(context.Background(), p, keep)
	if err != nil {
		t.Fatal(err)
	}
	out["border a rectangle"] = inside
	return out
}

func TestTruingUpCostsNoMoreThanByHand(t *testing.T) {
	for name, at := range map[string]func(u, v float64) r3.Vec{"drum wall": drumWall, "curved strip": curvedStrip, "tapered arm": taperedArm, "twisted": twisted} {
		p := patchOf(t, 20, 5, func(u, v float64) r3.Vec { return at(u*u*0.4+u*0.6, v) }) // uneven columns
		uv := laid(t, p)
		r := trued(t, p, uv, flow.TrueSettings{})
		l2 := func(uv []r2.Vec) float64 {
			own := append([]r2.Vec(nil), uv...)
			flatten.TrueScale(p, own)
			x, _ := p.Stretch(own)
			return x
		}
		ours := l2(r.UV)
		for way, other := range naive(t, p, uv, r.Lines) {
			if flatten.Flips(p, other) == 0 && ours > l2(other)*(1+1e-5) {
				t.Errorf("%s: L² %.6f, %s %.6f", name, ours, way, l2(other))
			}
		}
	}
}

func TestOnlyWhatIsAskedForIsStraightened(t *testing.T) {
	p := patchOf(t, 20, 3, curvedStrip)
	uv := laid(t, p)
	for _, only := range []flatten.Axis{flatten.OnlyU, flatten.OnlyV} {
		r := trued(t, p, uv, flow.TrueSettings{Only: only})
		for _, l := range r.Lines {
			if l.AlongU != (only == flatten.OnlyU) {
				t.Errorf("a line along the other axis is straightened")
			}
		}
	}
	r := trued(t, p, uv, flow.TrueSettings{Mode: flow.ByBorder, Within: math.Pi / 4})
	border := map[int32]bool{}
	for _, loop := range p.Borders() {
		for _, c := range loop {
			border[p.CornerVert[c]] = true
		}
	}
	for _, l := range r.Lines {
		for _, v := range l.Verts {
			if !border[v] {
				t.Fatal("a line inside is straightened")
			}
		}
	}
	if len(r.Lines) == 0 {
		t.Error("no side of the border is straightened")
	}
}

// The result goes along with the model: turned, moved, scaled.
func TestTruingUpIsInvariant(t *testing.T) {
	build := func(k float64, f func(r3.Vec) r3.Vec) flow.Trued {
		p := meshtest.Whole(meshtest.Mapped(t, meshtest.Grid(t, 20, 3, curvedStrip), func(q r3.Vec) r3.Vec { return r3.Scale(k, f(q)) }))
		return trued(t, p, laid(t, p), flow.TrueSettings{})
	}
	turn := r3.NewRotation(1.1, r3.Vec{X: 1, Y: 2, Z: 3})
	a := build(1, func(q r3.Vec) r3.Vec { return q })
	b := build(1000, func(q r3.Vec) r3.Vec { return r3.Add(turn.Rotate(q), r3.Vec{X: 7}) })
	if a.Grid != b.Grid || math.Abs(a.After.L2-b.After.L2) > 1e-5 || math.Abs(a.After.Worst-b.After.Worst) > 1e-3 {
		t.Errorf("%+v and %+v", a.After, b.After)
	}
}
