package parallel_test

import (
	"context"
	"errors"
	"testing"

	"morvek/core/parallel"
)

func TestLeaveDoesNotWaitForWhoDoesNotLook(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	started, end := make(chan bool), make(chan bool)
	defer close(end)
	go func() { <-started; cancel() }()
	n, err := parallel.Leave(ctx, func() (int, error) {
		close(started)
		<-end // deaf to its context
		return 1, nil
	})
	if n != 0 || !errors.Is(err, context.Canceled) {
		t.Errorf("%d, %v", n, err)
	}
}

func TestLeaveReturnsWhatTheFunctionDoes(t *testing.T) {
	want := errors.New("no")
	with, cancel := context.WithCancel(context.Background())
	defer cancel()
	for name, ctx := range map[string]context.Context{"background": context.Background(), "with cancel": with} {
		if n, err := parallel.Leave(ctx, func() (int, error) { return 7, want }); n != 7 || err != want {
			t.Errorf("%s: %d, %v", name, n, err)
		}
		var p *parallel.Panic
		err := parallel.Catch(func() error {
			_, err := parallel.Leave(ctx, func() (int, error) { panic("at the disco") })
			return err
		})
		if !errors.As(err, &p) || p.Value != "at the disco" {
			t.Errorf("%s: got %v", name, err)
		}
	}
}
