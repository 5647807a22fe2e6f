// Package docs_test keeps the documents true to the tree.
package docs_test

import (
	"os"
	"path/filepath"
	"regexp"
	"testing"
)

// path is a file or folder of ours in a document: a link, or a path set as code.
var path = regexp.MustCompile("`((?:cmd|core|demo|docs|e2e|exchange|jobs|localpg|models|script|soak|standin|store|web|workspace|backup|people|deploy)/[\\w./-]+)`|\\]\\(([\\w./-]+)\\)")

func TestWhatTheDocumentsNameIsThere(t *testing.T) {
	files, err := filepath.Glob("*.md")
	if err != nil || len(files) < 6 {
		t.Fatal(files, err)
	}
	for _, f := range append(files, "../README.md") {
		b, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range path.FindAllStringSubmatch(string(b), -1) {
			at := filepath.Join(filepath.Dir(f), m[2])
			if m[1] != "" {
				at = filepath.Join("..", m[1])
			}
			if _, err := os.Stat(at); err != nil {
				t.Errorf("%s names %s%s, which is not there", f, m[1], m[2])
			}
		}
	}
}
