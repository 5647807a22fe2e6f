package main

import (
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
)

// killDatabase ends PostgreSQL without a word; the cluster starts it again.
func (h *house) killDatabase() {
	b, err := os.ReadFile(filepath.Join(h.dir, "db", "pg", "postmaster.pid"))
	if err != nil {
		return
	}
	first, _, _ := strings.Cut(string(b), "\n")
	if pid, err := strconv.Atoi(first); err == nil {
		_ = syscall.Kill(pid, syscall.SIGKILL)
	}
}
