package flatten_test

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"runtime"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

const (
	wide = 10
	high = 6
)

// hill is a sheet of wide × high quads over a bump; vertex(i, j) is the one in column i
// and row j.
func hill(t testing.TB) (p *mesh.Patch, vertex func(i, j int) int32) {
	m := meshtest.Grid(t, wide, high, func(u, v float64) r3.Vec {
		return r3.Vec{X: 5 * u, Z: -3 * v, Y: 0.5 * math.Exp(-8*((u-0.5)*(u-0.5)+(v-0.5)*(v-0.5)))}
	})
	p = meshtest.Whole(m)
	of := map[[2]int]int32{}
	for v, q := range p.Pos {
		of[[2]int{int(math.Round(q.X / 5 * wide)), int(math.Round(-q.Z / 3 * high))}] = int32(v)
	}
	return p, func(i, j int) int32 { return of[[2]int{i, j}] }
}

func row(vertex func(i, j int) int32, j int) (out []int32) {
	for i := range wide + 1 {
		out = append(out, vertex(i, j))
	}
	return out
}

func TestConstraintsAreKeptExactly(t *testing.T) {
	p, vertex := hill(t)
	pins := []flatten.Pin{{Vertex: vertex(0, 0), At: r2.Vec{X: 0.25, Y: 0.5}}, {Vertex: vertex(wide, 0), At: r2.Vec{X: 5.5, Y: 0.25}}, {Vertex: vertex(5, 3), At: r2.Vec{X: 3, Y: 2}}}
	rows := [][]int32{row(vertex, 0), row(vertex, 2), row(vertex, high)}
	for _, method := range flatten.Methods {
		r, err := flatten.Flatten(context.Background(), p, flatten.Settings{Method: method, Keep: flatten.Constraints{Pins: pins, ShareV: rows[1:2]}})
		if err != nil {
			t.Fatalf("%s: %v", method, err)
		}
		for _, pin := range pins {
			if r.UV[pin.Vertex] != pin.At {
				t.Errorf("%s: a pin lies at %v, not at %v", method, r.UV[pin.Vertex], pin.At)
			}
		}
		for _, v := range rows[1] {
			if r.UV[v].Y != r.UV[rows[1][0]].Y {
				t.Errorf("%s: the row is not straight: %g and %g", method, r.UV[v].Y, r.UV[rows[1][0]].Y)
			}
		}
		if r.Flips != 0 {
			t.Errorf("%s: %d flips", method, r.Flips)
		}
		// Rows made straight without a pin: exact, and hardly dearer than free.
		free, err := flatten.Flatten(context.Background(), p, flatten.Settings{Method: method})
		if err != nil {
			t.Fatal(err)
		}
		r, err = flatten.Flatten(context.Background(), p, flatten.Settings{Method: method, Keep: flatten.Constraints{ShareV: rows}})
		if err != nil {
			t.Fatal(err)
		}
		for _, line := range rows {
			for _, v := range line {
				if r.UV[v].Y != r.UV[line[0]].Y {
					t.Fatalf("%s: a row is not straight", method)
				}
			}
		}
		flatten.TrueScale(p, free.UV)
		flatten.TrueScale(p, r.UV)
		a, _ := p.Stretch(free.UV)
		b, _ := p.Stretch(r.UV)
		if r.Flips != 0 || b > 1.03*a || b < a*(1-1e-3) {
			t.Errorf("%s: %d flips, L² %g straight, %g free", method, r.Flips, b, a)
		}
	}
}

func TestOneAxisAndHeldBorders(t *testing.T) {
	p, vertex := hill(t)
	start, err := flatten.LSCM(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	for v := range start { // somewhat out of shape
		start[v].X *= 1.2 + 0.05*math.Sin(3*start[v].Y)
	}
	for _, method := range []flatten.Method{flatten.ByLength, flatten.Even} {
		r, err := flatten.Improve(context.Background(), p, start, flatten.Settings{Method: method, Keep: flatten.Constraints{Only: flatten.OnlyU}})
		if err != nil {
			t.Fatal(err)
		}
		moved := 0.0
		for v := range start {
			if r.UV[v].Y != start[v].Y {
				t.Fatalf("%s: V of a vertex changed", method)
			}
			moved = max(moved, math.Abs(r.UV[v].X-start[v].X))
		}
		if moved < 0.1 || r.Flips != 0 {
			t.Errorf("%s: moved by %g, %d flips", method, moved, r.Flips)
		}
		var keep flatten.Constraints
		keep.Give = make([]float64, len(start))
		inside := 0
		for j := 1; j < high; j++ {
			for i := 1; i < wide; i++ {
				keep.Give[vertex(i, j)] = 1
				inside++
			}
		}
		r, err = flatten.Improve(context.Background(), p, start, flatten.Settings{Method: method, Keep: keep})
		if err != nil {
			t.Fatal(err)
		}
		for v := range start {
			if keep.Give[v] == 0 && r.UV[v] != start[v] {
				t.Fatalf("%s: the border moved", method)
			} else if keep.Give[v] == 1 && r.UV[v] != start[v] {
				inside--
			}
		}
		if inside != 0 {
			t.Errorf("%s: %d inside vertices did not move", method, inside)
		}
	}
}

// The less a vertex gives, the less it moves.
func TestSoftFalloffScalesTheMove(t *testing.T) {
	p, _ := hill(t)
	start, err := flatten.LSCM(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	for v := range start {
		start[v].X *= 1.3
	}
	last := math.Inf(1)
	for _, give := range []float64{1, 0.8, 0.5, 0.2, 0.05} {
		keep := flatten.Constraints{Give: make([]float64, len(start))}
		for v := range keep.Give {
			keep.Give[v] = give
		}
		r, err := flatten.Improve(context.Background(), p, start, flatten.Settings{Keep: keep})
		if err != nil {
			t.Fatal(err)
		}
		var moved float64
		for v := range start {
			moved += r2.Norm(r2.Sub(r.UV[v], start[v]))
		}
		if moved >= last {
			t.Errorf("giving %g moves by %g, more freely %g", give, moved, last)
		}
		last = moved
	}
	if last > 0.2*float64(len(start)) {
		t.Errorf("giving hardly at all still moves by %g", last/float64(len(start)))
	}
}

func TestContradictionsAreRefused(t *testing.T) {
	p, vertex := hill(t)
	for name, keep := range map[string]flatten.Constraints{
		"two places": {Pins: []flatten.Pin{{Vertex: 3}, {Vertex: 3, At: r2.Vec{X: 1}}}},
		"row":        {Pins: []flatten.Pin{{Vertex: vertex(0, 0)}, {Vertex: vertex(4, 0), At: r2.Vec{Y: 1}}}, ShareV: [][]int32{row(vertex, 0)}},
		"nowhere":    {Pins: []flatten.Pin{{Vertex: 1, At: r2.Vec{X: math.NaN()}}}},
		"no vertex":  {ShareU: [][]int32{{0, 100000}}},
	} {
		for _, method := range flatten.Methods {
			if _, err := flatten.Flatten(context.Background(), p, flatten.Settings{Method: method, Keep: keep}); !errors.Is(err, flatten.ErrConflict) {
				t.Errorf("%s, %s: %v", name, method, err)
			}
		}
	}
}

// A pin pulled far away is reached without turning anything over.
func TestAFarPinIsReachedWithoutFlips(t *testing.T) {
	p, vertex := hill(t)
	start, err := flatten.LSCM(context.Background(), p)
	if err != nil {
		t.Fatal(err)
	}
	tip := vertex(wide, high)
	out := r2.Add(start[tip], r2.Scale(0.6, r2.Sub(start[tip], start[vertex(0, 0)])))
	keep := flatten.Constraints{Pins: []flatten.Pin{{Vertex: tip, At: out}, {Vertex: vertex(0, 0), At: start[vertex(0, 0)]}, {Vertex: vertex(5, 3), At: start[vertex(4, 3)]}}}
	r, err := flatten.Improve(context.Background(), p, start, flatten.Settings{Method: flatten.Even, Keep: keep})
	if err != nil || r.Flips != 0 || r.UV[tip] != out {
		t.Errorf("%v, %d flips, at %v", err, r.Flips, r.UV[tip])
	}
}

func TestResultsDoNotDependOnWorkers(t *testing.T) {
	p := meshtest.Whole(meshtest.Grid(t, 90, 90, func(u, v float64) r3.Vec {
		return r3.Vec{X: u, Z: -v, Y: 0.2 * math.Sin(5*u) * math.Cos(4*v)}
	}))
	var first []r2.Vec
	was := runtime.GOMAXPROCS(0)
	defer runtime.GOMAXPROCS(was)
	for _, n := range []int{1, 2, 5} {
		runtime.GOMAXPROCS(n)
		r, err := flatten.Flatten(context.Background(), p, flatten.Settings{Method: flatten.Even, MaxIterations: 14})
		if err != nil {
			t.Fatal(err)
		}
		if first == nil {
			first = r.UV
		}
		for v := range first {
			if r.UV[v] != first[v] {
				t.Fatalf("%d workers: vertex %d lies elsewhere", n, v)
			}
		}
	}
}

// Whatever is asked for, what comes back is finite and keeps it to the last bit.
func FuzzConstraints(f *testing.F) {
	f.Add(uint64(1), uint8(3), uint8(2), uint8(0), false)
	f.Add(uint64(7), uint8(0), uint8(5), uint8(1), true)
	f.Add(uint64(9), uint8(6), uint8(0), uint8(2), true)
	p, vertex := hill(f)
	start, err := flatten.LSCM(context.Background(), p)
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, seed uint64, pins, rows, only uint8, soft bool) {
		rnd := rand.New(rand.NewPCG(seed, 1))
		keep := flatten.Constraints{Only: flatten.Axis(only % 3)}
		taken := map[int32]bool{}
		for range pins % 8 {
			v := int32(rnd.IntN(len(start)))
			if !taken[v] {
				taken[v] = true
				keep.Pins = append(keep.Pins, flatten.Pin{Vertex: v, At: r2.Add(start[v], r2.Vec{X: rnd.NormFloat64() * 0.3, Y: rnd.NormFloat64() * 0.3})})
			}
		}
		for range rows % 6 {
			if g := row(vertex, rnd.IntN(high+1)); rnd.IntN(2) == 0 {
				keep.ShareV = append(keep.ShareV, g)
			} else {
				keep.ShareU = append(keep.ShareU, g[:1+rnd.IntN(3)])
			}
		}
		if soft {
			keep.Give = make([]float64, len(start))
			for v := range keep.Give {
				keep.Give[v] = rnd.Float64()
			}
		}
		method := flatten.Methods[seed%2]
		r, err := flatten.Improve(context.Background(), p, start, flatten.Settings{Method: method, Keep: keep, MaxIterations: 6})
		if errors.Is(err, flatten.ErrConflict) {
			return
		}
		if err != nil {
			t.Fatal(err)
		}
		for v, q := range r.UV {
			if math.IsNaN(q.X+q.Y) || math.IsInf(q.X+q.Y, 0) {
				t.Fatalf("vertex %d lies at %v", v, q)
			}
		}
		for _, pin := range keep.Pins {
			if q := r.UV[pin.Vertex]; q != pin.At {
				t.Fatalf("a pin at %v, asked for %v", q, pin.At)
			}
		}
		for _, g := range keep.ShareV {
			for _, v := range g {
				if r.UV[v].Y != r.UV[g[0]].Y {
					t.Fatal("a row is not straight")
				}
			}
		}
	})
}
