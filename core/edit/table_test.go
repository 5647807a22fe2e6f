package edit_test

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"morvek/core/edit"
)

// What is named twice is meant, and kept, once.
func TestWhatIsNamedTwiceIsMeantOnce(t *testing.T) {
	for from, want := range map[string]string{
		`{"kind":"cut","params":{"edges":[3,1,3,2,1]}}`:                                    `"edges":[3,1,2]`,
		`{"kind":"flatten","params":{"faces":[5,5,5]}}`:                                    `"faces":[5]`,
		`{"kind":"pin","params":{"corners":[9,8,9]}}`:                                      `"corners":[9,8]`,
		`{"kind":"merge","params":{"parts":[1,2,1]}}`:                                      `"parts":[1,2]`,
		`{"kind":"grain","params":{"of":"chain","edges":[4,4],"parts":[0,0]}}`:             `"edges":[4]`,
		`{"kind":"by-halves","params":{"edit":{"kind":"cut","params":{"edges":[7,7,6]}}}}`: `"edges":[7,6]`,
	} {
		e, err := edit.Decode([]byte(from))
		if err != nil {
			t.Errorf("%s: %v", from, err)
			continue
		}
		if b, err := edit.Encode(e); err != nil || !strings.Contains(string(b), want) {
			t.Errorf("%s is kept as %s, %v", from, b, err)
		}
	}
}

// An edit is refused where it is longer than it can mean anything, before it is read.
func TestEditsHaveALength(t *testing.T) {
	long := strings.Repeat("x", 300<<10)
	if _, err := edit.Decode([]byte(`{"kind":"rename","params":{"part":0,"name":"` + long + `"}}`)); err == nil || !strings.Contains(err.Error(), "never as long") {
		t.Errorf("a name of 300 kB: %v", err)
	}
	if _, err := edit.Decode([]byte(`{"kind":"cut","params":{"edges":[` + strings.Repeat("1,", 150<<10) + `1]}}`)); err != nil {
		t.Errorf("150,000 edges: %v", err)
	}
}

// Every row of the table is an edit of its name that says in words what it does and is the
// same when it is read back.
func TestTheTableOfEditsHasNoGaps(t *testing.T) {
	kinds := edit.Kinds()
	if len(kinds) < 40 {
		t.Fatalf("only %d edits", len(kinds))
	}
	for _, kind := range kinds {
		e, err := edit.Decode([]byte(`{"kind":"` + kind + `"}`))
		if err != nil {
			t.Errorf("%s: %v", kind, err)
			continue
		}
		if e.Kind() != kind {
			t.Errorf("%s calls itself %s", kind, e.Kind())
		}
		if s := e.Describe(); s == "" || strings.ToLower(s[:1]) != s[:1] {
			t.Errorf("%s describes itself as %q", kind, s)
		}
		if !slices.Contains([]edit.Station{edit.Parts, edit.Project, edit.Seams, edit.Flow, edit.Sheet, edit.Proof}, edit.StationOf(e)) {
			t.Errorf("%s has no station", kind)
		}
		b, err := edit.Encode(e)
		if err != nil {
			t.Fatal(err)
		}
		again, err := edit.Decode(b)
		if err != nil {
			t.Errorf("%s does not read what it writes: %v", kind, err)
			continue
		}
		p, _ := json.Marshal(e)
		q, _ := json.Marshal(again)
		if string(p) != string(q) {
			t.Errorf("%s: %s came back as %s", kind, p, q)
		}
	}
}
