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
	const people, faces, pause, warm, turn = 50, 20000, time.Second, 5 * time.Second, 8 * time.Second
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
	all := make([]*person, people)
	for i, d := range documents {
		base, err := h.revision(ctx, d)
		if err != nil {
			return nil, err
		}
		all[i] = &person{at: s.address(), document: d, base: base, random: rand.New(rand.NewPCG(uint64(i), 9))}
	}
	if _, err := crowd(ctx, all, pause, warm, (*person).edit); err != nil {
		return nil, err
	}
	// In turns, so that both see the same hours of the machine.
	var took, alone []time.Duration
	var computed time.Duration
	for over := time.Duration(0); over < length; over += turn {
		before := s.computed()
		some, err := crowd(ctx, all, pause, turn, (*person).edit)
		if err != nil {
			return nil, err
		}
		took, computed = append(took, some...), computed+s.computed()-before
		if len(took) == 0 {
			return nil, fmt.Errorf("nothing was answered")
		}
		in := newStandIn(computed / time.Duration(len(took)))
		if some, err = crowd(ctx, all, pause, turn, in.ask); err != nil {
			return nil, err
		}
		alone = append(alone, some...)
	}
	slices.Sort(took)
	slices.Sort(alone)
	failed := 0
	for _, p := range all {
		failed += p.failed
	}
	each := computed / time.Duration(len(took))
	return []row{
		{fmt.Sprintf("%d people, %d documents of %d faces, an edit with a pause of %s: p95 (p50, p99; %d edits)", people, people, faces, pause, len(took)), "≤ 100 ms", fmt.Sprintf("%s (%s, %s)", at(took, 0.95), at(took, 0.5), at(took, 0.99)), at(took, 0.95) <= 100*time.Millisecond},
		{"… what the server computes for one of them, on one core", "≤ 20 ms", fmt.Sprintf("%.1f ms", each.Seconds()*1000), each <= 20*time.Millisecond},
		{"… the same people, in turns with it, at a stand-in that only computes as long: p95 (p50, p99)", "", fmt.Sprintf("%s (%s, %s)", at(alone, 0.95), at(alone, 0.5), at(alone, 0.99)), true},
		{"… edits that failed", "0", fmt.Sprint(failed), failed == 0},
		{"… memory of the server, of 6144 MiB", "≤ + 20 %", fmt.Sprintf("%d MiB", s.peak()>>20), s.peak() <= 6144<<20*12/10},
	}, nil
}

// at is the duration that a share of them stays below; they are ascending.
func at(took []time.Duration, share float64) time.Duration {
	if len(took) == 0 {
		return 0
	}
	return took[int(share*float64(len(took)-1))].Round(time.Millisecond)
}

// person edits a document of his own.
type person struct {
	at             string
	document, base int64
	made, failed   int
	random         *rand.Rand
}

func (p *person) edit(ctx context.Context) {
	var answer struct {
		Meta struct{ Revision int64 } `json:"meta"`
	}
	p.made++
	body := map[string]any{"base": p.base, "key": fmt.Sprint(p.made), "shown": map[string]any{"station": "Sheet", "part": 0}, "edit": map[string]any{"kind": "move", "params": map[string]any{"faces": []int{p.random.IntN(2000)}, "turn_deg": 90}}}
	code, err := ask(ctx, "POST", fmt.Sprintf("%s/documents/%d/edits", p.at, p.document), body, &answer)
	if err != nil || code != http.StatusOK {
		p.failed++
		return
	}
	p.base = answer.Meta.Revision
}

// crowd lets all people do something for that long, each with a pause between, and returns how long each time took.
func crowd(ctx context.Context, all []*person, pause, length time.Duration, do func(*person, context.Context)) ([]time.Duration, error) {
	end := time.Now().Add(length)
	var g sync.WaitGroup
	var mu sync.Mutex
	var took []time.Duration
	for _, p := range all {
		g.Go(func() {
			time.Sleep(time.Duration(p.random.Int64N(int64(pause))))
			for time.Now().Before(end) && ctx.Err() == nil {
				from := time.Now()
				do(p, ctx)
				mu.Lock()
				took = append(took, time.Since(from))
				mu.Unlock()
				time.Sleep(pause)
			}
		})
	}
	g.Wait()
	return took, ctx.Err()
}
