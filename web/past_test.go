package web_test

import (
	"bufio"
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"morvek/store"
)

func TestWhatWasIsSeenNamedAndComeBackTo(t *testing.T) {
	doc := lamp(t)
	first := ask[meta](t, "GET", doc+"/meta", nil)
	apply(t, doc, first.Revision, edit("recognise", map[string]any{}))
	read := ask[meta](t, "GET", doc+"/meta", nil)
	for path, c := range map[string]struct {
		body any
		code int
	}{
		"/moments":                {map[string]any{"name": "as read"}, 204},
		"/moments?seq=0":          {map[string]any{"name": "as it came"}, 204},
		"/moments?seq=9":          {map[string]any{"name": "later"}, 404},
		"/moments?seq=1":          {map[string]any{"name": " "}, 422},
		"/edits?seq=0":            {map[string]any{"base": read.Revision, "edit": edit("recognise", map[string]any{})}, 422},
		"/undo?seq=0":             {map[string]any{"base": read.Revision}, 422},
		"/deliveries?seq=0":       {map[string]any{}, 422},
		"/painted?seq=0":          {nil, 422},
		"/run?moment=1":           {map[string]any{"base": read.Revision}, 422},
		"/go-back":                {map[string]any{"base": read.Revision}, 404},
		"/go-back?seq=x":          {map[string]any{"base": read.Revision}, 404},
		"/go-back?seq=0&map=1":    {map[string]any{"base": read.Revision - 1}, 409},
		"/moments?moment=9999999": {map[string]any{"name": "none"}, 404},
	} {
		if code, b := call(t, "POST", doc+path, c.body); code != c.code {
			t.Errorf("%s: %d %s, want %d", path, code, b, c.code)
		}
	}
	_, log := call(t, "GET", doc+"/worklog", nil)
	if s := string(log); !strings.Contains(s, "as read") || !strings.Contains(s, "as it came") || !strings.Contains(s, `aria-current="step"`) {
		t.Errorf("the worklog is %s", s)
	}
	if was := ask[meta](t, "GET", doc+"/meta?seq=0", nil); len(was.Parts) != len(first.Parts) {
		t.Errorf("as it came there are %d parts, not %d", len(was.Parts), len(first.Parts))
	}
	if code, page := call(t, "GET", doc+"?seq=0", nil); code != 200 || !strings.Contains(string(page), "what came in") || !strings.Contains(string(page), `data-past="seq=0"`) {
		t.Errorf("the page of what came in: %d", code)
	}
	if code, b := call(t, "POST", doc+"/go-back?seq=0", map[string]any{"base": read.Revision}); code != 204 {
		t.Fatalf("%d %s", code, b)
	}
	if now := ask[meta](t, "GET", doc+"/meta", nil); now.LastEdit != "go back to what came in" || len(now.Parts) != len(first.Parts) {
		t.Errorf("came back to %q with %d parts", now.LastEdit, len(now.Parts))
	}
}

// Who watches a document hears of what others do, once.
func TestChangesAreStreamed(t *testing.T) {
	doc := lamp(t)
	ctx, stop := context.WithTimeout(context.Background(), 2*time.Minute)
	defer stop()
	req, err := http.NewRequestWithContext(ctx, "GET", site.URL+doc+"/events", nil)
	if err != nil {
		t.Fatal(err)
	}
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close() //nolint:errcheck // read only
	lines := bufio.NewScanner(res.Body)
	hear := func() (c store.Change) {
		for lines.Scan() {
			if data, ok := strings.CutPrefix(lines.Text(), "data: "); ok {
				if err := json.Unmarshal([]byte(data), &c); err != nil {
					t.Fatal(err)
				}
				return c
			}
		}
		t.Fatalf("the stream ended: %v", lines.Err())
		return c
	}
	now := hear()
	b := strings.NewReader(`{"base":` + str(now.Revision) + `,"edit":{"kind":"rename","params":{"part":0,"name":"chimney"}}}`)
	edits, err := http.NewRequest("POST", site.URL+doc+"/edits", b)
	if err != nil {
		t.Fatal(err)
	}
	edits.AddCookie(&http.Cookie{Name: "who", Value: "Ad%C3%A9"})
	if code, b := send(t, edits); code != 200 {
		t.Fatal(code, string(b))
	}
	if c := hear(); c.Revision != now.Revision+1 || c.Who != "Adé" || c.Says != "rename a part to chimney" {
		t.Errorf("heard %+v", c)
	}
	if _, log := call(t, "GET", doc+"/worklog", nil); !strings.Contains(string(log), "Adé") {
		t.Error("the worklog does not say who")
	}
	edits, _ = http.NewRequest("POST", site.URL+doc+"/undo", strings.NewReader(`{"base":`+str(now.Revision+1)+`}`))
	edits.AddCookie(&http.Cookie{Name: "who", Value: "%00"})
	if code, _ := send(t, edits); code != 200 {
		t.Fatal(code)
	}
	if c := hear(); c.Who != "" || c.Says != "took back: rename a part to chimney" {
		t.Errorf("heard %+v", c)
	}
}
