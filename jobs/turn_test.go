package jobs_test

import (
	"context"
	"errors"
	"fmt"
	"testing"

	"morvek/core/mesh/meshtest"
	"morvek/jobs"
	"morvek/store"
)

// Somebody who has much under way lets others go before him, and may not have everything.
func TestOthersComeBetween(t *testing.T) {
	ctx := context.Background()
	q := open(t, 0) // nobody works: everything waits
	defer q.Close(ctx)
	project, err := db.CreateProject(ctx, "queue")
	if err != nil {
		t.Fatal(err)
	}
	turn := func(who string, i int) (priority int) {
		t.Helper()
		_, work, err := q.Read(ctx, store.NewUpload{Project: project, FileName: fmt.Sprintf("%s-%d.obj", who, i), Source: meshtest.CanFile(8)}, who)
		if err != nil {
			t.Fatal(err)
		}
		if err := db.DB().QueryRow(`select j.priority from river_job j join works w on w.job_id = j.id where w.id = $1`, work).Scan(&priority); err != nil {
			t.Fatal(err)
		}
		return priority
	}
	for i, want := range []int{1, 2, 3, 4, 4, 4, 4, 4, 4, 4, 4, 4} {
		if got := turn("Bo", i); got != want {
			t.Errorf("work %d of one comes at %d, want %d", i, got, want)
		}
	}
	if got := turn("Cy", 0); got != 1 {
		t.Errorf("that of another comes at %d", got)
	}
	if _, _, err := q.Read(ctx, store.NewUpload{Project: project, FileName: "a.obj", Source: meshtest.CanFile(8)}, "Bo"); !errors.Is(err, jobs.ErrMany) {
		t.Errorf("a thirteenth: %v", err)
	}
	uploads, err := db.OpenUploads(ctx, project)
	if err != nil || len(uploads) != 13 {
		t.Errorf("%d wait, %v", len(uploads), err)
	}
	for _, u := range uploads {
		if err := q.Cancel(ctx, u.Work); err != nil {
			t.Fatal(err)
		}
	}
	if got := turn("Bo", 99); got != 1 {
		t.Errorf("after all were cancelled it comes at %d", got)
	}
	if got := turn("", 0); got != 1 {
		t.Errorf("of nobody it comes at %d", got)
	}
}
