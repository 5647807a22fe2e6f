package main

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"sync"
	"time"
)

// bounds asks for more at once than there is memory.
func bounds(ctx context.Context, h *house, _ time.Duration) ([]row, error) {
	const memory, faces = 2048, 250000
	s, err := h.start("serve", "-one-seat", "-addr", "127.0.0.1:0", "-workers", "1", "-memory", fmt.Sprint(memory))
	if err != nil {
		return nil, err
	}
	id, err := h.bring(ctx, s.address(), faces, true)
	if err != nil {
		return nil, err
	}
	if err := h.again(s); err != nil { // nothing is open, and its peak begins anew
		return nil, err
	}
	counted := func(n int, get func(i int) (int, error)) (answered, refused, other int, longest time.Duration) {
		var g sync.WaitGroup
		var mu sync.Mutex
		for i := range n {
			g.Go(func() {
				from := time.Now()
				code, err := get(i)
				mu.Lock()
				defer mu.Unlock()
				longest = max(longest, time.Since(from))
				switch {
				case err == nil && code < 300:
					answered++
				case err == nil && (code == http.StatusServiceUnavailable || code == http.StatusTooManyRequests || code == http.StatusRequestEntityTooLarge):
					refused++
				default:
					other++
				}
			})
		}
		g.Wait()
		return answered, refused, other, longest
	}
	get := func(path string) func(int) (int, error) {
		return func(int) (int, error) { return ask(ctx, "GET", s.address()+path, nil, nil) }
	}
	doc := fmt.Sprintf("/documents/%d", id)
	var rows []row
	note := func(what string, n int, f func(int) (int, error)) {
		answered, refused, other, longest := counted(n, f)
		rows = append(rows, row{what, "answered, or refused calmly", fmt.Sprintf("%d answered, %d refused, %d else; the longest took %.1f s; %d MiB so far", answered, refused, other, longest.Seconds(), s.peak()>>20), other == 0 && answered > 0})
	}
	note(fmt.Sprintf("16 first requests at once for a document of %d faces", faces), 16, get(doc+"/layout.bin"))
	paths := []string{doc + "/mesh.bin", doc + "/layout.bin", doc + "/card", doc + "/meta", doc + "/field?of=stretch", doc + "/report", doc + "/images.bin", doc + "/tray?station=Seams&part=0"}
	note("64 large requests at once", 64, func(i int) (int, error) { return get(paths[i%len(paths)])(i) })
	note("8 templates of 8192 px at once", 8, get(doc+"/deliver/template.png?size=8192"))
	large := bytes.Repeat([]byte("1,"), 7<<20)
	note("8 edits of 14 MB at once", 8, func(int) (int, error) {
		res, err := client.Post(s.address()+doc+"/edits", "application/json", io.MultiReader(bytes.NewReader([]byte(`{"base":1,"edit":{"kind":"cut","params":{"edges":[`)), bytes.NewReader(large), bytes.NewReader([]byte(`1]}}}`))))
		if err != nil {
			return 0, err
		}
		defer res.Body.Close()
		if res.StatusCode == http.StatusConflict { // meant for an earlier state: that is an answer
			return http.StatusOK, nil
		}
		return res.StatusCode, nil
	})
	rows = append(rows, row{"… memory of the server at most", fmt.Sprintf("≤ %d MiB + 20 %%", memory), fmt.Sprintf("%d MiB", s.peak()>>20), s.peak() <= memory<<20*12/10})
	return rows, nil
}
