// Package core_test holds the rules of the house: which package may import which, and that
// files within the middle of the house need each other in one direction only.
package core_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"go/ast"
	"go/importer"
	"go/parser"
	"go/token"
	"go/types"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
)

// floors are the packages of core from the ground up: a package imports those of lower
// floors, and those before it on its own.
var floors = []string{
	"parallel", "ids", "words", "sparse", "mesh planar", "mesh/meshtest", "meshio/format", "meshio/obj meshio/ply meshio/stl meshio/gltf", "meshio", "mend",
	"shape", "flatten template bake render", "seam", "parts", "unroll", "flow", "sheet", "atlas", "proof",
	"document", "lay", "segment", "report", "delivery", "picture", "practice", "revise",
	"edit/preview", "edit/partedits edit/projectedits edit/seamedits edit/flowedits edit/sheetedits edit/mapedits edit/proofedits", "edit", "edit/edittest", "pipeline", "pipeline/pipelinetest",
}

// oneWay are the packages whose files need each other in one direction only.
var oneWay = []string{"atlas", "document", "lay", "segment", "report", "delivery", "edit/partedits", "edit/projectedits", "edit/seamedits", "edit/flowedits", "edit/sheetedits", "edit/mapedits"}

type pkg struct {
	ImportPath, Dir, Export string
	GoFiles                 []string
	Imports, Deps           []string
	Standard                bool
}

const module = "morvek/core/"

// list is what the go command knows of core and of all it needs.
var list = sync.OnceValues(func() (map[string]pkg, error) {
	cmd := exec.Command("go", "list", "-export", "-deps", "-json=ImportPath,Dir,Export,GoFiles,Imports,Deps,Standard", "./...")
	out, err := cmd.Output()
	if err != nil {
		return nil, err
	}
	all := map[string]pkg{}
	for d := json.NewDecoder(bytes.NewReader(out)); ; {
		var p pkg
		if err := d.Decode(&p); errors.Is(err, io.EOF) {
			return all, nil
		} else if err != nil {
			return nil, err
		}
		all[p.ImportPath] = p
	}
})

func packages(t *testing.T) map[string]pkg {
	t.Helper()
	all, err := list()
	if err != nil {
		t.Fatal(err)
	}
	return all
}

func TestCoreImportsDownwardOnly(t *testing.T) {
	floor := map[string]int{}
	for i, names := range floors {
		for _, n := range strings.Fields(names) {
			floor[module+n] = i
		}
	}
	for path, p := range packages(t) {
		if !strings.HasPrefix(path, module) {
			continue
		}
		at, ok := floor[path]
		if !ok {
			t.Errorf("%s is on no floor", path)
		}
		for _, im := range p.Imports {
			if under, is := floor[im]; is && under >= at {
				t.Errorf("%s imports %s, which is not below it", path, im)
			}
			if strings.HasPrefix(im, "morvek/") && !strings.HasPrefix(im, module) {
				t.Errorf("%s imports %s, which is not in core", path, im)
			}
		}
		for _, d := range p.Deps {
			for _, not := range []string{"net/http", "database/sql", "html/template", "github.com/labstack", "github.com/jmoiron", "github.com/jackc"} {
				if (d == not || strings.HasPrefix(d, not+"/")) && !strings.HasSuffix(path, "test") {
					t.Errorf("%s depends on %s", path, d)
				}
			}
		}
	}
}

// The models of the workshop are made of core alone, so that its tests can use them.
func TestModelsAreMadeOfCore(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", "{{join .Imports \"\\n\"}}", "morvek/models").Output()
	if err != nil {
		t.Fatal(err)
	}
	for _, im := range strings.Fields(string(out)) {
		if strings.HasPrefix(im, "morvek/") && !strings.HasPrefix(im, module) {
			t.Errorf("models imports %s", im)
		}
	}
}

// needs tells for each file of a package which others it takes names from.
func needs(t *testing.T, all map[string]pkg, p pkg) map[string]map[string]string {
	t.Helper()
	set := token.NewFileSet()
	var files []*ast.File
	for _, name := range p.GoFiles {
		f, err := parser.ParseFile(set, filepath.Join(p.Dir, name), nil, parser.SkipObjectResolution)
		if err != nil {
			t.Fatal(err)
		}
		files = append(files, f)
	}
	conf := types.Config{Importer: importer.ForCompiler(set, "gc", func(path string) (io.ReadCloser, error) { return os.Open(all[path].Export) })}
	info := &types.Info{Uses: map[*ast.Ident]types.Object{}}
	own, err := conf.Check(p.ImportPath, set, files, info)
	if err != nil {
		t.Fatal(err)
	}
	file := func(at token.Pos) string { return filepath.Base(set.Position(at).Filename) }
	out := map[string]map[string]string{}
	for id, o := range info.Uses {
		if o.Pkg() != own || !o.Pos().IsValid() {
			continue
		}
		if v, ok := o.(*types.Var); ok && !v.IsField() && v.Parent() != own.Scope() {
			continue // local
		}
		from, to := file(id.Pos()), file(o.Pos())
		if from == to {
			continue
		}
		if out[from] == nil {
			out[from] = map[string]string{}
		}
		if old := out[from][to]; old == "" || o.Name() < old {
			out[from][to] = o.Name()
		}
	}
	return out
}

func TestFilesNeedEachOtherOneWay(t *testing.T) {
	all := packages(t)
	for _, name := range oneWay {
		p, ok := all[module+name]
		if !ok {
			t.Errorf("there is no package %s", name)
			continue
		}
		need := needs(t, all, p)
		for _, ring := range rings(need) {
			t.Errorf("%s: %s", name, strings.Join(ring, " → "))
		}
	}
}

// rings returns a way from a file back to itself for each set of files that need each other.
func rings(need map[string]map[string]string) (out [][]string) {
	done := map[string]bool{}
	var way []string
	var visit func(f string)
	visit = func(f string) {
		if k := slices.Index(way, f); k >= 0 {
			var ring []string
			for i, g := range way[k:] {
				next := f
				if k+i+1 < len(way) {
					next = way[k+i+1]
				}
				ring = append(ring, g+" ("+need[g][next]+")")
			}
			out = append(out, append(ring, f))
			return
		}
		if done[f] {
			return
		}
		way = append(way, f)
		for _, g := range sortedKeys(need[f]) {
			visit(g)
		}
		way = way[:len(way)-1]
		done[f] = true
	}
	for _, f := range sortedKeys(need) {
		visit(f)
	}
	return out
}

func sortedKeys[V any](m map[string]V) []string {
	out := make([]string, 0, len(m))
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}

// The search for rings finds one where there is one.
func TestARingOfFilesIsFound(t *testing.T) {
	need := map[string]map[string]string{"a": {"b": "x"}, "b": {"c": "y"}, "c": {"b": "z"}, "d": {"a": "w"}}
	got := rings(need)
	if len(got) != 1 || strings.Join(got[0], " ") != "b (y) c (z) b" {
		t.Errorf("found %v", got)
	}
}
