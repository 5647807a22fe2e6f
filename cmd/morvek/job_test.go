package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio/format"
	"morvek/core/meshio/obj"
	"morvek/core/report"
)

func call(args ...string) (code int, stdout, stderr string) {
	var out, err bytes.Buffer
	code = dispatch(context.Background(), args, &out, &err)
	return code, out.String(), err.String()
}

func write(t *testing.T, name, text string) string {
	t.Helper()
	p := filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(p, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
	return p
}

func load(t *testing.T, name string) *mesh.Mesh {
	t.Helper()
	data, err := os.ReadFile(name)
	if err != nil {
		t.Fatal(err)
	}
	m, err := obj.Read(context.Background(), format.Input{Data: data})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func TestBadInputIsRefusedInOneLine(t *testing.T) {
	cases := map[string]struct{ name, text, says string }{
		"empty":   {"a.obj", "", "empty"},
		"range":   {"b.obj", "v 0 0 0\nf 1 2 3\n", "line 2"},
		"NaN":     {"c.obj", "v 0 0 nan\n", "line 1"},
		"corners": {"d.obj", "v 0 0 0\nv 1 0 0\nf 1 2\n", "line 3"},
		"picture": {"e.obj", "\x89PNG\r\n\x1a\n", "binary"},
		"format":  {"f.step", "x", "format"},
	}
	for name, c := range cases {
		in := write(t, c.name, c.text)
		out := filepath.Join(t.TempDir(), "out.obj")
		code, _, stderr := call("run", in, "-o", out, "--quiet")
		if code != exitRefused || strings.Count(strings.TrimSpace(stderr), "\n") != 0 || !strings.Contains(stderr, c.says) || !strings.Contains(stderr, in) {
			t.Errorf("%s: exit %d, %q", name, code, stderr)
		}
		if _, err := os.Stat(out); err == nil {
			t.Errorf("%s: left an output behind", name)
		}
	}
	if code, _, _ := call("run", filepath.Join(t.TempDir(), "nowhere.obj")); code != exitRefused {
		t.Errorf("a missing file: exit %d", code)
	}
}

func TestWrongUsage(t *testing.T) {
	in := write(t, "a.obj", "v 0 0 0\n")
	for _, args := range [][]string{{}, {"fly"}, {"run"}, {"run", in, in}, {"run", in, "--sheet", "3"}, {"run", in, "--turns", "45"}, {"run", in, "--grain", "w"}, {"run", in, "-o", "x.step"}, {"run", in, "--deliver", "x.rar"}, {"run", in, "--deliver", "x.zip", "--with", "obj,poem"}, {"run", in, "--template", "x.pdf"}, {"run", in, "--practice", in}, {"run", in, "--practice"}, {"run", in, "--practice", "nowhere.json"}} {
		if code, _, _ := call(args...); code != exitUsage {
			t.Errorf("%v: exit %d, want %d", args, code, exitUsage)
		}
	}
}

func TestRunKeepsTheModelAndWritesTheReport(t *testing.T) {
	dir := t.TempDir()
	in, out, rep, svg := filepath.Join(dir, "lamp.obj"), filepath.Join(dir, "out.obj"), filepath.Join(dir, "r.json"), filepath.Join(dir, "t.svg")
	if code, _, stderr := call("model", "storm-lamp", "-o", in); code != exitDone {
		t.Fatal(stderr)
	}
	code, stdout, stderr := call("run", in, "-o", out, "--report", rep, "--template", svg, "--quiet")
	if code != exitDone || !strings.Contains(stdout, "coverage") {
		t.Fatalf("exit %d: %s%s", code, stdout, stderr)
	}
	before, after := load(t, in), load(t, out)
	if !slices.Equal(before.Points, after.Points) || !slices.Equal(before.CornerPoint, after.CornerPoint) ||
		!slices.Equal(before.Objects, after.Objects) || !slices.Equal(before.FaceMaterial, after.FaceMaterial) {
		t.Error("the model came out changed")
	}
	b, err := os.ReadFile(rep)
	if err != nil {
		t.Fatal(err)
	}
	var r struct {
		Version string
		Parts   []struct{ Shape string }
		Shells  []struct{ Faces []int }
		Totals  map[string]any
	}
	if err := json.Unmarshal(b, &r); err != nil {
		t.Fatal(err)
	}
	for _, k := range strings.Fields("unmapped mirrored overlap_share outside min_gap_px coverage density_spread l2 angular_p95 grain_rms_deg seam_length seam_on_flat_share seam_exposed shells seconds") {
		if _, ok := r.Totals[k]; !ok {
			t.Errorf("the report lacks totals.%s", k)
		}
	}
	if len(r.Parts) == 0 || len(r.Shells) == 0 {
		t.Error("the report has no parts or shells")
	}
	// What a workshop agreed on is taken over, and flags say what is to be otherwise.
	agreed := write(t, "ours.json", `{"practice": "1", "sheet": {"sheet": {"size": 512, "padding": 4, "margin": 3, "tiles": 1}, "turns": "180"}, "px_per_metre": 700}`)
	if code, said, stderr := call("run", in, "--practice", agreed, "--margin", "5", "--report", rep, "--quiet"); code != exitDone || !strings.Contains(said, "700 px/m") {
		t.Errorf("with a practice: exit %d: %s%s", code, said, stderr)
	}
	if b, err := os.ReadFile(rep); err != nil || !strings.Contains(string(b), `"size": 512`) || !strings.Contains(string(b), `"padding": 4`) || !strings.Contains(string(b), `"margin": 5`) {
		t.Errorf("the report says another sheet, %v", err)
	}
	// A delivery is a ZIP that comes in again.
	zip := filepath.Join(dir, "all.zip")
	if code, _, stderr := call("run", in, "--deliver", zip, "--with", "obj,template.ora,mask.material", "--quiet"); code != exitDone {
		t.Fatalf("a delivery: exit %d, %s", code, stderr)
	}
	if code, again, stderr := call("proof", zip); code != exitDone || !strings.Contains(again, "unmapped               0") {
		t.Errorf("proof of the delivery: exit %d: %s%s", code, again, stderr)
	}
	// What was written measures the same when it is read again.
	if code, again, stderr := call("proof", out); code != exitDone || !strings.Contains(again, "unmapped               0") {
		t.Errorf("proof of the result: exit %d: %s%s", code, again, stderr)
	}
	flat := write(t, "flat.obj", "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0.5 0.5\nf 1/1 2/1 3/1 4/1\n")
	if code, said, _ := call("proof", flat); code != exitFindings || !strings.Contains(said, "without area           1") {
		t.Errorf("proof of a map pressed to a point: exit %d\n%s", code, said)
	}
	if code, _, _ := call("run", in, "-o", filepath.Join(t.TempDir(), "none", "out.obj"), "--quiet"); code != exitFailed {
		t.Errorf("a folder that is not there: exit %d, want %d", code, exitFailed)
	}
	if code, _, _ := call("proof", in); code != exitFindings {
		t.Errorf("proof of the junk map: exit %d, want %d", code, exitFindings)
	}
}

// built is the program itself.
func built(t *testing.T) string {
	t.Helper()
	bin := filepath.Join(t.TempDir(), "morvek")
	if out, err := exec.Command("go", "build", "-o", bin, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	return bin
}

// Where there is no room for what is delivered it says so, and leaves nothing half written. The room is
// what a shell lets a file grow to.
func TestNoRoomForADelivery(t *testing.T) {
	bin, in := built(t), write(t, "can.obj", string(meshtest.CanFile(40)))
	for _, c := range [][]string{{"-o", "out.obj"}, {"--deliver", "out.zip", "--with", "obj,template.ora"}} {
		dir := t.TempDir()
		args := append([]string{bin, "run", in, "--quiet"}, c...)
		cmd := exec.Command("bash", "-c", "ulimit -f 4; exec \"$@\"", "bash")
		cmd.Args = append(cmd.Args, args...)
		cmd.Dir = dir
		said, err := cmd.CombinedOutput()
		var exit *exec.ExitError
		if !errors.As(err, &exit) || exit.ExitCode() != exitFailed || !strings.Contains(string(said), "cannot write "+c[1]) || strings.Count(string(said), "\n") != 1 {
			t.Errorf("%v ended with %v: %s", c, err, said)
		}
		if left, err := os.ReadDir(dir); err != nil || len(left) > 0 {
			t.Errorf("%v left %v, %v", c, left, err)
		}
	}
}

// A signal ends a run at once, whatever it computes, and leaves nothing half written. What it prints
// tells that it runs: before, a signal ends it as it ends any process.
func TestASignalEndsARunAtOnce(t *testing.T) {
	bin := built(t)
	in := write(t, "can.obj", string(meshtest.CanFile(8_000)))
	dir := t.TempDir()
	for _, station := range []string{"parts", "seams", "flow", "sheet"} {
		cmd := exec.Command(bin, "run", in, "-o", filepath.Join(dir, "out.obj"))
		progress, err := cmd.StderrPipe()
		if err != nil {
			t.Fatal(err)
		}
		if err := cmd.Start(); err != nil {
			t.Fatal(err)
		}
		said := bufio.NewScanner(progress)
		for said.Scan() && !strings.HasSuffix(said.Text(), "%  "+station) {
		}
		if err := cmd.Process.Signal(syscall.SIGTERM); err != nil {
			t.Fatal(err)
		}
		for said.Scan() { // all of it is read before the wait
		}
		err = cmd.Wait()
		var exit *exec.ExitError
		if !errors.As(err, &exit) || exit.ExitCode() != exitFailed {
			t.Errorf("at %s it ended with %v, want %d", station, err, exitFailed)
		}
		if left, err := os.ReadDir(dir); err != nil || len(left) > 0 {
			t.Errorf("it left %v, %v", left, err)
		}
	}
}

// Where a sheet has no room for all shells the map is written all the same, and found wanting.
func TestASheetWithoutRoomIsWrittenWithFindings(t *testing.T) {
	var loose strings.Builder
	for i := range 400 {
		fmt.Fprintf(&loose, "v %d 0 0\nv %d.5 0 0\nv %d 1 0\nf -3 -2 -1\n", 2*i, 2*i, 2*i)
	}
	out := filepath.Join(t.TempDir(), "out.obj")
	code, _, said := call("run", write(t, "loose.obj", loose.String()), "-o", out, "--sheet", "256", "--padding", "40", "--quiet")
	if _, err := os.Stat(out); err != nil || code != exitFindings || !strings.Contains(said, "not packed") {
		t.Errorf("exit %d, %v: %s", code, err, said)
	}
}

// Repairs and merged triangles are asked for by flags; what is written has the faces that came.
// What nobody says is told by the model, as where it is brought in; what somebody says holds.
func TestUnitAndUpAreGuessed(t *testing.T) {
	in := write(t, "hood.obj", "v 0 0 0\nv 30 0 0\nv 30 30 0\nv 0 30 0\nv 12 12 20\nv 18 12 20\nv 18 18 20\nv 12 18 20\n"+
		"f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n")
	ours := write(t, "ours.json", `{"practice": "1", "up": "y"}`)
	for _, c := range []struct {
		args     []string
		unit, up string
	}{
		{[]string{in}, "mm", "z"}, {[]string{in, "-unit", "cm"}, "cm", "z"}, {[]string{in, "-up", "y", "-unit", "m"}, "m", "y"}, {[]string{in, "-practice", ours}, "mm", "y"},
	} {
		_, d, _, err := begin(context.Background(), "run", c.args, io.Discard)
		if err != nil {
			t.Fatal(err)
		}
		if s := d.State.Settings; s.Unit != c.unit || string(s.Up) != c.up {
			t.Errorf("%v: %s, %s up", c.args[1:], s.Unit, s.Up)
		}
	}
}

func TestRepairsAndTriangles(t *testing.T) {
	in := write(t, "crate.obj", "v 0 0 0\nv 2 0 0\nv 2 1 0\nv 0 1 0\nv 0 0 1\nv 2 0 1\nv 2 1 1\nv 0 1 1\n"+
		"f 4 3 2\nf 4 2 1\nf 8 7 6 5\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\nf 4 1 5 8\n")
	dir := t.TempDir()
	out, rep := filepath.Join(dir, "out.obj"), filepath.Join(dir, "r.json")
	code, _, stderr := call("run", in, "-o", out, "-report", rep, "-repair", "doubled,winding", "-merge-triangles")
	if code != exitDone || !strings.Contains(stderr, "doubled: 1 face") || !strings.Contains(stderr, "winding: 1 face") {
		t.Fatalf("exit %d, %q", code, stderr)
	}
	var r report.Report
	data, err := os.ReadFile(rep)
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(data, &r); err != nil {
		t.Fatal(err)
	}
	if m := load(t, out); m.NumFaces() != 7 || len(m.Health()) != 0 || len(r.Health) != 0 || len(r.Model.Repaired) != 2 || r.Totals.Unmapped != 0 {
		t.Errorf("%d faces, %v, %+v", m.NumFaces(), r.Health, r.Model)
	}
	covered := map[int32]bool{}
	for _, p := range r.Parts {
		for _, f := range p.Faces {
			covered[int32(f)] = true
		}
	}
	if len(covered) != 7 {
		t.Errorf("parts have %d of 7 faces", len(covered))
	}
	for _, args := range [][]string{{"run", in, "-repair", "polish"}, {"run", in, "-weld", "-1"}} {
		if code, _, _ := call(args...); code != exitUsage {
			t.Errorf("%v: exit %d", args, code)
		}
	}
}
