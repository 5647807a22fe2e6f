package seam_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/seam"
)

func plain(mesh.EdgeID) float64 { return 0.5 }

// flatOf maps a flat mesh in the XY plane as it is.
func flatOf(p *mesh.Patch) []r2.Vec {
	uv := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		uv[i] = r2.Vec{X: q.X, Y: q.Y}
	}
	return uv
}

// pieces returns the areas that cuts leave.
func pieces(m *mesh.Mesh, cuts [][]mesh.EdgeID) (areas []float64) {
	cut := map[mesh.EdgeID]bool{}
	for _, c := range cuts {
		for _, e := range c {
			cut[e] = true
		}
	}
	for _, faces := range m.Connected(meshtest.All(m), func(e mesh.EdgeID) bool { return cut[e] }) {
		areas = append(areas, mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false }).Area())
	}
	return areas
}

// A fan of long triangles is about as long as its rims, however the way from centre to centre zigzags, and comes apart.
func TestFansOfLongTrianglesAreDivided(t *testing.T) {
	const n, inner, outer, angle = 90, 45, 55, 3.8
	fan := func(u, v float64) r3.Vec {
		s, c := math.Sincos(angle * u)
		r := inner + (outer-inner)*v
		return r3.Vec{X: r * c, Y: r * s}
	}
	m := meshtest.Alternating(t, meshtest.Grid(t, n, 1, fan))
	p := meshtest.Whole(m)
	l := seam.NewLane(p, flatOf(p), nil)
	if want := angle * (inner + outer) / 2; math.Abs(l.Length/want-1) > 0.1 {
		t.Errorf("it is %g long, want about %g", l.Length, want)
	}
	if areas := pieces(m, l.Divide(2, plain)); len(areas) != 2 || math.Abs(areas[0]/areas[1]-1) > 0.15 {
		t.Errorf("its halves are %v", areas)
	}
}

// A strip is divided in equal lengths by straight cuts, on quads and on triangles.
func TestStripsAreDividedStraightAcross(t *testing.T) {
	for _, triangles := range []bool{false, true} {
		w := meshtest.NewWelder()
		at := func(i, j int) mesh.PointID { return w.Point(r3.Vec{X: float64(i), Y: 0.5 * float64(j)}) }
		for i := range 24 {
			for j := range 4 {
				if triangles {
					w.Face(at(i, j), at(i+1, j), at(i+1, j+1))
					w.Face(at(i, j), at(i+1, j+1), at(i, j+1))
				} else {
					w.Face(at(i, j), at(i+1, j), at(i+1, j+1), at(i, j+1))
				}
			}
		}
		m := w.Mesh(t)
		p := meshtest.Whole(m)
		for n := 2; n <= 6; n++ {
			cuts := seam.NewLane(p, flatOf(p), nil).Divide(n, plain)
			areas := pieces(m, cuts)
			if len(areas) != n {
				t.Fatalf("divided in %d, %d pieces came of it", n, len(areas))
			}
			for _, a := range areas {
				if math.Abs(a-48/float64(n)) > 2.01 {
					t.Errorf("one of %d pieces has an area of %g", n, a)
				}
			}
			for _, c := range cuts {
				if len(c) != 4 || math.Abs(m.Length(c)-2) > 1e-9 {
					t.Errorf("a cut of %d edges, %g long, across a strip 2 wide", len(c), m.Length(c))
				}
			}
		}
	}
}

// A curved band is divided along its bend, and a ring through its hole.
func TestBandsAreDividedAlongTheirBend(t *testing.T) {
	band := func(turn float64) *mesh.Mesh {
		return meshtest.Grid(t, 48, 2, func(u, v float64) r3.Vec {
			s, c := math.Sincos(turn * u)
			return r3.Vec{X: (10 + v) * c, Y: (10 + v) * s}
		})
	}
	m := band(1.5 * math.Pi)
	p := meshtest.Whole(m)
	l := seam.NewLane(p, flatOf(p), nil)
	if want := 1.5 * math.Pi * 10.5; math.Abs(l.Length-want) > 0.05*want {
		t.Errorf("a band %g long measures %g", want, l.Length)
	}
	for _, a := range pieces(m, l.Divide(3, plain)) {
		if want := p.Area() / 3; math.Abs(a-want) > 0.1*want {
			t.Errorf("a third of a band of area %g is %g", p.Area(), a)
		}
	}
	ring := meshtest.NewWelder()
	at := func(i, j int) mesh.PointID {
		s, c := math.Sincos(2 * math.Pi * float64(i%24) / 24)
		return ring.Point(r3.Vec{X: float64(6+2*j) * c, Y: float64(6+2*j) * s})
	}
	for i := range 24 {
		for j := range 2 {
			ring.Face(at(i, j), at(i, j+1), at(i+1, j+1), at(i+1, j))
		}
	}
	m = ring.Mesh(t)
	p = meshtest.Whole(m)
	areas := pieces(m, seam.NewLane(p, flatOf(p), nil).Divide(2, plain))
	if len(areas) != 2 || math.Abs(areas[0]-areas[1]) > 0.25*areas[0] {
		t.Errorf("halves of a ring have areas %g", areas)
	}
}

// obround is the flat ring of a link, straights 12 long, with round ends; each straight is
// in six.
func obround(t *testing.T) *mesh.Mesh {
	w := meshtest.NewWelder()
	var path, out []r3.Vec
	for side := range 2 {
		sign := 1 - 2*float64(side)
		for k := range 6 {
			path, out = append(path, r3.Vec{X: sign * (2*float64(k) - 6), Y: -sign * 4}), append(out, r3.Vec{Y: -sign})
		}
		for k := range 9 {
			sn, c := math.Sincos(math.Pi * (float64(k)/9 - 0.5 + float64(side)))
			path, out = append(path, r3.Vec{X: sign*6 + 4*c, Y: 4 * sn}), append(out, r3.Vec{X: c, Y: sn})
		}
	}
	at := func(i, j int) mesh.PointID {
		i %= len(path)
		return w.Point(r3.Add(path[i], r3.Scale(float64(j), out[i])))
	}
	for i := range path {
		w.Face(at(i, 0), at(i, 1), at(i+1, 1), at(i+1, 0))
	}
	return w.Mesh(t)
}

// A ring with straights comes apart at the ends of its straights.
func TestRingsComeApartAtTheirStraights(t *testing.T) {
	m := obround(t)
	p := meshtest.Whole(m)
	cuts := seam.NewLane(p, flatOf(p), nil).Divide(4, plain)
	if len(cuts) != 4 {
		t.Fatalf("%d cuts part a ring in four", len(cuts))
	}
	for _, c := range cuts {
		if len(c) != 1 {
			t.Fatalf("a cut of %d edges across a ring one face wide", len(c))
		}
		h := m.EdgeHalf(c[0])
		if x := math.Abs(m.Points[m.From(h)].X); math.Abs(x-6) > 2.1 {
			t.Errorf("a cut at x = %g, where the straights end at 6", x)
		}
	}
}

// A fan of flat walls comes apart at its creases, where the grain turns.
func TestFansComeApartWhereTheGrainTurns(t *testing.T) {
	const walls, per = 4, 6
	angle := func(i int) float64 { return math.Pi / 3 * float64(i) / per } // 60° a wall
	m := meshtest.Grid(t, walls*per, 3, func(u, v float64) r3.Vec {
		i := int(math.Round(u * walls * per))
		// On the chord of its wall, so that each wall is a trapezoid.
		wall := min(i/per, walls-1)
		mid := (angle(wall*per) + angle((wall+1)*per)) / 2
		a := angle(i)
		r := (4 + 6*v) / math.Cos(a-mid)
		s, c := math.Sincos(a)
		return r3.Vec{X: r * c, Y: r * s}
	})
	p := meshtest.Whole(m)
	grain := make([]float64, len(p.Faces))
	for f, id := range p.Faces {
		c := m.FaceCentre(id)
		wall := int(math.Atan2(c.Y, c.X) / (math.Pi / 3) * (1 - 1e-9))
		if c.Y < 0 {
			wall = int((math.Atan2(c.Y, c.X) + 2*math.Pi) / (math.Pi / 3))
		}
		grain[f] = (float64(wall)+0.5)*math.Pi/3 + math.Pi/2
	}
	cuts := seam.NewLane(p, flatOf(p), grain).Divide(walls, plain)
	if len(cuts) != walls-1 {
		t.Fatalf("%d cuts part a fan of %d walls", len(cuts), walls)
	}
	for _, c := range cuts {
		for _, e := range c {
			q := m.Points[m.From(m.EdgeHalf(e))]
			a := math.Mod(math.Atan2(q.Y, q.X)+2*math.Pi, 2*math.Pi)
			if off := math.Abs(math.Remainder(a, math.Pi/3)); off > 1e-6 {
				t.Errorf("a cut %g° off the crease", off*180/math.Pi)
			}
		}
	}
}

// A cut goes along a crease that is near rather than through the flat beside it.
func TestLanesComeApartAtCreasesNearby(t *testing.T) {
	for fold, want := range map[float64]float64{14: 14, 9: 9, 20: 12} {
		m := meshtest.Grid(t, 24, 2, func(u, v float64) r3.Vec {
			x := 24 * u
			past := max(0, x-fold)
			s, c := math.Sincos(40 * math.Pi / 180)
			return r3.Vec{X: min(x, fold) + past*c, Y: 2 * v, Z: past * s}
		})
		p := meshtest.Whole(m)
		uv := make([]r2.Vec, len(p.Pos))
		for i, q := range p.Pos {
			uv[i] = r2.Vec{X: min(q.X, fold) + math.Hypot(max(0, q.X-fold), q.Z), Y: q.Y}
		}
		cuts := seam.NewLane(p, uv, nil).Divide(2, func(e mesh.EdgeID) float64 { return 0.6 - 0.3*math.Abs(m.Dihedral(e)) })
		if len(cuts) != 1 || len(cuts[0]) != 2 {
			t.Fatalf("a fold at %g: cuts %v", fold, cuts)
		}
		a, _ := p.VertsOf(cuts[0][0])
		if math.Abs(uv[a].X-want) > 1.01 || want == fold && uv[a].X != fold {
			t.Errorf("a fold at %g: a cut at %g, want %g", fold, uv[a].X, want)
		}
	}
}

// Forbidden edges are left alone, and where no way leads straight across there is no cut.
func TestLanesHeedCost(t *testing.T) {
	m := meshtest.Grid(t, 12, 2, func(u, v float64) r3.Vec { return r3.Vec{X: 12 * u, Y: 2 * v} })
	p := meshtest.Whole(m)
	uv := flatOf(p)
	middle := func(e mesh.EdgeID) bool {
		h := m.EdgeHalf(e)
		return math.Abs(m.Points[m.From(h)].X-6) < 0.1 && math.Abs(m.Points[m.To(h)].X-6) < 0.1
	}
	l := seam.NewLane(p, uv, nil)
	cuts := l.Divide(2, func(e mesh.EdgeID) float64 {
		if middle(e) {
			return math.Inf(1)
		}
		return 0.5
	})
	if len(cuts) != 1 || middle(cuts[0][0]) {
		t.Errorf("the cut %v should go beside what is forbidden", cuts)
	}
	if cuts := l.Divide(3, func(mesh.EdgeID) float64 { return math.Inf(1) }); len(cuts) > 0 {
		t.Errorf("everything is forbidden, yet it cuts %v", cuts)
	}
	if l := seam.NewLane(meshtest.Whole(meshtest.Prism(t, 1, meshtest.Circle(1, 8)...)), make([]r2.Vec, 16), nil); l != nil {
		t.Error("a closed surface has no lanes")
	}
}

// Where no edges lead straight across, what is very long is cut crookedly and what is short
// is left whole.
func TestOnlyLongStripsAreCutCrookedly(t *testing.T) {
	const rows = 4
	high := math.Sqrt(3) / 2
	for _, c := range []struct{ long, want int }{{12, 1}, {60, 3}} {
		w := meshtest.NewWelder()
		at := func(i, j int) mesh.PointID { // every second row lies half a side on
			return w.Point(r3.Vec{X: float64(i) + 0.5*float64(j%2), Y: high * float64(j)})
		}
		for i := range c.long {
			for j := range rows {
				if j%2 == 0 {
					w.Face(at(i, j), at(i+1, j), at(i, j+1))
					w.Face(at(i+1, j), at(i+1, j+1), at(i, j+1))
				} else {
					w.Face(at(i, j), at(i+1, j), at(i+1, j+1))
					w.Face(at(i, j), at(i+1, j+1), at(i, j+1))
				}
			}
		}
		m := w.Mesh(t)
		p := meshtest.Whole(m)
		slant := func(e mesh.EdgeID) float64 { // there and back, no slant leads all the way
			h := m.EdgeHalf(e)
			v := m.EdgeVec(h)
			row := int(math.Round((m.Points[m.From(h)].Y + m.Points[m.To(h)].Y - high) / (2 * high)))
			if right := v.X*v.Y > 0; v.Y != 0 && right == (row%2 == 0) {
				return math.Inf(1)
			}
			return 0.5
		}
		if got := len(pieces(m, seam.NewLane(p, flatOf(p), nil).Divide(3, slant))); got != c.want {
			t.Errorf("a strip of %d came apart in %d, want %d", c.long, got, c.want)
		}
	}
}

// Two rows whose rulings do not meet are parted in steps along the loop between them, if the strip is very long
// for its width, and never where it is not.
func TestVeryLongStripsArePartedInSteps(t *testing.T) {
	const n = 64
	for _, c := range []struct {
		height float64
		want   int
	}{{0.2, 4}, {4, 1}} {
		w := meshtest.NewWelder()
		at := func(x float64, row int) mesh.PointID { return w.Point(r3.Vec{X: x, Y: c.height * float64(row)}) }
		for x := range n { // the other row has a ruling amid each face
			a, b := float64(x), float64(x+1)
			w.Face(at(a, 0), at(b, 0), at(b, 1), at(a+0.5, 1), at(a, 1))
		}
		for x := range n + 1 {
			a, b := math.Max(0, float64(x)-0.5), math.Min(n, float64(x)+0.5)
			if a == 0 || b == n {
				w.Face(at(a, 1), at(b, 1), at(b, 2), at(a, 2))
			} else {
				w.Face(at(a, 1), at(float64(x), 1), at(b, 1), at(b, 2), at(a, 2))
			}
		}
		m := w.Mesh(t)
		p := meshtest.Whole(m)
		if got := len(pieces(m, seam.NewLane(p, flatOf(p), nil).Divide(4, plain))); got != c.want {
			t.Errorf("rows %g high: %d pieces, not %d", c.height, got, c.want)
		}
	}
}
