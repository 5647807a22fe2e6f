package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"sync"
	"sync/atomic"
	"time"
)

// kill ends servers, workers and the database at random while people edit and have jobs done: nothing that was
// answered may be lost, nothing be done twice, and works are taken up again soon.
func kill(ctx context.Context, h *house, length time.Duration) ([]row, error) {
	var servers, all []*process
	for range 2 {
		p, err := h.start("serve", "-one-seat", "-addr", "127.0.0.1:0", "-workers", "0", "-memory", "1024")
		if err != nil {
			return nil, err
		}
		servers, all = append(servers, p), append(all, p)
	}
	for range 2 {
		p, err := h.start("work", "-workers", "1", "-memory", "1024")
		if err != nil {
			return nil, err
		}
		all = append(all, p)
	}
	first, err := h.bring(ctx, servers[0].address(), 3000, true)
	if err != nil {
		return nil, err
	}
	documents, err := h.copies(ctx, servers[0].address(), first, 6)
	if err != nil {
		return nil, err
	}

	running, stop := context.WithTimeout(ctx, length)
	defer stop()
	var people, killing sync.WaitGroup
	var mu sync.Mutex
	answered := map[string]int64{} // document of each edit that was answered
	works := map[int64]bool{}
	var refused, lost atomic.Int64
	for i, d := range documents {
		people.Go(func() {
			r := rand.New(rand.NewPCG(uint64(i), 7))
			for n := 0; running.Err() == nil; n++ {
				base, err := h.revision(running, d)
				if err != nil {
					time.Sleep(100 * time.Millisecond)
					continue
				}
				if r.IntN(12) == 0 {
					var w struct{ Work int64 }
					code, err := ask(running, "POST", fmt.Sprintf("%s/documents/%d/run", servers[r.IntN(2)].address(), d), map[string]any{"base": base}, &w)
					if err == nil && code == http.StatusAccepted {
						mu.Lock()
						works[w.Work] = true
						mu.Unlock()
					}
					continue
				}
				key := fmt.Sprintf("%d-%d", d, n)
				body := map[string]any{"base": base, "key": key, "edit": map[string]any{"kind": "rename", "params": map[string]any{"part": 0, "name": key}}}
				for running.Err() == nil { // until somebody answers, as the bench does
					code, err := ask(running, "POST", fmt.Sprintf("%s/documents/%d/edits", servers[r.IntN(2)].address(), d), body, nil)
					if err != nil || code >= 500 {
						lost.Add(1)
						time.Sleep(50 * time.Millisecond)
						continue
					}
					if code == http.StatusOK {
						mu.Lock()
						answered[key] = d
						mu.Unlock()
					} else {
						refused.Add(1)
					}
					break
				}
				time.Sleep(time.Duration(r.IntN(40)) * time.Millisecond)
			}
		})
	}
	kills, ofDatabase := 0, 0
	var longest time.Duration // that a work was not heard of
	killing.Go(func() {
		r := rand.New(rand.NewPCG(3, 7))
		for running.Err() == nil {
			select {
			case <-running.Done():
				return
			case <-time.After(time.Duration(1500+r.IntN(2500)) * time.Millisecond):
			}
			kills++
			if r.IntN(6) == 0 {
				ofDatabase++
				h.killDatabase()
				continue
			}
			if err := h.again(all[r.IntN(len(all))]); err != nil {
				return
			}
		}
	})
	killing.Go(func() {
		for running.Err() == nil {
			time.Sleep(250 * time.Millisecond)
			var silent float64
			if h.db.QueryRowContext(running, `select coalesce(max(extract(epoch from now() - coalesce(beat_at, created_at))), 0) from works where state = 'running'`).Scan(&silent) == nil {
				longest = max(longest, time.Duration(silent*float64(time.Second)))
			}
		}
	})
	people.Wait()
	killing.Wait()

	// Everything that was begun ends by itself.
	open := 0
	for until := time.Now().Add(2 * time.Minute); time.Now().Before(until); time.Sleep(time.Second) {
		if err := h.db.QueryRowContext(ctx, `select count(*) from works where state in ('waiting', 'running')`).Scan(&open); err == nil && open == 0 {
			break
		}
	}
	missing, twice := 0, 0
	for key, d := range answered {
		var n int
		if err := h.db.QueryRowContext(ctx, `select count(*) from edits where document_id = $1 and key = $2`, d, key).Scan(&n); err != nil {
			return nil, err
		}
		if n == 0 {
			missing++
		} else if n > 1 {
			twice++
		}
	}
	bad := 0
	for w := range works {
		var state string
		if err := h.db.QueryRowContext(ctx, `select state from works where id = $1`, w).Scan(&state); err != nil || state == "waiting" || state == "running" {
			bad++
		}
	}
	var broken int
	for _, d := range documents { // each opens, at the place its worklog says
		if code, err := ask(ctx, "GET", fmt.Sprintf("%s/api/v1/documents/%d", servers[0].address(), d), nil, nil); err != nil || code != http.StatusOK {
			broken++
		}
	}
	return []row{
		{fmt.Sprintf("%d kills in %s (%d of the database): edits that were answered and are lost", kills, length, ofDatabase), "0", fmt.Sprintf("%d of %d", missing, len(answered)), missing == 0 && len(answered) > 0},
		{"… edits that were made twice, however often they were sent", "0", fmt.Sprintf("%d (%d requests had no answer and were sent again, %d were refused as stale or busy)", twice, lost.Load(), refused.Load()), twice == 0},
		{"… works that do not end", "0", fmt.Sprintf("%d of %d", open+bad, len(works)), open+bad == 0},
		{"… longest that a work was not heard of until it was taken up", "≤ 15 s", fmt.Sprintf("%.1f s", longest.Seconds()), longest <= 15*time.Second},
		{"… documents that do not open afterwards", "0", fmt.Sprintf("%d of %d", broken, len(documents)), broken == 0},
	}, nil
}
