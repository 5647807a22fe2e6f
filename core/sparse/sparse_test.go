package sparse

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"gonum.org/v1/gonum/mat"
)

// grid is the Laplacian of a k×k grid plus a small diagonal.
func grid(k int) *Symmetric {
	b := NewBuilder(k*k, 4*k*k)
	link := func(i, j int) {
		b.Add(i, i, 1)
		b.Add(j, j, 1)
		b.Add(i, j, -1)
	}
	for r := range k {
		for c := range k {
			i := r*k + c
			b.Add(i, i, 1e-3)
			if c+1 < k {
				link(i, i+1)
			}
			if r+1 < k {
				link(i, i+k)
			}
		}
	}
	return b.Build()
}

func randomSymmetric(n int, seed uint64) (*Symmetric, *mat.SymDense) {
	rng := rand.New(rand.NewPCG(seed, 1))
	b := NewBuilder(n, 5*n)
	d := mat.NewSymDense(n, nil)
	add := func(i, j int, v float64) {
		b.Add(i, j, v)
		d.SetSym(i, j, d.At(i, j)+v)
	}
	for i := range n {
		add(i, i, 8+rng.Float64())
		for range 3 {
			if j := rng.IntN(n); j != i {
				add(i, j, rng.Float64()*2-1)
			}
		}
	}
	return b.Build(), d
}

func TestSolveAgainstDense(t *testing.T) {
	for seed := range uint64(20) {
		n := 1 + int(seed)*9
		a, d := randomSymmetric(n, seed)
		rhs := make([]float64, n)
		for i := range rhs {
			rhs[i] = math.Sin(float64(i) + float64(seed))
		}
		got, err := Solve(context.Background(), a, rhs)
		if err != nil {
			t.Fatal(err)
		}
		var want mat.VecDense
		if err := want.SolveVec(d, mat.NewVecDense(n, rhs)); err != nil {
			t.Fatal(err)
		}
		for i, x := range got {
			if math.Abs(x-want.AtVec(i)) > 1e-10 {
				t.Fatalf("n=%d x[%d] = %g, dense solve gives %g", n, i, x, want.AtVec(i))
			}
		}
	}
}

func TestOrderIsPermutationWithLittleFill(t *testing.T) {
	a := grid(60)
	order := Order(a)
	seen := make([]bool, a.N)
	for _, i := range order {
		if seen[i] {
			t.Fatalf("index %d eliminated twice", i)
		}
		seen[i] = true
	}
	natural := make([]int32, a.N)
	for i := range natural {
		natural[i] = int32(i)
	}
	fill, rowByRow := AnalyzeOrdered(a, order).Fill(), AnalyzeOrdered(a, natural).Fill()
	if fill*3 > rowByRow {
		t.Errorf("fill %d against %d in natural order: expected less than a third", fill, rowByRow)
	}
}

func TestRefactorWithSamePattern(t *testing.T) {
	a := grid(12)
	s := Analyze(a)
	for i := range a.Val {
		a.Val[i] *= 2.5
	}
	f, err := s.Factor(context.Background(), a)
	if err != nil {
		t.Fatal(err)
	}
	want := make([]float64, a.N)
	for i := range want {
		want[i] = float64(i%7) - 3
	}
	for i, x := range f.Solve(a.Mul(want)) {
		if math.Abs(x-want[i]) > 1e-8 {
			t.Fatalf("x[%d] = %g, want %g", i, x, want[i])
		}
	}
}

func TestSingularAndCancelled(t *testing.T) {
	b := NewBuilder(2, 3)
	b.Add(0, 0, 1)
	b.Add(1, 1, 1)
	b.Add(0, 1, -1)
	a := b.Build()
	if _, err := Solve(context.Background(), a, []float64{1, 2}); err != ErrSingular {
		t.Errorf("singular matrix: got %v", err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Analyze(grid(4)).Factor(ctx, grid(4)); err != context.Canceled {
		t.Errorf("cancelled factor: got %v", err)
	}
}

// triangles is the cotangent-like Laplacian of a k×k sheet of squares, each in two
// triangles: what flattening asks for, seven entries a row.
func triangles(k int) *Symmetric {
	b := NewBuilder(k*k, 6*k*k)
	link := func(i, j int, w float64) {
		b.Add(i, i, w)
		b.Add(j, j, w)
		b.Add(i, j, -w)
	}
	for r := range k {
		for c := range k {
			i := r*k + c
			b.Add(i, i, 1e-6)
			if c+1 < k {
				link(i, i+1, 1+0.3*math.Sin(float64(i)))
			}
			if r+1 < k {
				link(i, i+k, 1+0.3*math.Cos(float64(i)))
			}
			if c+1 < k && r+1 < k {
				link(i, i+k+1, 0.2)
			}
		}
	}
	return b.Build()
}

func residual(a *Symmetric, x, b []float64) float64 {
	var worst float64
	for i, y := range a.Mul(x) {
		worst = max(worst, math.Abs(y-b[i]))
	}
	return worst
}

func wave(n int) []float64 {
	b := make([]float64, n)
	for i := range b {
		b[i] = math.Sin(0.37 * float64(i))
	}
	return b
}

func TestMeshSystemsAreSolvedWhateverTheirOrder(t *testing.T) {
	for _, k := range []int{1, 2, 3, 7, 40, 90} {
		a := triangles(k)
		b := wave(a.N)
		natural, turned := make([]int32, a.N), make([]int32, a.N)
		for i := range natural {
			natural[i], turned[i] = int32(i), int32(a.N-1-i)
		}
		for name, order := range map[string][]int32{"minimum degree": Order(a), "natural": natural, "backwards": turned} {
			f, err := AnalyzeOrdered(a, order).Factor(context.Background(), a)
			if err != nil {
				t.Fatalf("%d, %s: %v", k, name, err)
			}
			if r := residual(a, f.Solve(b), b); r > 1e-8 {
				t.Errorf("%d, %s: residual %g", k, name, r)
			}
		}
	}
}

func TestSeveralRightHandSidesAreThoseOneByOne(t *testing.T) {
	a := triangles(30)
	f, err := Analyze(a).Factor(context.Background(), a)
	if err != nil {
		t.Fatal(err)
	}
	u, v := wave(a.N), make([]float64, a.N)
	v[7] = 1
	both := f.SolveAll(u, v)
	for i := range u {
		if x, y := f.Solve(u)[i], f.Solve(v)[i]; both[0][i] != x || both[1][i] != y {
			t.Fatalf("x[%d]: %g and %g together, %g and %g alone", i, both[0][i], both[1][i], x, y)
		}
		if i > 40 {
			break
		}
	}
}

// Blocks of matrices that do not touch, columns without entries, indefinite systems.
func TestOddPatterns(t *testing.T) {
	b := NewBuilder(7, 10)
	for i, d := range []float64{2, -3, 5, 1, 4, -1, 2} {
		b.Add(i, i, d)
	}
	b.Add(0, 6, 1)
	b.Add(2, 3, 0.5)
	a := b.Build()
	rhs := wave(7)
	x, err := Solve(context.Background(), a, rhs)
	if err != nil || residual(a, x, rhs) > 1e-12 {
		t.Errorf("%v, %v", x, err)
	}
	empty := NewBuilder(0, 0).Build()
	if x, err := Solve(context.Background(), empty, nil); err != nil || len(x) != 0 {
		t.Errorf("nothing: %v, %v", x, err)
	}
	arrow := NewBuilder(300, 600) // one dense row: it must not fill the rest
	for i := range 300 {
		arrow.Add(i, i, 10)
		arrow.Add(0, i, 1)
	}
	s := Analyze(arrow.Build())
	if s.Fill() > 2*299 {
		t.Errorf("an arrow fills %d entries", s.Fill())
	}
}

func TestFactorsAreTheSameEveryTime(t *testing.T) {
	a := triangles(50)
	first, err := Analyze(a).Factor(context.Background(), a)
	if err != nil {
		t.Fatal(err)
	}
	again, err := Analyze(a).Factor(context.Background(), a)
	if err != nil {
		t.Fatal(err)
	}
	for i, v := range first.val {
		if again.val[i] != v {
			t.Fatalf("entry %d: %g, then %g", i, v, again.val[i])
		}
	}
}

func TestConjugateGradientsComeToTheSame(t *testing.T) {
	for _, a := range []*Symmetric{triangles(25), grid(30)} {
		b := wave(a.N)
		want, err := Solve(context.Background(), a, b)
		if err != nil {
			t.Fatal(err)
		}
		got, steps, err := ConjugateGradients(context.Background(), a, b, 1e-12, 2000)
		if err != nil {
			t.Fatal(err)
		}
		scale := norm(want)
		for i := range want {
			want[i] -= got[i]
		}
		if norm(want) > 1e-6*scale || steps < 3 {
			t.Errorf("off by %g of %g after %d steps", norm(want), scale, steps)
		}
		if _, _, err := ConjugateGradients(context.Background(), a, b, 1e-12, 2); err != ErrNoConvergence {
			t.Errorf("two steps: %v", err)
		}
	}
	neg := NewBuilder(2, 3)
	neg.Add(0, 0, -1)
	neg.Add(1, 1, -1)
	if _, _, err := ConjugateGradients(context.Background(), neg.Build(), []float64{1, 1}, 1e-9, 10); err != ErrSingular {
		t.Errorf("a negative matrix: %v", err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	a := grid(20)
	if _, _, err := ConjugateGradients(ctx, a, wave(a.N), 1e-12, 100); err != context.Canceled {
		t.Errorf("cancelled: %v", err)
	}
}

// BenchmarkSolver measures the system of a sheet of 100k and of 400k triangles: the
// order, the analysis, the numeric factor and one solve, in milliseconds.
func BenchmarkSolver(b *testing.B) {
	for _, c := range []struct {
		name string
		k    int
	}{{"100k", 224}, {"400k", 448}} {
		b.Run(c.name, func(b *testing.B) {
			a := triangles(c.k)
			rhs := wave(a.N)
			took := map[string]float64{}
			timed := func(what string, do func()) {
				start := time.Now()
				do()
				took[what] += time.Since(start).Seconds() * 1000
			}
			var fill int
			for b.Loop() {
				var order []int32
				var s *Symbolic
				var f *Factor
				timed("order", func() { order = Order(a) })
				timed("analyse", func() { s = AnalyzeOrdered(a, order) })
				timed("factor", func() {
					var err error
					if f, err = s.Factor(context.Background(), a); err != nil {
						b.Fatal(err)
					}
				})
				timed("solve", func() { f.Solve(rhs) })
				fill = s.Fill()
			}
			for what, ms := range took {
				b.ReportMetric(ms/float64(b.N), "ms-"+what)
			}
			b.ReportMetric(float64(fill)/float64(a.N), "fill-per-row")
		})
	}
}

func TestPruningLeavesOutWhatCancels(t *testing.T) {
	b := NewBuilder(3, 8)
	for i := range 3 {
		b.Add(i, i, 2)
	}
	b.Add(0, 1, 0.7)
	b.Add(1, 0, -0.7) // cancels
	b.Add(1, 2, 0.1)
	b.Add(2, 1, 0.2)
	b.Add(2, 2, -2) // a diagonal stays, whatever its value
	whole, pruned := b.Build(), b.BuildPruned()
	if len(whole.Val) != 5 || len(pruned.Val) != 4 {
		t.Errorf("%d entries, %d after pruning; want 5 and 4", len(whole.Val), len(pruned.Val))
	}
	x := []float64{1, -2, 3}
	for i, y := range pruned.Mul(x) {
		if want := whole.Mul(x)[i]; math.Abs(y-want) > 1e-12 {
			t.Errorf("row %d: %g, want %g", i, y, want)
		}
	}
}

func TestAFactorThatDoesNotFitIsDoneWithout(t *testing.T) {
	a := triangles(30)
	b, c := wave(a.N), make([]float64, a.N)
	c[a.N/2] = 1
	plan := Analyze(a)
	direct, err := plan.Solver(context.Background(), a, MostFill)
	if err != nil {
		t.Fatal(err)
	}
	without, err := plan.Solver(context.Background(), a, plan.Fill()-1)
	if err != nil {
		t.Fatal(err)
	}
	if direct.Iterates() || !without.Iterates() {
		t.Fatal("the limit does not count")
	}
	x, err := direct.Solve(context.Background(), b, c)
	if err != nil {
		t.Fatal(err)
	}
	y, err := without.Solve(context.Background(), b, c)
	if err != nil {
		t.Fatal(err)
	}
	for r := range x {
		var off, size float64
		for i := range x[r] {
			off, size = max(off, math.Abs(x[r][i]-y[r][i])), max(size, math.Abs(x[r][i]))
		}
		if off > 1e-7*size {
			t.Errorf("right-hand side %d: off by %g of %g", r, off, size)
		}
	}
}
