package web_test

import (
	"net/http"
	"testing"

	"morvek/web/wire"
)

// What is measured of every face comes with its lines and its worst places, repeats folded; what is
// not measured, or not yet, is not there.
func TestFieldsOfAMap(t *testing.T) {
	doc := lamp(t)
	work := ask[struct{ Work int64 }](t, "POST", doc+"/run", map[string]any{"base": 1}).Work
	ended(t, work)
	for _, of := range []string{"stretch", "area", "density", "grain"} {
		f := ask[wire.Field](t, "GET", doc+"/field?of="+of, nil)
		folded := false
		for _, w := range f.Worst {
			folded = folded || len(w.Places) > 1
			if w.Says == "" || w.Part == "" || len(w.Places) == 0 || len(w.Places[0]) == 0 {
				t.Errorf("%s: %+v", of, w)
			}
		}
		if of == "stretch" && (len(f.Worst) != 10 || !folded || len(f.Lines) == 0) {
			t.Errorf("%d places, folded %v, %d lines", len(f.Worst), folded, len(f.Lines))
		}
		for _, l := range f.Lines {
			if len(l.From) != len(l.To) || len(l.From) != len(l.At) || len(l.At)%2 != 0 || l.Says == "" {
				t.Fatalf("a line of %s at %s has %d, %d and %d places", of, l.Says, len(l.From), len(l.To), len(l.At))
			}
		}
	}
	for _, of := range []string{"beauty", "exposure", ""} {
		if code, b := call(t, "GET", doc+"/field?of="+of, nil); code != http.StatusNotFound {
			t.Errorf("%q: %d %s", of, code, b)
		}
	}
}
