package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"slices"
	"sync"
	"time"
)

// load has many people edit documents of their own at once, each with a pause between.
func load(ctx context.Context, h *house, length time.Duration) ([]row, error) {
	const people, faces, pause = 50, 20000, time.Second
	s, err := h.start("serve", "-one-seat", "-addr", "127.0.0.1:0", "-workers", "1", "-memory", "6144", "-pprof", "127.0.0.1:8897")
	if err != nil {
		return nil, err
	}
	first, err := h.bring(ctx, s.address(), faces, true)
	if err != nil {
		return nil, err
	}
	documents, err := h.copies(ctx, s.address(), first, people)
	if err != nil {
		return nil, err
	}
	for _, d := range documents { // everybody has his document open, as in the middle of a day
		if code, err := ask(ctx, "GET", fmt.Sprintf("%s/documents/%d/card", s.address(), d), nil, nil); err != nil || code != http.StatusOK {
			return nil, fmt.Errorf("opening a document: %d, %w", code, err)
		}
	}
	fmt.Fprintln(os.Stderr, "all documents are open")
	computed := s.computed()
	running, stop := context.WithTimeout(ctx, length)
	defer stop()
	var g sync.WaitGroup
	var mu sync.Mutex
	var took []time.Duration
	failed := 0
	for i, d := range documents {
		g.Go(func() {
			r := rand.New(rand.NewPCG(uint64(i), 9))
			time.Sleep(time.Duration(r.IntN(1000)) * time.Millisecond)
			base, err := h.revision(ctx, d)
			if err != nil {
				return
			}
			for n := 0; running.Err() == nil; n++ {
				var answer struct {
					Meta struct{ Revision int64 } `json:"meta"`
				}
				body := map[string]any{"base": base, "key": fmt.Sprint(n), "shown": map[string]any{"station": "Sheet", "part": 0}, "edit": map[string]any{"kind": "move", "params": map[string]any{"faces": []int{r.IntN(2000)}, "turn_deg": 90}}}
				from := time.Now()
				code, err := ask(running, "POST", fmt.Sprintf("%s/documents/%d/edits", s.address(), d), body, &answer)
				if running.Err() != nil {
					return
				}
				mu.Lock()
				if n > 1 { // the first ones open the document
					took = append(took, time.Since(from))
				}
				if err != nil || code != http.StatusOK {
					failed++
				}
				mu.Unlock()
				if code == http.StatusOK {
					base = answer.Meta.Revision
				}
				time.Sleep(pause)
			}
		})
	}
	g.Wait()
	computed = s.computed() - computed
	slices.Sort(took)
	if len(took) == 0 {
		return nil, fmt.Errorf("nothing was answered")
	}
	at := func(share float64) time.Duration {
		return took[int(share*float64(len(took)-1))].Round(time.Millisecond)
	}
	return []row{
		{fmt.Sprintf("%d people, %d documents of %d faces, an edit with a pause of %s: p95 (p50, p99; %d edits)", people, people, faces, pause, len(took)), "≤ 100 ms", fmt.Sprintf("%s (%s, %s)", at(0.95), at(0.5), at(0.99)), at(0.95) <= 100*time.Millisecond},
		{"… what the server computes for one of them, on one core", "≤ 20 ms", fmt.Sprintf("%.1f ms", computed.Seconds()*1000/float64(len(took)+failed)), computed <= time.Duration(len(took)+failed)*20*time.Millisecond},
		{"… edits that failed", "0", fmt.Sprint(failed), failed == 0},
		{"… memory of the server, of 6144 MiB", "≤ + 20 %", fmt.Sprintf("%d MiB", s.peak()>>20), s.peak() <= 6144<<20*12/10},
	}, nil
}
