package main

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"strings"
	"time"
)

// hostile asks for what nobody should, and holds connections open.
func hostile(ctx context.Context, h *house, _ time.Duration) ([]row, error) {
	s, err := h.start("serve", "-one-seat", "-addr", "127.0.0.1:0", "-workers", "1", "-memory", "1024")
	if err != nil {
		return nil, err
	}
	id, err := h.bring(ctx, s.address(), 3000, false)
	if err != nil {
		return nil, err
	}
	doc := fmt.Sprintf("%s/documents/%d", s.address(), id)
	var rows []row
	tell := func(what string, want int, change func(*http.Request)) {
		req, err := http.NewRequestWithContext(ctx, "POST", doc+"/undo", strings.NewReader(`{"base": 1}`))
		if err != nil {
			return
		}
		req.Header.Set("Content-Type", "application/json")
		change(req)
		res, err := client.Do(req)
		is := 0
		if err == nil {
			is = res.StatusCode
			res.Body.Close()
		}
		rows = append(rows, row{what, fmt.Sprint(want), fmt.Sprint(is), is == want})
	}
	tell("an edit under another name (DNS rebinding)", http.StatusMisdirectedRequest, func(r *http.Request) { r.Host = "evil.example" })
	tell("an edit by a page of another site", http.StatusForbidden, func(r *http.Request) { r.Header.Set("Sec-Fetch-Site", "cross-site") })
	tell("… told by its origin alone", http.StatusForbidden, func(r *http.Request) { r.Header.Set("Origin", "https://evil.example") })
	for what, edit := range map[string]string{
		"a name with NUL":          `{"kind":"rename","params":{"part":0,"name":"a\u0000b"}}`,
		"a name that is no UTF-8":  "{\"kind\":\"rename\",\"params\":{\"part\":0,\"name\":\"a\xff\"}}",
		"padding of 1e-320":        `{"kind":"settings","params":{"settings":{"padding":1e-320}}}`,
		"a face that is not there": `{"kind":"flatten","params":{"faces":[2147483647]}}`,
	} {
		req, err := http.NewRequestWithContext(ctx, "POST", doc+"/edits", strings.NewReader(`{"base":1,"edit":`+edit+`}`))
		if err != nil {
			return rows, err
		}
		req.Header.Set("Content-Type", "application/json")
		res, err := client.Do(req)
		if err != nil {
			return rows, err
		}
		res.Body.Close()
		rows = append(rows, row{what, "422, nothing changed", fmt.Sprint(res.StatusCode), res.StatusCode == http.StatusUnprocessableEntity})
	}
	var stored int
	if code, err := ask(ctx, "POST", doc+"/edits", map[string]any{"base": 1, "edit": map[string]any{"kind": "clear", "params": map[string]any{"faces": make([]int, 1000)}}}, nil); err == nil && code == http.StatusOK {
		if err := h.db.QueryRowContext(ctx, `select jsonb_array_length(params->'params'->'faces') from edits where document_id = $1 order by seq desc limit 1`, id).Scan(&stored); err != nil {
			return rows, err
		}
	}
	rows = append(rows, row{"the same face named a thousand times", "kept once", fmt.Sprint(stored), stored == 1})

	// A thousand bodies that stop half way: all connections are given up.
	elsewhere := net.Dialer{LocalAddr: &net.TCPAddr{IP: net.IPv4(127, 0, 0, 9)}} // bounds are each address's own
	var half []net.Conn
	for range 1000 {
		c, err := elsewhere.Dial("tcp", strings.TrimPrefix(s.address(), "http://"))
		if err != nil {
			break
		}
		fmt.Fprintf(c, "POST /documents/%d/edits HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\nContent-Length: 1000\r\n\r\n{", id)
		half = append(half, c)
	}
	from := time.Now()
	code, err := ask(ctx, "GET", s.address()+"/healthz", nil, nil)
	rows = append(rows, row{fmt.Sprintf("%d half-sent bodies: others are answered meanwhile", len(half)), "200", fmt.Sprintf("%d after %d ms", code, time.Since(from).Milliseconds()), err == nil && code == http.StatusOK})
	closed := 0
	for _, c := range half {
		_ = c.SetReadDeadline(time.Now().Add(max(time.Second, time.Until(from.Add(60*time.Second)))))
		b := make([]byte, 4096)
		for {
			if _, err := c.Read(b); err != nil {
				if ne, ok := err.(net.Error); !ok || !ne.Timeout() { //nolint:errorlint // it is the connection's own
					closed++
				}
				break
			}
		}
		c.Close()
	}
	rows = append(rows, row{"… connections given up within a minute", fmt.Sprint(len(half)), fmt.Sprint(closed), closed == len(half)})
	return rows, nil
}
