package jobs_test

import (
	"context"
	"errors"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
	"morvek/jobs"
	"morvek/store"
	"morvek/workspace"
)

func sent(t *testing.T, q *jobs.Queue, name string, data []byte) (project, upload, work int64) {
	t.Helper()
	ctx := context.Background()
	project, err := db.CreateProject(ctx, "shed")
	if err != nil {
		t.Fatal(err)
	}
	if upload, work, err = q.Read(ctx, store.NewUpload{Project: project, FileName: name, Source: data}, ""); err != nil {
		t.Fatal(err)
	}
	return project, upload, work
}

func documents(t *testing.T, project int64) []store.Document {
	t.Helper()
	all, err := db.Documents(context.Background(), project)
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// A file that was sent is read by any process; what cannot be read says why and leaves nothing, what
// was cancelled is never read.
func TestFilesAreReadInTheQueue(t *testing.T) {
	ctx := context.Background()
	front := open(t, 0)
	good, upload, reads := sent(t, front, "can.obj", meshtest.CanFile(12))
	bad, wrong, fails := sent(t, front, "torn.obj", []byte("v 0 0 0\nf 1 2 3\n"))
	none, dropped, cancelled := sent(t, front, "late.obj", meshtest.CanFile(12))
	if err := front.Cancel(ctx, cancelled); err != nil {
		t.Fatal(err)
	}
	open(t, 1)
	if w := over(t, reads); w.State != "done" || w.Progress != 1 {
		t.Fatalf("reading ended as %q: %s", w.State, w.Message)
	}
	u, err := db.Upload(ctx, upload)
	docs := documents(t, good)
	if err != nil || len(docs) != 1 || u.DocumentID == nil || *u.DocumentID != docs[0].ID || docs[0].Title != "can" || docs[0].Faces == 0 {
		t.Errorf("it became %+v, %v; the project holds %+v", u, err, docs)
	}
	if o, err := workspace.New(db, 0).Get(ctx, docs[0].ID); err != nil || o.Doc.Source.NumFaces() != docs[0].Faces {
		t.Errorf("it does not open: %v", err)
	}
	if w := over(t, fails); w.State != "failed" || !strings.Contains(w.Message, "line 2") {
		t.Errorf("a torn file ended as %q: %s", w.State, w.Message)
	}
	if w := over(t, cancelled); w.State != "cancelled" {
		t.Errorf("a cancelled one is %q", w.State)
	}
	for _, x := range []struct{ project, upload int64 }{{bad, wrong}, {none, dropped}, {good, upload}} {
		if x.project != good && len(documents(t, x.project)) != 0 {
			t.Error("something was left of a file that was not read")
		}
		if _, err := db.UploadSource(ctx, x.upload); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("the file is still kept: %v", err)
		}
	}
	if open, err := db.OpenUploads(ctx, bad); err != nil || len(open) != 1 || open[0].State != "failed" {
		t.Errorf("what failed is listed as %+v, %v", open, err)
	}
}

// A process that dies after it stored the document and before it could say so is followed by one that
// makes no second.
func TestAFileLandsOnce(t *testing.T) {
	ctx := context.Background()
	project, upload, _ := sent(t, open(t, 0), "can.obj", meshtest.CanFile(12))
	for range 2 {
		if err := workspace.New(db, 0).BringIn(ctx, upload, func(string, float64) {}); err != nil {
			t.Fatal(err)
		}
	}
	n := store.NewDocument{Project: project, Title: "again", FileName: "can.obj", Source: []byte("x"), State: []byte("s")}
	if id, err := db.Land(ctx, upload, n); err != nil || id != documents(t, project)[0].ID {
		t.Errorf("landing again gave %d, %v", id, err)
	}
	if docs := documents(t, project); len(docs) != 1 {
		t.Errorf("%d documents came of one file", len(docs))
	}
	if err := db.ForgetUpload(ctx, upload); err != nil { // it is being read still, as far as anybody knows
		t.Fatal(err)
	}
	if _, err := db.Upload(ctx, upload); err != nil {
		t.Errorf("a file that is being read was dropped: %v", err)
	}
}
