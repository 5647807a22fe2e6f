package parallel_test

import (
	"context"
	"errors"
	"strings"
	"sync/atomic"
	"testing"

	"morvek/core/parallel"
)

func TestAPanicComesOutWhereTheWorkWasAskedFor(t *testing.T) {
	outer := parallel.Catch(func() error {
		g, ctx := parallel.WithContext(context.Background())
		g.SetLimit(2)
		g.Do(func() {
			var none []int
			none[3] = 1
		})
		g.Go(func() error { <-ctx.Done(); return ctx.Err() }) // a panic ends the others too
		_ = g.Wait()                                          // even where nobody looks at the error
		return nil
	})
	var p *parallel.Panic
	if !errors.As(outer, &p) || !strings.Contains(p.Error(), "index out of range") || !strings.Contains(string(p.Stack), "parallel_test.go") {
		t.Fatalf("got %v", outer)
	}
}

func TestErrorsAndResultsAreThoseOfTheFunctions(t *testing.T) {
	var g parallel.Group
	var n atomic.Int64
	want := errors.New("no")
	for i := range 10 {
		g.Go(func() error {
			n.Add(1)
			if i == 4 {
				return want
			}
			return nil
		})
	}
	if err := g.Wait(); err != want || n.Load() != 10 {
		t.Errorf("%v after %d", err, n.Load())
	}
	if err := parallel.Catch(func() error { return want }); err != want {
		t.Errorf("caught %v", err)
	}
}
