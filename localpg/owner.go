package localpg

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// patience is how long a process that is just stopping is waited for.
var patience = 15 * time.Second

// own takes a folder for this process alone. The lock ends with the process, however
// it ends.
func own(ctx context.Context, dir string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	for end := time.Now().Add(patience); ; {
		err = syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB)
		if !errors.Is(err, syscall.EWOULDBLOCK) {
			break
		}
		if time.Now().After(end) {
			holder, _ := io.ReadAll(f)
			err = fmt.Errorf("another Morvek (process %s) uses %s; stop it, or choose another folder", strings.TrimSpace(string(holder)), dir)
			break
		}
		select {
		case <-ctx.Done():
			f.Close()
			return nil, ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
	}
	if err == nil {
		if err = f.Truncate(0); err == nil {
			_, err = f.WriteAt([]byte(strconv.Itoa(os.Getpid())+"\n"), 0)
		}
	}
	if err != nil {
		f.Close()
		return nil, err
	}
	return f, nil
}

// takeOver ends what a killed process left running on a cluster: the server, with or
// without its children. The caller owns the folder, so nobody else uses that server.
func takeOver(ctx context.Context, data string) error {
	// Nobody is connected any more, so that the first is enough as a rule.
	if err := endOrphans(ctx, data, syscall.SIGTERM, syscall.SIGQUIT, syscall.SIGKILL); err != nil {
		return err
	}
	return forgetStranger(filepath.Join(data, "postmaster.pid"))
}

// removeBegun removes a cluster that a killed process had not finished making; initdb and the
// server it asks may be writing there still.
func removeBegun(ctx context.Context, data string) error {
	if err := endOrphans(ctx, data, syscall.SIGKILL); err != nil {
		return err
	}
	return os.RemoveAll(data)
}

// endOrphans ends the processes of PostgreSQL in a data folder, each signal tried for a while.
func endOrphans(ctx context.Context, data string, signals ...syscall.Signal) error {
	for _, sig := range signals {
		for end := time.Now().Add(8 * time.Second); ; time.Sleep(50 * time.Millisecond) {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			left := serversIn(data)
			if len(left) == 0 {
				return nil
			}
			if time.Now().After(end) {
				break
			}
			for _, pid := range left { // again: they start others
				_ = syscall.Kill(pid, sig)
			}
		}
	}
	return fmt.Errorf("a database server still runs in %s and cannot be ended", data)
}

// forgetStranger removes the note of which server runs, when none does, if it would keep the
// next from starting: its number belongs to a stranger by now, or it is half written.
func forgetStranger(note string) error {
	b, err := os.ReadFile(note)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	first, _, _ := strings.Cut(string(b), "\n")
	if master, err := strconv.Atoi(strings.TrimSpace(first)); err != nil || syscall.Kill(master, 0) == nil {
		return os.Remove(note)
	}
	return nil
}

// serversIn lists the processes of PostgreSQL that work in a data folder.
func serversIn(data string) (pids []int) {
	all, _ := os.ReadDir("/proc")
	for _, e := range all {
		if pid, err := strconv.Atoi(e.Name()); err == nil && worksIn(pid, data) {
			pids = append(pids, pid)
		}
	}
	return pids
}

// worksIn tells whether a process is a PostgreSQL server of a data folder, or is making that
// folder: servers make it their working folder, initdb is given it.
func worksIn(pid int, data string) bool {
	proc := filepath.Join("/proc", strconv.Itoa(pid))
	name, err := os.ReadFile(filepath.Join(proc, "comm"))
	if err != nil {
		return false
	}
	switch strings.TrimSpace(string(name)) {
	case "postgres":
		at, err := os.Stat(filepath.Join(proc, "cwd"))
		if err != nil {
			return false
		}
		want, err := os.Stat(data)
		return err == nil && os.SameFile(at, want)
	case "initdb":
		args, err := os.ReadFile(filepath.Join(proc, "cmdline"))
		return err == nil && strings.Contains(string(args), "\x00-D\x00"+data+"\x00")
	}
	return false
}
