package sparse

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

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

func BenchmarkFactorGrid(b *testing.B) {
	a := grid(220)
	s := Analyze(a)
	b.ReportMetric(float64(s.Fill())/float64(len(a.Val)), "fill/entry")
	for b.Loop() {
		if _, err := s.Factor(context.Background(), a); err != nil {
			b.Fatal(err)
		}
	}
}
