package web_test

import (
	"strings"
	"testing"

	"morvek/web"
)

// The help knows every verb and key of the tables.
func TestHelpSaysEveryVerb(t *testing.T) {
	for _, path := range []string{"/help", "/help/keys"} {
		code, b := call(t, "GET", path, nil)
		page := string(b)
		if code != 200 || strings.Contains(page, "<html") != (path == "/help") {
			t.Fatalf("%s: %d", path, code)
		}
		for _, set := range web.Verbs {
			for _, v := range set.Verbs {
				if !strings.Contains(page, ">"+v.Says+"</th>") {
					t.Errorf("%s does not know %q of %s", path, v.Says, set.Station)
				}
			}
		}
	}
}
