package jobs_test

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"morvek/core/mesh/meshtest"
	"morvek/jobs"
	"morvek/store"
	"morvek/workspace"
)

// What a child of these tests is told, by the environment.
const (
	childOf   = "MORVEK_TEST_CHILD" // the work it does
	childDoes = "MORVEK_TEST_DOES"  // what besides
	childAt   = "MORVEK_TEST_AT"    // the database
)

// child does one work as the program does, or what a bad file would make of it.
func child() int {
	switch os.Getenv(childDoes) {
	case "grows":
		var all [][]byte
		for {
			b := make([]byte, 1<<20)
			for i := 0; i < len(b); i += 4096 {
				b[i] = 1
			}
			all = append(all, b)
			time.Sleep(time.Duration(len(all)) * time.Microsecond)
		}
	case "dies":
		fmt.Fprintln(os.Stderr, "fatal error: all is lost")
		_ = syscall.Kill(os.Getpid(), syscall.SIGKILL)
	case "hangs":
		time.Sleep(time.Hour)
	}
	ctx := context.Background()
	s, err := store.Open(ctx, os.Getenv(childAt))
	if err != nil {
		fmt.Println(err)
		return 1
	}
	work, err := strconv.ParseInt(os.Getenv(childOf), 10, 64)
	if err == nil {
		err = jobs.Perform(ctx, s, workspace.New(s, 0), slog.New(slog.DiscardHandler), work)
	}
	if err != nil {
		fmt.Println(workspace.Words(err))
		return 1
	}
	return 0
}

// apart has works done by children of this test.
func apart(does string) *jobs.Apart {
	return &jobs.Apart{Memory: 256 << 20, Command: func(ctx context.Context, work int64) *exec.Cmd {
		cmd := exec.CommandContext(ctx, os.Args[0])
		cmd.Env = append(os.Environ(), childOf+"="+strconv.FormatInt(work, 10), childDoes+"="+does, childAt+"="+url)
		return cmd
	}}
}

// A file is read in a process of its own; whatever happens to that, its work says so and all else goes on.
func TestTheWorstFileCostsItsWorkAlone(t *testing.T) {
	ctx := context.Background()
	project, err := db.CreateProject(ctx, "foreign")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		does, name string
		data       []byte
		state      string
		says       string
	}{
		{"", "can.obj", meshtest.CanFile(8), "done", ""},
		{"", "bad.obj", []byte("v 0 0\nf 1 2 3\n"), "failed", "line 1"},
		{"grows", "large.obj", meshtest.CanFile(8), "failed", "256 MiB of memory"},
		{"dies", "deadly.obj", meshtest.CanFile(8), "failed", "all is lost"},
	} {
		t.Run(c.name, func(t *testing.T) {
			q, err := jobs.Open(ctx, url, db, workspace.New(db, 0), jobs.Workers{N: 1, Apart: apart(c.does)}, slog.New(slog.DiscardHandler))
			if err != nil {
				t.Fatal(err)
			}
			defer q.Close(ctx)
			_, work, err := q.Read(ctx, store.NewUpload{Project: project, FileName: c.name, Source: c.data}, "")
			if err != nil {
				t.Fatal(err)
			}
			w := over(t, work)
			if w.State != c.state || !strings.Contains(w.Message, c.says) {
				t.Errorf("%s: %s", w.State, w.Message)
			}
		})
	}
}

// A work that is cancelled ends with its process, at once.
func TestACancelledProcessEnds(t *testing.T) {
	ctx := context.Background()
	project, err := db.CreateProject(ctx, "cancelled")
	if err != nil {
		t.Fatal(err)
	}
	begun := make(chan *exec.Cmd, 1)
	a := apart("hangs")
	inner := a.Command
	a.Command = func(ctx context.Context, work int64) *exec.Cmd {
		cmd := inner(ctx, work)
		begun <- cmd
		return cmd
	}
	q, err := jobs.Open(ctx, url, db, workspace.New(db, 0), jobs.Workers{N: 1, Apart: a}, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	defer q.Close(ctx)
	_, work, err := q.Read(ctx, store.NewUpload{Project: project, FileName: "can.obj", Source: meshtest.CanFile(8)}, "")
	if err != nil {
		t.Fatal(err)
	}
	cmd := <-begun
	for cmd.Process == nil {
		time.Sleep(10 * time.Millisecond)
	}
	if err := q.Cancel(ctx, work); err != nil {
		t.Fatal(err)
	}
	for range 500 {
		if cmd.Process.Signal(syscall.Signal(0)) != nil { // it is gone
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Error("it goes on")
}
