package web_test

import (
	"net/http"
	"testing"
)

// From another site a link leads to a page; nothing else is answered, whatever it would cost.
func TestOtherSitesHaveNothingComputed(t *testing.T) {
	for _, c := range []struct {
		method, path, site, mode, dest string
		want                           int
	}{
		{"GET", "/projects", "cross-site", "navigate", "document", 200},
		{"GET", "/projects", "cross-site", "navigate", "iframe", 403},
		{"GET", "/help/pictures/arrival", "cross-site", "no-cors", "image", 403},
		{"GET", "/help/pictures/arrival", "same-site", "no-cors", "image", 403},
		{"GET", "/help/pictures/arrival", "same-origin", "no-cors", "image", 200},
		{"GET", "/help/pictures/arrival", "none", "navigate", "document", 200},
		{"GET", "/help/pictures/arrival", "", "", "", 200}, // a program
		{"POST", "/projects", "cross-site", "navigate", "document", 403},
		{"POST", "/practice", "cross-site", "cors", "empty", 403},
	} {
		req, err := http.NewRequest(c.method, site.URL+c.path, nil)
		if err != nil {
			t.Fatal(err)
		}
		for name, v := range map[string]string{"Sec-Fetch-Site": c.site, "Sec-Fetch-Mode": c.mode, "Sec-Fetch-Dest": c.dest} {
			if v != "" {
				req.Header.Set(name, v)
			}
		}
		if code, b := send(t, req); code != c.want {
			t.Errorf("%+v: %d %.80s", c, code, b)
		}
	}
}

// Every answer says how it may be used.
func TestStrictHeaders(t *testing.T) {
	for _, path := range []string{"/projects", "/static/bench.js", "/nowhere", "/healthz"} {
		res, err := http.Get(site.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		for name, want := range map[string]string{
			"X-Content-Type-Options": "nosniff", "Referrer-Policy": "same-origin", "Cross-Origin-Opener-Policy": "same-origin", "Cross-Origin-Resource-Policy": "same-origin",
			"Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
		} {
			if got := res.Header.Get(name); got != want {
				t.Errorf("%s: %s is %q", path, name, got)
			}
		}
	}
}
