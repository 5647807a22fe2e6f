package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"morvek/localpg/pgtest"
	"morvek/models"
)

// demoIn makes this process the demo on a folder, until it is killed.
const demoIn = "MORVEK_TEST_DEMO_IN"

// victim is a demo in a process of its own.
type victim struct {
	dir  string
	cmd  *exec.Cmd
	base string // address; empty if it was killed before it served
	said *bytes.Buffer
}

// startVictim starts the demo and waits until it serves, or is killed after a while.
func startVictim(t *testing.T, dir string, killAfter time.Duration) *victim {
	t.Helper()
	v := &victim{dir: dir, cmd: exec.Command(os.Args[0]), said: &bytes.Buffer{}}
	v.cmd.Env = append(os.Environ(), demoIn+"="+dir)
	v.cmd.Stderr = v.said
	out, err := v.cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := v.cmd.Start(); err != nil {
		t.Fatal(err)
	}
	if killAfter > 0 {
		defer time.AfterFunc(killAfter, v.killAll).Stop()
	}
	line, _ := bufio.NewReader(out).ReadString('\n')
	v.base = regexp.MustCompile(`http://[\d.:]+`).FindString(line)
	return v
}

// postmaster is the process of the database, 0 if there is none.
func (v *victim) postmaster() int {
	b, err := os.ReadFile(v.dir + "/pg/postmaster.pid")
	if err != nil {
		return 0
	}
	pid, _ := strconv.Atoi(strings.TrimSpace(strings.SplitN(string(b), "\n", 2)[0]))
	return pid
}

// log is the end of what the database wrote.
func (v *victim) log() string {
	b, _ := os.ReadFile(v.dir + "/server.log")
	return string(b[max(0, len(b)-2000):])
}

// killDemo kills the demo and leaves its database running.
func (v *victim) killDemo() { _ = v.cmd.Process.Kill() }

// killDatabase kills the database under the demo.
func (v *victim) killDatabase() {
	if pid := v.postmaster(); pid > 1 {
		_ = syscall.Kill(pid, syscall.SIGKILL)
	}
}

// killAll kills the demo, the database and each of its processes at once, as when the
// machine goes down.
func (v *victim) killAll() {
	v.killDemo()
	if pid := v.postmaster(); pid > 1 {
		all, _ := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", pid, pid))
		_ = syscall.Kill(pid, syscall.SIGKILL)
		for _, s := range strings.Fields(string(all)) {
			if child, err := strconv.Atoi(s); err == nil {
				_ = syscall.Kill(child, syscall.SIGKILL)
			}
		}
	}
}

// writer renames the first part of a document again and again, and knows what it was told.
type writer struct {
	doc      string
	revision int64  // last answered
	name     string // of that revision
	pending  int64  // number of the edit sent without an answer, 0: none
	sent     int64
}

func (w *writer) nameOf(n int64) string { return fmt.Sprintf("edit %d", n) }

// rename sends an edit, by its number, and notes the answer.
func (w *writer) rename(ctx context.Context, base string, n int64) (status int, err error) {
	w.pending = n
	body := fmt.Sprintf(`{"base":%d,"key":"%s-%d","edit":{"kind":"rename","params":{"part":0,"name":%q}}}`, w.revision, w.doc, n, w.nameOf(n))
	req, err := http.NewRequestWithContext(ctx, http.MethodPost, base+w.doc+"/edits", strings.NewReader(body))
	if err != nil {
		return 0, err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		return 0, err
	}
	defer res.Body.Close()
	var now struct{ Meta struct{ Revision int64 } }
	b, err := io.ReadAll(res.Body)
	if err != nil {
		return 0, err
	}
	if res.StatusCode != http.StatusOK {
		return res.StatusCode, fmt.Errorf("%.200s", b)
	}
	if err := json.Unmarshal(b, &now); err != nil || now.Meta.Revision != w.revision+1 {
		return res.StatusCode, fmt.Errorf("after revision %d came %d: %.200s, %w", w.revision, now.Meta.Revision, b, errors.Join(err, errWrong))
	}
	w.revision, w.name, w.pending = now.Meta.Revision, w.nameOf(n), 0
	return res.StatusCode, nil
}

var errWrong = errors.New("this must not be")

// state reads revision and name of the first part as they are stored.
func (w *writer) state(t *testing.T, base string) (revision int64, name string) {
	t.Helper()
	var now struct {
		Revision int64
		Parts    []struct{ Name string }
	}
	get(t, base+w.doc+"/meta", &now)
	if len(now.Parts) == 0 {
		t.Fatalf("%s has no parts", w.doc)
	}
	return now.Revision, now.Parts[0].Name
}

// get reads JSON.
func get(t *testing.T, url string, into any) {
	t.Helper()
	res, err := http.Get(url)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	if err := json.NewDecoder(res.Body).Decode(into); err != nil || res.StatusCode != http.StatusOK {
		t.Fatalf("%s: %d %v", url, res.StatusCode, err)
	}
}

// documents are the addresses of all documents, oldest first.
func documents(t *testing.T, base string) []string {
	t.Helper()
	res, err := http.Get(base + "/projects")
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	found := regexp.MustCompile(`/documents/\d+`).FindAllString(string(b), -1)
	slices.Sort(found)
	return slices.Compact(found)
}

// workIsDone waits until the whole job on a document is done, for as long as the tests may take. It is taken
// up by whoever lives, and asked for again where it was given up after three deaths.
func workIsDone(t *testing.T, doc string) {
	t.Helper()
	end, bounded := t.Deadline()
	for {
		res, err := http.Post(doc+"/run", "application/json", strings.NewReader(`{"base":1}`))
		if err != nil {
			t.Fatal(err)
		}
		said, _ := io.ReadAll(res.Body)
		res.Body.Close()
		var now struct{ Head int }
		if get(t, doc+"/meta", &now); now.Head > 0 {
			return
		}
		if bounded && time.Until(end) < 20*time.Second {
			t.Fatalf("long work is never done: %d %s", res.StatusCode, said)
		}
		time.Sleep(time.Second)
	}
}

// The demo and its database are killed at random moments: while they start, seed and answer,
// one of them or both with all they started. The demo always starts again and is whole,
// every edit that was answered is there, and one without an answer is made once when it is
// sent again. MORVEK_KILLS=100 kills as often.
func TestNothingAnsweredIsLostByKilling(t *testing.T) {
	kills := 4
	if n, err := strconv.Atoi(os.Getenv("MORVEK_KILLS")); err == nil {
		kills = n
	}
	parent, err := pgtest.Folder()
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(parent) })
	dir := parent + "/db"
	r := rand.New(rand.NewPCG(17, uint64(kills)))
	soon := func(within time.Duration) time.Duration { return time.Duration(1 + r.Int64N(int64(within))) }
	var writers []*writer
	var answered, again, without int64
	var ran string // a document with long work

	// check brings what is known together with what is stored.
	check := func(v *victim) {
		t.Helper()
		docs := documents(t, v.base)
		if want := len(models.Models()) + len(models.Revised()) + 2; len(docs) != want {
			t.Fatalf("%d documents, want %d: %v", len(docs), want, docs)
		}
		if writers == nil {
			for _, d := range docs[:3] {
				w := &writer{doc: d}
				w.revision, w.name = w.state(t, v.base)
				writers = append(writers, w)
			}
		}
		for _, w := range writers {
			revision, name := w.state(t, v.base)
			stored := w.pending != 0 && revision == w.revision+1 && name == w.nameOf(w.pending)
			if !stored && (revision != w.revision || name != w.name) {
				t.Fatalf("%s: answered revision %d with %q (under way %d), stored is %d with %q", w.doc, w.revision, w.name, w.pending, revision, name)
			}
			if stored {
				without++
			}
			if w.pending != 0 {
				if code, err := w.rename(context.Background(), v.base, w.pending); err != nil {
					t.Fatalf("%s sent again: %d %v", w.doc, code, err)
				}
				again++
			}
		}
	}

	for round := range kills {
		if round%4 == 0 { // while it starts
			v := startVictim(t, dir, soon(4*time.Second))
			v.killAll()
			_ = v.cmd.Wait()
		}
		v := startVictim(t, dir, 0)
		if v.base == "" {
			_ = v.cmd.Wait()
			t.Fatalf("round %d: the demo does not start: %s\n%s", round, v.said, v.log())
		}
		check(v)
		ctx, stop := context.WithCancel(context.Background())
		var g sync.WaitGroup
		for _, w := range writers {
			g.Go(func() {
				for ctx.Err() == nil {
					n := w.pending
					if n == 0 {
						w.sent++
						n = w.sent
					}
					switch code, err := w.rename(ctx, v.base, n); {
					case code == http.StatusServiceUnavailable:
						time.Sleep(20 * time.Millisecond) // the database comes back; the same again
					case errors.Is(err, errWrong) || code != 0 && code != http.StatusOK:
						t.Errorf("%s, edit %d: %d %v", w.doc, n, code, err)
						return
					case err != nil:
						return // killed
					}
				}
			})
		}
		if round%2 == 1 { // long work is under way meanwhile, on a document of its own
			ran = documents(t, v.base)[4]
			var now struct{ Revision int64 }
			get(t, v.base+ran+"/meta", &now)
			res, err := http.Post(v.base+ran+"/run", "application/json", strings.NewReader(fmt.Sprintf(`{"base":%d}`, now.Revision)))
			if err != nil {
				t.Fatal(err)
			}
			res.Body.Close()
			if res.StatusCode != http.StatusAccepted && res.StatusCode != http.StatusConflict { // it is under way already
				t.Fatalf("the whole job is answered %d", res.StatusCode)
			}
		}
		time.Sleep(soon(600 * time.Millisecond))
		switch round % 3 {
		case 0:
			v.killDemo()
		case 1:
			v.killAll()
		default:
			v.killDatabase()
			time.Sleep(soon(1500 * time.Millisecond))
			v.killAll()
		}
		_ = v.cmd.Wait()
		stop()
		g.Wait()
		if t.Failed() {
			t.Fatalf("round %d: %s", round, v.said)
		}
	}
	v := startVictim(t, dir, 0)
	t.Cleanup(func() { _ = v.cmd.Process.Signal(syscall.SIGTERM); _ = v.cmd.Wait() })
	if v.base == "" {
		t.Fatalf("at the end the demo does not start: %s\n%s", v.said, v.log())
	}
	check(v)
	if ran != "" {
		workIsDone(t, v.base+ran)
	}
	for _, w := range writers {
		answered += w.sent
	}
	t.Logf("killed %d times: %d edits, %d sent again, %d of these were stored without an answer", kills+(kills+3)/4, answered, again, without)
	if answered == 0 || again == 0 {
		t.Error("no edit was under way at any killing")
	}
}
