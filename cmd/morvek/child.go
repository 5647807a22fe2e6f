package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"os"
	"os/exec"
	"strconv"

	"morvek/core/parallel"
	"morvek/jobs"
	"morvek/store"
	"morvek/workspace"
)

func init() { commands["child"] = runChild }

// What a process that does one work is told, by the environment alone.
const (
	childWork     = "MORVEK_CHILD_WORK"
	childDatabase = "MORVEK_CHILD_DATABASE"
)

// apart has works done by processes of this program, each within so much memory (bytes; 0 for any).
func apart(database string, memory int64) (*jobs.Apart, error) {
	self, err := os.Executable()
	if err != nil {
		return nil, err
	}
	return &jobs.Apart{Memory: memory, Command: func(ctx context.Context, work int64) *exec.Cmd {
		cmd := exec.CommandContext(ctx, self, "child")
		cmd.Env = append(os.Environ(), fmt.Sprintf("%s=%d", childWork, work), childDatabase+"="+database)
		if memory > 0 { // it collects before it is ended
			cmd.Env = append(cmd.Env, fmt.Sprintf("GOMEMLIMIT=%d", memory/10*8))
		}
		return cmd
	}}, nil
}

// runChild does one work and says on its output why it could not.
func runChild(ctx context.Context, _ []string, stdout, stderr io.Writer) (int, error) {
	work, err := strconv.ParseInt(os.Getenv(childWork), 10, 64)
	if err != nil {
		return exitUsage, errors.New("this is for workers, which call it themselves")
	}
	s, err := store.Open(ctx, os.Getenv(childDatabase))
	if err != nil {
		return exitFailed, err
	}
	defer s.Close()
	docs := workspace.New(s, 0)
	defer docs.Close()
	log := slog.New(slog.NewTextHandler(stderr, nil))
	if err := parallel.Catch(func() error { return jobs.Perform(ctx, s, docs, log, work) }); err != nil {
		if p := new(parallel.Panic); errors.As(err, &p) {
			log.Error("a work broke down", "work", work, "err", err)
		}
		fmt.Fprintln(stdout, workspace.Words(err))
		return exitFailed, nil
	}
	return exitDone, nil
}
