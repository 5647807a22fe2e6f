package web_test

import (
	"regexp"
	"strings"
	"testing"

	"morvek/web"
)

// Every picture that the help shows is there.
func TestHelpHasItsPictures(t *testing.T) {
	_, b := call(t, "GET", "/help", nil)
	shown := regexp.MustCompile(`src="(/help/pictures/[a-z-]+)"`).FindAllStringSubmatch(string(b), -1)
	if len(shown) < 12 {
		t.Fatalf("%d pictures", len(shown))
	}
	for _, s := range shown {
		if code, png := call(t, "GET", s[1], nil); code != 200 || !strings.HasPrefix(string(png), "\x89PNG") {
			t.Errorf("%s: %d", s[1], code)
		}
	}
	for _, name := range []string{"none", "..%2fstate", "%00"} {
		if code, _ := call(t, "GET", "/help/pictures/"+name, nil); code != 404 {
			t.Errorf("%s: %d", name, code)
		}
	}
}

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
