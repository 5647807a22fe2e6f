package web_test

import (
	"io/fs"
	"os"
	"path"
	"regexp"
	"strings"
	"testing"
)

var needs = regexp.MustCompile(`(?m)^(?:import|export) [^;]*?from "(\.[^"]+)"`)

// modules gives the browser's modules by their paths, each with those it needs when it runs.
func modules(t *testing.T) map[string][]string {
	t.Helper()
	all := map[string][]string{}
	err := fs.WalkDir(os.DirFS("."), ".", func(p string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(p, ".ts") {
			return err
		}
		text, err := os.ReadFile(p)
		all[p] = nil
		for _, m := range needs.FindAllStringSubmatch(string(text), -1) {
			if !strings.HasPrefix(m[0], "import type") && !strings.HasPrefix(m[0], "export type") {
				all[p] = append(all[p], path.Join(path.Dir(p), m[1]+".ts"))
			}
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// In a circle of modules one runs before what it needs is there, and finds nothing in its place
// without a word.
func TestModulesStandInNoCircle(t *testing.T) {
	all := modules(t)
	if len(all) < 50 {
		t.Fatalf("found %d modules only", len(all))
	}
	const begun, done = 1, 2
	state := map[string]int{}
	var walk func(m string, way []string)
	walk = func(m string, way []string) {
		switch state[m] {
		case begun:
			t.Errorf("a circle: %s", strings.Join(append(way, m), " needs "))
		case done:
		default:
			state[m] = begun
			for _, n := range all[m] {
				walk(n, append(way, m))
			}
			state[m] = done
		}
	}
	for m := range all {
		walk(m, nil)
	}
}
