package localpg

import (
	"bufio"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // database driver
)

const holdFolder = "MORVEK_TEST_HOLD"

// As a child of a test this process only holds a cluster until it is killed.
func TestMain(m *testing.M) {
	dir := os.Getenv(holdFolder)
	if dir == "" {
		os.Exit(m.Run())
	}
	c, err := Start(context.Background(), dir)
	if err != nil {
		fmt.Println(err)
		os.Exit(1)
	}
	fmt.Println(c.URL)
	select {}
}

func folder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "morvek-test-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil { // PostgreSQL's user must reach it
		t.Fatal(err)
	}
	return dir + "/db"
}

func start(t *testing.T, dir string) *Cluster {
	t.Helper()
	c, err := Start(context.Background(), dir)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(c.Stop)
	return c
}

// hold starts a cluster in a process of its own, up to the killing.
func hold(t *testing.T, dir string) (url string, kill func()) {
	t.Helper()
	cmd := exec.Command(os.Args[0])
	cmd.Env = append(os.Environ(), holdFolder+"="+dir)
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	kill = func() { _ = cmd.Process.Kill(); _ = cmd.Wait() }
	t.Cleanup(kill)
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil || !strings.HasPrefix(line, "postgres:") {
		t.Fatalf("the child says %q: %v", line, err)
	}
	return strings.TrimSpace(line), kill
}

func run(t *testing.T, url, query string) {
	t.Helper()
	if err := tryRun(url, query); err != nil {
		t.Fatalf("%s: %v", query, err)
	}
}

func tryRun(url, query string) error {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.Exec(query)
	return err
}

func TestWhatAKilledProcessLeftRunningIsTakenOver(t *testing.T) {
	dir := folder(t)
	url, kill := hold(t, dir)
	run(t, url, `create table kept (n int)`)
	run(t, url, `insert into kept values (7)`)
	kill()
	if err := tryRun(url, `select 1`); err != nil {
		t.Fatalf("there is no orphan to take over: %v", err)
	}
	c := start(t, dir)
	if err := tryRun(url, `select 1`); err == nil {
		t.Error("the orphaned server still answers")
	}
	run(t, c.URL, `insert into kept select n from kept where n = 7`)
}

// What was answered is on the disk, and what the disk loses is noticed.
func TestDataIsKept(t *testing.T) {
	c := start(t, folder(t))
	db, err := sql.Open("pgx", c.URL)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, name := range []string{"data_checksums", "fsync", "synchronous_commit", "full_page_writes"} {
		var is string
		if err := db.QueryRow("show " + name).Scan(&is); err != nil || is != "on" {
			t.Errorf("%s is %q, %v", name, is, err)
		}
	}
}

func TestAFolderInUseIsLeftAlone(t *testing.T) {
	defer func(p time.Duration) { patience = p }(patience)
	patience = 300 * time.Millisecond
	dir := folder(t)
	url, _ := hold(t, dir)
	if _, err := Start(context.Background(), dir); err == nil || !strings.Contains(err.Error(), "uses "+dir) {
		t.Errorf("starting on a folder in use: %v", err)
	}
	run(t, url, `select 1`)
}

func TestAServerThatDiesIsStartedAgain(t *testing.T) {
	c := start(t, folder(t))
	run(t, c.URL, `create table kept (n int)`)
	for range 2 {
		c.mu.Lock()
		master := c.now
		c.mu.Unlock()
		if err := master.cmd.Process.Kill(); err != nil {
			t.Fatal(err)
		}
		<-master.exit
		for end := time.Now().Add(30 * time.Second); tryRun(c.URL, `insert into kept values (1)`) != nil; time.Sleep(50 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatal("the database does not come back")
			}
		}
	}
}

func TestAServerThatCannotBeStartedAgainIsSaid(t *testing.T) {
	dir := folder(t)
	c := start(t, dir)
	if err := os.RemoveAll(c.data()); err != nil {
		t.Fatal(err)
	}
	_ = c.now.cmd.Process.Kill()
	select {
	case err := <-c.Lost():
		if !strings.Contains(err.Error(), "does not start again") {
			t.Errorf("it says %v", err)
		}
	case <-time.After(60 * time.Second):
		t.Fatal("nobody says that the database is gone")
	}
}

func TestAnInterruptedFirstStartStartsOver(t *testing.T) {
	dir := folder(t)
	for _, after := range []time.Duration{20, 150, 400, 800} {
		ctx, cancel := context.WithTimeout(context.Background(), after*time.Millisecond)
		c, err := Start(ctx, dir)
		cancel()
		if err == nil {
			c.Stop()
		} else if !errors.Is(err, context.DeadlineExceeded) {
			t.Fatalf("interrupted after %v ms: %v", int(after), err)
		}
	}
	// Killed in the middle, with initdb at work.
	cmd := exec.Command(os.Args[0])
	cmd.Env = append(os.Environ(), holdFolder+"="+dir+"2")
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	time.Sleep(300 * time.Millisecond)
	_ = cmd.Process.Signal(syscall.SIGKILL)
	_ = cmd.Wait()
	run(t, start(t, dir).URL, `select 1`)
	run(t, start(t, dir+"2").URL, `select 1`)
}

// What a killed start was making is written on by initdb, which outlives it.
func TestAClusterStillBeingMadeIsTakenOver(t *testing.T) {
	dir := folder(t)
	begun := dir + "/pg.new-7"
	if err := os.MkdirAll(begun, 0o755); err != nil {
		t.Fatal(err)
	}
	script := filepath.Join(filepath.Dir(dir), "initdb")
	if err := os.WriteFile(script, []byte("#!/bin/sh\nn=0\nwhile mkdir -p $2/base/1; do : >$2/base/1/$n; n=$((n+1)); done\n"), 0o755); err != nil {
		t.Fatal(err)
	}
	maker := exec.Command(script, "-D", begun)
	if err := maker.Start(); err != nil {
		t.Fatal(err)
	}
	ended := make(chan struct{})
	go func() {
		_ = maker.Wait()
		close(ended)
	}()
	t.Cleanup(func() { _ = maker.Process.Kill() })
	for end := time.Now().Add(10 * time.Second); !fileThere(begun + "/base/1/50"); time.Sleep(10 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("the stand-in of initdb writes nothing")
		}
	}
	run(t, start(t, dir).URL, `select 1`)
	select {
	case <-ended:
	case <-time.After(10 * time.Second):
		t.Error("what made the folder goes on")
	}
	if fileThere(begun) {
		t.Error("the folder that was begun is there still")
	}
}
