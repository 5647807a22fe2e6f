package verbs_test

import (
	"bytes"
	"html/template"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"morvek/web"
	"morvek/web/verbs"
)

// What the browser knows of verbs is what the tables say: whoever changes a table runs go generate.
func TestTheTablesOfTheBenchAreWritten(t *testing.T) {
	var want bytes.Buffer
	if err := web.Verbs.TypeScript(&want); err != nil {
		t.Fatal(err)
	}
	got, err := os.ReadFile("verbs.ts")
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(got, want.Bytes()) {
		t.Error("web/verbs/verbs.ts is out of date; run go generate ./web/verbs")
	}
}

var keys = regexp.MustCompile(`^(Ctrl\+)?(Shift\+)?([A-Z0-9]|Enter|Esc|Home|[-+#;?.,<>])$`)

// A verb says what it does; names, words and keys are told apart.
func TestVerbsAreToldApart(t *testing.T) {
	known := map[verbs.Takes]bool{}
	for _, g := range verbs.Groups {
		known[g.Takes] = true
	}
	common := web.Verbs[0]
	if common.Station != "" || len(web.Verbs) != 1+len(web.Stations) {
		t.Fatalf("%d tables, the first of %q", len(web.Verbs), common.Station)
	}
	for _, set := range web.Verbs {
		names, says := map[string]bool{}, map[string]bool{}
		for _, v := range set.Verbs {
			if names[v.Name] || says[v.Says] {
				t.Errorf("%s: %s stands there twice", set.Station, v.Name)
			}
			names[v.Name], says[v.Says] = true, true
			if !known[v.Takes] {
				t.Errorf("%s takes %q, which has no words", v.Name, v.Takes)
			}
			if len(v.Says) > 26 || v.Says == "" || !strings.HasSuffix(v.What, ".") || strings.HasSuffix(v.Says, " …") && !v.Form {
				t.Errorf("%s: %q, %q", v.Name, v.Says, v.What)
			}
			if v.Key != "" && !keys.MatchString(v.Key) {
				t.Errorf("%s: a key cannot be %q", v.Name, v.Key)
			}
			for _, w := range set.Verbs {
				if v.Key != "" && v.Key == w.Key && v.Name != w.Name && v.Takes == w.Takes {
					t.Errorf("%s: %s means %s and %s", set.Station, v.Key, v.Name, w.Name)
				}
			}
		}
	}
}

// L is held for a line by hand, arrows nudge: no verb has these keys.
func TestKeysThatMeanSomethingElse(t *testing.T) {
	for _, set := range web.Verbs {
		for _, v := range set.Verbs {
			if slices.Contains([]string{"L", "Tab", "ArrowUp"}, v.Key) {
				t.Errorf("%s: %s is taken", v.Name, v.Key)
			}
		}
	}
}

func TestFindingVerbs(t *testing.T) {
	for _, c := range []struct{ station, name, says string }{
		{"Sheet", "stack", "Stack on the first"}, {"Parts", "stack", "Stack repeats"}, {"Flow", "turn", "Quarter turn"}, {"Proof", "pack", "Pack"},
	} {
		if v, ok := web.Verbs.Find(c.station, c.name); !ok || v.Says != c.says {
			t.Errorf("%s at %s: %q, %v", c.name, c.station, v.Says, ok)
		}
	}
	if _, ok := web.Verbs.Find("Sheet", "fry"); ok {
		t.Error("a verb that is in no table was found")
	}
	write := web.Verbs.Words()["verb"].(func(string, string, ...string) (template.HTML, error))
	if b, err := write("Sheet", "pack", "act"); err != nil || !strings.Contains(string(b), `class="button act" data-do="pack"`) || !strings.Contains(string(b), "Pack <kbd>K</kbd>") {
		t.Errorf("a button of it: %s, %v", b, err)
	}
	if _, err := write("Sheet", "fry"); err == nil {
		t.Error("a button for nothing was written")
	}
}
