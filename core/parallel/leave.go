package parallel

import "context"

// Leave calls f and returns its result or, as soon as ctx is done, the error of ctx: f
// then goes on behind until it looks at ctx itself, and what it returns is dropped. That
// suits computations that change nothing but what they return. A panic in f comes out
// here.
func Leave[T any](ctx context.Context, f func() (T, error)) (T, error) {
	type result struct {
		value T
		err   error
	}
	if ctx.Done() == nil {
		return f()
	}
	out := make(chan result, 1)
	go func() {
		var r result
		r.err = Catch(func() (err error) {
			r.value, err = f()
			return err
		})
		out <- r
	}()
	select {
	case r := <-out:
		if p, ok := r.err.(*Panic); ok {
			panic(p)
		}
		return r.value, r.err
	case <-ctx.Done():
		var none T
		return none, ctx.Err()
	}
}
