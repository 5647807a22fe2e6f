// Package parallel runs parts of a computation side by side: errgroup, but a panic in a
// goroutine comes out of Wait, in the goroutine that asked for the work, where whoever
// answers for the request or the job can catch it. A bare goroutine's panic ends the
// process, with everybody else's work in it.
package parallel

import (
	"context"
	"fmt"
	"runtime/debug"

	"golang.org/x/sync/errgroup"
)

// Panic is what went wrong in a goroutine, with where it was.
type Panic struct {
	Value any
	Stack []byte
}

// Error implements error.
func (p *Panic) Error() string { return fmt.Sprintf("panic: %v\n%s", p.Value, p.Stack) }

// Catch calls do and returns its error; a panic in it, raised there or passed on by
// Wait, comes back as a *Panic.
func Catch(do func() error) (err error) {
	defer func() {
		switch v := recover().(type) {
		case nil:
		case *Panic: // passed on from another goroutine
			err = v
		default:
			err = &Panic{v, debug.Stack()}
		}
	}()
	return do()
}

// Group is a set of goroutines working on parts of one thing. The zero Group has no
// limit and no context.
type Group struct{ g *errgroup.Group }

// WithContext returns a group and a context that ends with the group's first error,
// or with ctx.
func WithContext(ctx context.Context) (*Group, context.Context) {
	g, ctx := errgroup.WithContext(ctx)
	return &Group{g}, ctx
}

func (g *Group) inner() *errgroup.Group {
	if g.g == nil {
		g.g = &errgroup.Group{}
	}
	return g.g
}

// SetLimit bounds how many goroutines run at a time.
func (g *Group) SetLimit(n int) { g.inner().SetLimit(n) }

// Go runs f in a goroutine, waiting for room first. The first error ends the context.
func (g *Group) Go(f func() error) { g.inner().Go(func() error { return Catch(f) }) }

// Do is Go for what cannot fail.
func (g *Group) Do(f func()) { g.Go(func() error { f(); return nil }) }

// Wait waits for all goroutines and returns the first error. If the first thing that
// went wrong was a panic it panics with a *Panic.
func (g *Group) Wait() error {
	err := g.inner().Wait()
	if p, ok := err.(*Panic); ok {
		panic(p)
	}
	return err
}
