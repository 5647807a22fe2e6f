package web_test

import (
	"encoding/binary"
	"math"
	"strconv"
	"strings"
	"testing"
)

type flowMeta struct {
	Parts []struct {
		Name, Grain, Material string
		GrainSense            bool `json:"grain_sense"`
	}
	Labels []struct {
		Word, Reads string
		Faces       []int32
		Quarters    int
	}
}

// arrays are those of a block, as bytes.
func arrays(t *testing.T, path string) (out [][]byte) {
	t.Helper()
	_, b := call(t, "GET", path, nil)
	for at := 8; at < len(b); {
		n := int(binary.LittleEndian.Uint32(b[at:]))
		out = append(out, b[at+4:at+4+n])
		at += 4 + (n+3)/4*4
	}
	return out
}

// facesOf are the faces of a part.
func facesOf(t *testing.T, doc string, part int) (out []int32) {
	t.Helper()
	b := arrays(t, doc+"/layout.bin")[1]
	for f := range len(b) / 4 {
		if int(int32(binary.LittleEndian.Uint32(b[4*f:]))) == part {
			out = append(out, int32(f))
		}
	}
	return out
}

func partNamed(t *testing.T, doc, name string) int {
	t.Helper()
	for i, p := range ask[flowMeta](t, "GET", doc+"/meta", nil).Parts {
		if p.Name == name {
			return i
		}
	}
	t.Fatalf("there is no part %q", name)
	return -1
}

// The grain is told in words and as directions; labels with how they read.
func TestGrainAndLabelsAreTold(t *testing.T) {
	doc, m := flattened(t)
	wall := partNamed(t, doc, "glass wall")
	told := func() flowMeta { return ask[flowMeta](t, "GET", doc+"/meta", nil) }
	if p := told().Parts[wall]; p.Grain != "around its axis" || p.Material == "" {
		t.Errorf("%+v", p)
	}
	along := func(f int32) [3]float64 {
		b := arrays(t, doc+"/layout.bin")[8]
		return [3]float64{float64(int8(b[3*f])) / 127, float64(int8(b[3*f+1])) / 127, float64(int8(b[3*f+2])) / 127}
	}
	faces := facesOf(t, doc, wall)
	if d := along(faces[0]); math.Abs(d[1]) > 0.02 || math.Abs(math.Hypot(d[0], d[2])-1) > 0.02 {
		t.Errorf("around the upright axis runs %v", d)
	}
	m = apply(t, doc, m.Revision, edit("grain", map[string]any{"materials": []string{told().Parts[wall].Material}, "of": "along", "sense": true}))
	if p := told().Parts[wall]; p.Grain != "along its axis, one way" || !p.GrainSense {
		t.Errorf("set for its material: %+v", p)
	}
	if d := along(faces[0]); math.Abs(math.Abs(d[1])-1) > 0.02 {
		t.Errorf("along the upright axis runs %v", d)
	}
	sign := facesOf(t, doc, partNamed(t, doc, "sign plate 1"))
	m = apply(t, doc, m.Revision, edit("label", map[string]any{"faces": sign[:1], "word": "Storm"}))
	l := told().Labels
	if len(l) != 1 || l[0].Word != "Storm" || l[0].Reads != "reads upright" {
		t.Fatalf("%+v", l)
	}
	m = apply(t, doc, m.Revision, edit("move", map[string]any{"faces": sign[:1], "shift": map[string]any{"X": 0, "Y": 0}, "turn_deg": 45}))
	if l := told().Labels; l[0].Reads != "45° off upright" {
		t.Errorf("turned by 45°: %+v", l)
	}
	m = apply(t, doc, m.Revision, edit("move", map[string]any{"faces": sign[:1], "shift": map[string]any{"X": 0, "Y": 0}, "flip": true}))
	if l := told().Labels; l[0].Reads != "mirrored" {
		t.Errorf("mirrored: %+v", l)
	}
	_, tray := call(t, "GET", doc+"/tray?station=Proof&part=-1", nil)
	if !strings.Contains(string(tray), "label mirrored") {
		t.Error("Proof does not say that it is mirrored")
	}
	apply(t, doc, m.Revision, edit("clear", map[string]any{"faces": sign}))
	if l := told().Labels; l[0].Reads != "not mapped yet" {
		t.Errorf("cleared: %+v", l)
	}
}

// What truing up would do is told with the loops that pay for it, and the tray of the
// station leads with how the shell runs.
func TestTruingUpIsTriedFirst(t *testing.T) {
	doc, _ := flattened(t)
	knob := partNamed(t, doc, "wick knob plate 2")
	face := facesOf(t, doc, knob)[0]
	g := ask[struct {
		Said     string
		Straight float64
		LetGo    []int32 `json:"let_go"`
		Rows     []struct {
			Edges          []int32
			Words, Figures string
		}
	}](t, "POST", doc+"/ghost", map[string]any{"edit": edit("true-up", map[string]any{"faces": []int32{face}})})
	if g.Straight <= 0 || len(g.LetGo) == 0 || len(g.Rows) == 0 || len(g.Rows) > 4 || !strings.Contains(g.Said, "let go") {
		t.Fatalf("%+v", g)
	}
	for _, r := range g.Rows {
		if len(r.Edges) == 0 || !strings.HasPrefix(r.Words, "let go along ") || !strings.Contains(r.Figures, " → ×1.") {
			t.Errorf("%+v", r)
		}
	}
	_, tray := call(t, "GET", doc+"/tray?station=Flow&part="+strconv.Itoa(knob), nil)
	if !strings.Contains(string(tray), "straight") || !strings.Contains(string(tray), "L² <") {
		t.Errorf("the tray leads with %s", tray)
	}
	dome := edit("true-up", map[string]any{"faces": facesOf(t, doc, partNamed(t, doc, "dome"))[:1]})
	code, b := call(t, "POST", doc+"/ghost", map[string]any{"edit": dome})
	if code != 422 || !strings.Contains(string(b), "it is a dome") {
		t.Errorf("a dome: %d %s", code, b)
	}
	if o := ask[struct{ Refused string }](t, "POST", doc+"/ghost", map[string]any{"edit": dome, "offer": true}); !strings.Contains(o.Refused, "it is a dome") {
		t.Errorf("offered: %+v", o)
	}
}

// All ways of flattening are tried on a shell without changing anything.
func TestWaysOfFlatteningAreCompared(t *testing.T) {
	doc := lamp(t)
	m := apply(t, doc, ask[meta](t, "GET", doc+"/meta", nil).Revision, edit("recognise", map[string]any{}))
	type way struct {
		Method      string
		L2, Angular float64
		Why         string
		Outline     []float64
	}
	list := ask[[]way](t, "POST", doc+"/flattenings", map[string]any{"faces": []int{0}})
	if len(list) != 5 || list[0].Method != "" {
		t.Fatalf("%d ways: %+v", len(list), list)
	}
	for _, w := range list {
		if w.Why == "" && (w.Angular < 1-1e-9 || w.L2 < 1-1e-6 || len(w.Outline) < 12) {
			t.Errorf("%q: %g, %g, %d numbers of a picture", w.Method, w.Angular, w.L2, len(w.Outline))
		}
	}
	if now := ask[meta](t, "GET", doc+"/meta", nil).Revision; now != m.Revision {
		t.Errorf("comparing made revision %d of %d", now, m.Revision)
	}
	for says, faces := range map[string][]int{"choose a shell": {}, "there is no face": {99999}} {
		if code, b := call(t, "POST", doc+"/flattenings", map[string]any{"faces": faces}); code < 400 || !strings.Contains(string(b), says) {
			t.Errorf("%v: %d %s", faces, code, b)
		}
	}
}
