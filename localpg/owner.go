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

// endOrphans ends the server that a killed process left running on a cluster, with its
// children. The caller owns the folder, so nobody else uses that server.
func endOrphans(ctx context.Context, data string) error {
	pidFile := filepath.Join(data, "postmaster.pid")
	b, err := os.ReadFile(pidFile)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	first, _, _ := strings.Cut(string(b), "\n")
	master, err := strconv.Atoi(strings.TrimSpace(first))
	if err != nil {
		return os.Remove(pidFile) // half written: the server never got as far as using the data
	}
	if !worksIn(master, data) {
		if len(serversIn(data)) == 0 && syscall.Kill(master, 0) == nil {
			return os.Remove(pidFile) // the number belongs to a stranger by now
		}
		master = 0
	}
	for _, sig := range []syscall.Signal{syscall.SIGINT, syscall.SIGQUIT, syscall.SIGKILL} {
		if master != 0 && sig != syscall.SIGKILL {
			_ = syscall.Kill(master, sig) // it ends its children
		} else if sig == syscall.SIGKILL {
			for _, pid := range serversIn(data) {
				_ = syscall.Kill(pid, sig)
			}
		}
		for end := time.Now().Add(8 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			if len(serversIn(data)) == 0 {
				return nil
			}
		}
	}
	return fmt.Errorf("a database server still runs in %s and cannot be ended", data)
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
