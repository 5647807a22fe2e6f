package jobs

import (
	"bytes"
	"context"
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"morvek/core/document"
	"morvek/store"
	"morvek/workspace"
)

// Apart is how work on foreign files is done in a process of its own, so that the worst of them costs its
// work and nothing else.
type Apart struct {
	Command func(ctx context.Context, work int64) *exec.Cmd // does one work, then ends; says on its output why it could not
	Memory  int64                                           // bytes that it may take; 0 for any
}

// foreign are the kinds of work that read and lay what came from elsewhere.
var foreign = []string{Read, Run, Revise}

// watchEvery is how often it is looked how much memory a process takes.
const watchEvery = 100 * time.Millisecond

// perform does a work in a process of its own, or says why that could not.
func (a *Apart) perform(ctx context.Context, work store.Work) error {
	cmd := a.Command(ctx, work.ID)
	var said, trouble bytes.Buffer
	cmd.Stdout, cmd.Stderr = &said, &tail{&trouble}
	if cmd.SysProcAttr == nil {
		cmd.SysProcAttr = &syscall.SysProcAttr{}
	}
	cmd.SysProcAttr.Setpgid, cmd.SysProcAttr.Pdeathsig = true, syscall.SIGKILL // it never outlives us
	cmd.WaitDelay = 2 * time.Second
	if err := cmd.Start(); err != nil {
		return err
	}
	var large atomic.Bool
	ended := make(chan struct{})
	if a.Memory > 0 {
		go a.weigh(cmd.Process, ended, &large)
	}
	err := cmd.Wait()
	close(ended)
	switch {
	case ctx.Err() != nil:
		return ctx.Err()
	case large.Load():
		return document.Refuse("it took more than %d MiB of memory; split the model, or bring it in with fewer faces", a.Memory>>20)
	case err == nil:
		return nil
	case said.Len() > 0:
		return document.Refuse("%s", strings.TrimSpace(said.String()))
	}
	first, _, _ := strings.Cut(strings.TrimSpace(trouble.String()), "\n")
	return document.Refuse("the program that did it broke down (%v: %.200s); nothing was changed", err, first)
}

// weigh ends a process that takes too much memory.
func (a *Apart) weigh(p *os.Process, ended <-chan struct{}, large *atomic.Bool) {
	for {
		select {
		case <-ended:
			return
		case <-time.After(watchEvery):
		}
		if resident(p.Pid) > a.Memory {
			large.Store(true)
			_ = p.Kill()
			return
		}
	}
}

// resident is how many bytes of memory a process takes, 0 where that is not known (proc(5)).
func resident(pid int) int64 {
	b, err := os.ReadFile(fmt.Sprintf("/proc/%d/statm", pid))
	if err != nil {
		return 0
	}
	f := strings.Fields(string(b))
	if len(f) < 2 {
		return 0
	}
	pages, err := strconv.ParseInt(f[1], 10, 64)
	if err != nil {
		return 0
	}
	return pages * int64(os.Getpagesize())
}

// tail keeps the end of what is written.
type tail struct{ *bytes.Buffer }

func (t *tail) Write(p []byte) (int, error) {
	const most = 4 << 10
	t.Buffer.Write(p)
	if n := t.Len(); n > most {
		t.Next(n - most)
	}
	return len(p), nil
}

// Perform does one work in this process, which was begun for it.
func Perform(ctx context.Context, s *store.Store, docs *workspace.Documents, log *slog.Logger, work int64) error {
	w, err := s.Work(ctx, work)
	if err != nil {
		return err
	}
	return newWorker(s, docs, log).perform(ctx, w)
}

// apart tells whether a kind of work is done in a process of its own.
func (a *Apart) apart(kind string) bool { return a != nil && slices.Contains(foreign, kind) }
