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

// BenchmarkEditsAt50k makes single edits on a finished mast of 50 000 faces, through the
// server and its database, and asks the bench's way (a patch with card and tray) and the
// whole way (all that is known of the revision) side by side.
func BenchmarkEditsAt50k(b *testing.B) {
	m, err := models.Mast(50_000)
	if err != nil {
		b.Fatal(err)
	}
	var file bytes.Buffer
	if err := meshio.Write(&file, "mast.obj", m, meshio.SourceUV(m)); err != nil {
		b.Fatal(err)
	}
	ctx := context.Background()
	if m, err = meshio.Read(ctx, "mast.obj", bytes.NewReader(file.Bytes())); err != nil {
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
	doc := fmt.Sprintf("/documents/%d", id)
	ask := func(method, path string, body any) (answer []byte, took time.Duration) {
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
	var revision int64
	edit := func(kind string, params any) (answer []byte, took time.Duration) {
		answer, took = ask("POST", doc+"/edits", map[string]any{"base": revision, "edit": map[string]any{"kind": kind, "params": params}, "shown": map[string]any{"station": "Seams", "part": 3}})
		var a struct{ Meta struct{ Revision int64 } }
		if err := json.Unmarshal(answer, &a); err != nil {
			b.Fatal(err)
		}
		revision = a.Meta.Revision
		return answer, took
	}
	whole := func() (n int, took time.Duration) {
		for _, path := range []string{"/meta", "/layout.bin", "/card", "/tray?station=Seams&part=3", "/worklog"} {
			answer, t := ask("GET", doc+path, nil)
			n, took = n+len(answer), took+t
		}
		return n, took
	}
	first, _ := ask("GET", doc+"/meta", nil)
	var meta struct{ Revision int64 }
	if err := json.Unmarshal(first, &meta); err != nil {
		b.Fatal(err)
	}
	revision = meta.Revision
	var uncut []mesh.EdgeID
	for e := range mesh.EdgeID(m.NumEdges()) {
		if !r.Doc.State.Map.IsCut(e) && r.Doc.Mesh.Twin(r.Doc.Mesh.EdgeHalf(e)) != mesh.None {
			uncut = append(uncut, e)
		}
	}
	var renames, cuts, asking []time.Duration
	var answered, told int
	for b.Loop() {
		edit("rename", map[string]any{"part": 1, "name": "warm"})
		for i := range 40 {
			_, t := edit("rename", map[string]any{"part": i, "name": fmt.Sprint("section ", i)})
			renames = append(renames, t)
			a, t := edit("cut", map[string]any{"edges": uncut[i*len(uncut)/40 : i*len(uncut)/40+1]})
			cuts = append(cuts, t)
			answered = max(answered, len(a))
			if i%10 == 0 {
				n, t := whole()
				told, asking = max(told, n), append(asking, t)
			}
		}
	}
	_, orient := edit("orient", map[string]any{})
	p95 := func(list []time.Duration) float64 {
		slices.Sort(list)
		return list[len(list)*95/100].Seconds() * 1000
	}
	b.ReportMetric(p95(renames), "rename-p95-ms")
	b.ReportMetric(renames[len(renames)/2].Seconds()*1000, "rename-p50-ms")
	b.ReportMetric(p95(cuts), "cut-p95-ms")
	b.ReportMetric(cuts[len(cuts)/2].Seconds()*1000, "cut-p50-ms")
	b.ReportMetric(float64(answered)/1000, "cut-answer-kB")
	b.ReportMetric(float64(told)/1000, "whole-answer-kB")
	b.ReportMetric(p95(asking)/p95(cuts), "whole-vs-cut-time")
	b.ReportMetric(orient.Seconds()*1000, "orient-all-ms")
	b.ReportMetric(float64(m.NumFaces()), "faces")
}
