package pipeline_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"runtime"
	"strconv"
	"testing"

	"morvek/core/layout"
	"morvek/core/meshio"
	"morvek/core/parallel"
	"morvek/core/pipeline"
	"morvek/core/proof"
)

// anything writes a small model that nobody would make: few points, faces that repeat
// corners, cross themselves, lie on each other, or are larger than all the others.
func anything(r *rand.Rand) []byte {
	var b bytes.Buffer
	n := 3 + r.IntN(9)
	monsters := r.IntN(3) == 0
	grid := r.IntN(2) == 0
	for range n {
		c := func() float64 {
			switch {
			case monsters:
				return (2*r.Float64() - 1) * math.Pow(10, 24*r.Float64()-12)
			case grid:
				return float64(r.IntN(3))
			}
			return r.NormFloat64()
		}
		fmt.Fprintf(&b, "v %g %g %g\n", c(), c(), c())
	}
	repeat := r.IntN(2) == 0
	for range 1 + r.IntN(9) {
		k := 3 + r.IntN(4)
		if !repeat {
			k = min(k, n)
		}
		p := r.Perm(n)
		fmt.Fprint(&b, "f")
		for i := range k {
			if repeat {
				fmt.Fprintf(&b, " %d", 1+r.IntN(n))
			} else {
				fmt.Fprintf(&b, " %d", 1+p[i])
			}
		}
		fmt.Fprintln(&b)
	}
	return b.Bytes()
}

// wholeJob takes a file from its bytes to its proof and says what is wrong with what
// came out. A file that is refused is well answered.
func wholeJob(data []byte) error {
	return parallel.Catch(func() error {
		ctx := context.Background()
		m, err := meshio.Read(ctx, "any.obj", bytes.NewReader(data))
		var bad *meshio.Error
		if errors.As(err, &bad) {
			return nil
		}
		if err != nil {
			return err
		}
		res, err := pipeline.Run(ctx, layout.New(m, layout.DefaultSettings()), nil)
		if err != nil {
			return err
		}
		if err := res.Doc.State.Finite(); err != nil {
			return err
		}
		r := proof.Measure(res.Doc.ProofInput())
		t := r.Totals
		if t.Unmapped+t.Mirrored+t.NoArea+t.Outside > 0 || t.OverlapShare > 0 {
			return fmt.Errorf("unmapped %d, mirrored %d, without area %d, outside %d, overlapping %g", t.Unmapped, t.Mirrored, t.NoArea, t.Outside, t.OverlapShare)
		}
		if pad := res.Doc.State.Settings.Sheet.Padding; t.MinGapPx >= 0 && t.MinGapPx < pad*(1-1e-9) {
			return fmt.Errorf("a gap of %g px", t.MinGapPx)
		}
		_, err = res.Doc.Report(ctx, "any.obj")
		return err
	})
}

// MORVEK_MODELS=10000 tries as many.
func TestNothingBreaksOnSmallModels(t *testing.T) {
	count := 100
	if n, err := strconv.Atoi(os.Getenv("MORVEK_MODELS")); err == nil {
		count = n
	}
	failed := make([]error, count)
	var g parallel.Group
	g.SetLimit(runtime.GOMAXPROCS(0))
	for seed := range count {
		g.Do(func() { failed[seed] = wholeJob(anything(rand.New(rand.NewPCG(uint64(seed), 7)))) })
	}
	_ = g.Wait()
	many := 0
	for seed, err := range failed {
		if err == nil {
			continue
		}
		if many++; many <= 20 {
			t.Errorf("model %d: %.900v\n%s", seed, err, anything(rand.New(rand.NewPCG(uint64(seed), 7))))
		}
	}
	if many > 0 {
		t.Errorf("%d of %d", many, count)
	}
}
