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

// endOrphans ends what a killed process left running on a cluster: the server, with or
// without its children. The caller owns the folder, so nobody else uses that server.
func endOrphans(ctx context.Context, data string) error {
	// Nobody is connected any more, so that the first is enough as a rule.
	for _, sig := range []syscall.Signal{syscall.SIGTERM, syscall.SIGQUIT, syscall.SIGKILL} {
		for _, pid := range serversIn(data) {
			_ = syscall.Kill(pid, sig)
		}
		for end := time.Now().Add(8 * time.Second); ; time.Sleep(50 * time.Millisecond) {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if len(serversIn(data)) == 0 {
				return forgetStranger(filepath.Join(data, "postmaster.pid"))
			}
			if time.Now().After(end) {
				break
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

// worksIn tells whether a process is a PostgreSQL server of a data folder: servers make
// it their working folder.
func worksIn(pid int, data string) bool {
	proc := filepath.Join("/proc", strconv.Itoa(pid))
	name, err := os.ReadFile(filepath.Join(proc, "comm"))
	if err != nil || strings.TrimSpace(string(name)) != "postgres" {
		return false
	}
	at, err := os.Stat(filepath.Join(proc, "cwd"))
	if err != nil {
		return false
	}
	want, err := os.Stat(data)
	return err == nil && os.SameFile(at, want)
}
