package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"testing"
	"time"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/pipeline"
	"morvek/models"
	"morvek/store"
)

// BenchmarkEdits makes single edits on a finished mast, through the server and its database,
// and asks the bench's way (a patch with card and tray) and the whole way (all that is known of
// the revision) side by side; once more with a second map beside the first.
func BenchmarkEdits(b *testing.B) {
	for _, n := range []int{20_000, 50_000} {
		m := newMast(b, n)
		b.Run(fmt.Sprintf("%dk", n/1000), func(b *testing.B) { m.edits(b) })
		b.Run(fmt.Sprintf("%dk-two-maps", n/1000), func(b *testing.B) {
			m.edit(b, "make-map", map[string]any{"name": "Boards", "purpose": "tiling", "all": true})
			start := time.Now()
			m.ask(b, "GET", m.doc+"/meta?map=2", nil)
			m.ask(b, "GET", m.doc+"/layout.bin?map=2", nil)
			first := time.Since(start)
			m.edits(b)
			b.ReportMetric(first.Seconds()*1000, "show-map-first-ms")
		})
	}
}

// mast is a finished mast in the store.
type mast struct {
	doc      string
	revision int64
	faces    int
	uncut    []mesh.EdgeID
}

func newMast(b *testing.B, n int) *mast {
	b.Helper()
	m, err := models.Mast(n)
	if err != nil {
		b.Fatal(err)
	}
	var file bytes.Buffer
	if err := meshio.Write(&file, "mast.obj", m, meshio.SourceMaps(m)); err != nil {
		b.Fatal(err)
	}
	ctx := context.Background()
	if m, err = meshio.Read(ctx, "mast.obj", meshio.Input{Data: file.Bytes()}); err != nil {
		b.Fatal(err)
	}
	r, err := pipeline.Run(ctx, document.New(m, document.DefaultSettings()), nil)
	if err != nil {
		b.Fatal(err)
	}
	state, err := r.Doc.State.MarshalBinary()
	if err != nil {
		b.Fatal(err)
	}
	project, err := db.CreateProject(ctx, "mast")
	if err != nil {
		b.Fatal(err)
	}
	id, err := db.CreateDocument(ctx, store.NewDocument{Project: project, Title: "mast", FileName: "mast.obj", Source: file.Bytes(), Faces: m.NumFaces(), Points: m.NumPoints(), State: state})
	if err != nil {
		b.Fatal(err)
	}
	out := &mast{doc: fmt.Sprintf("/documents/%d", id), faces: m.NumFaces()}
	for e := range mesh.EdgeID(m.NumEdges()) {
		if !r.Doc.State.Map.IsCut(e) && r.Doc.Mesh.Twin(r.Doc.Mesh.EdgeHalf(e)) != mesh.None {
			out.uncut = append(out.uncut, e)
		}
	}
	out.told(b, func() []byte {
		a, _ := out.ask(b, "GET", out.doc+"/meta", nil)
		return append(append([]byte(`{"meta":`), a...), '}')
	}())
	return out
}

func (m *mast) told(b *testing.B, answer []byte) {
	b.Helper()
	var a struct{ Meta struct{ Revision int64 } }
	if err := json.Unmarshal(answer, &a); err != nil {
		b.Fatal(err)
	}
	m.revision = a.Meta.Revision
}

func (m *mast) ask(b *testing.B, method, path string, body any) (answer []byte, took time.Duration) {
	b.Helper()
	data, err := json.Marshal(body)
	if err != nil {
		b.Fatal(err)
	}
	start := time.Now()
	req, err := http.NewRequest(method, site.URL+path, bytes.NewReader(data))
	if err != nil {
		b.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		b.Fatal(err)
	}
	defer res.Body.Close()
	if answer, err = io.ReadAll(res.Body); err != nil || res.StatusCode != http.StatusOK {
		b.Fatalf("%s %s: %d %.300s %v", method, path, res.StatusCode, answer, err)
	}
	return answer, time.Since(start)
}

func (m *mast) edit(b *testing.B, kind string, params any) (answer []byte, took time.Duration) {
	b.Helper()
	answer, took = m.ask(b, "POST", m.doc+"/edits?map=1", map[string]any{"base": m.revision, "edit": map[string]any{"kind": kind, "params": params}, "shown": map[string]any{"station": "Seams", "part": 3}})
	m.told(b, answer)
	return answer, took
}

// whole asks for all that is known of the revision.
func (m *mast) whole(b *testing.B) (n int, took time.Duration) {
	b.Helper()
	for _, path := range []string{"/meta", "/layout.bin", "/card", "/tray?station=Seams&part=3", "/worklog"} {
		answer, t := m.ask(b, "GET", m.doc+path, nil)
		n, took = n+len(answer), took+t
	}
	return n, took
}

func (m *mast) edits(b *testing.B) {
	took := map[string][]time.Duration{}
	var answered, told int
	for b.Loop() {
		m.edit(b, "rename", map[string]any{"part": 1, "name": "warm"})
		for i := range 40 {
			edge := m.uncut[i*len(m.uncut)/40 : i*len(m.uncut)/40+1]
			face := []int{i * m.faces / 41}
			do := func(kind string, params map[string]any) {
				a, t := m.edit(b, kind, params)
				took[kind] = append(took[kind], t)
				if kind == "cut" {
					answered = max(answered, len(a))
				}
			}
			do("rename", map[string]any{"part": i, "name": fmt.Sprint("section ", i)})
			do("cut", map[string]any{"edges": edge})
			do("lock", map[string]any{"parts": []int{i}, "locked": i%2 == 0})
			do("weigh", map[string]any{"parts": []int{i}, "weight": 1 + float64(i)/100})
			do("move", map[string]any{"faces": face, "shift": map[string]any{"X": 0.001, "Y": 0}})
			do("orient", map[string]any{"faces": face})
			do("close", map[string]any{"edges": edge})
			if i%10 == 0 {
				n, t := m.whole(b)
				told, took["whole"] = max(told, n), append(took["whole"], t)
			}
		}
	}
	_, orient := m.edit(b, "orient", map[string]any{})
	at := func(kind string, percent int) float64 {
		list := slices.Sorted(slices.Values(took[kind]))
		return list[len(list)*percent/100].Seconds() * 1000
	}
	worst := 0.0
	for kind := range took {
		if kind != "whole" {
			worst = max(worst, at(kind, 95))
			b.Logf("%s: p50 %.0f, p95 %.0f ms", kind, at(kind, 50), at(kind, 95))
		}
	}
	b.ReportMetric(at("rename", 95), "rename-p95-ms")
	b.ReportMetric(at("rename", 50), "rename-p50-ms")
	b.ReportMetric(at("cut", 95), "cut-p95-ms")
	b.ReportMetric(at("cut", 50), "cut-p50-ms")
	b.ReportMetric(worst, "slowest-kind-p95-ms")
	b.ReportMetric(float64(answered)/1000, "cut-answer-kB")
	b.ReportMetric(float64(told)/1000, "whole-answer-kB")
	b.ReportMetric(at("whole", 95)/at("cut", 95), "whole-vs-cut-time")
	b.ReportMetric(orient.Seconds()*1000, "orient-all-ms")
	b.ReportMetric(float64(m.faces), "faces")
}
