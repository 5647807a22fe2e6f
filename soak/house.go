package main

import (
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"syscall"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // database driver

	"morvek/localpg"
)

// house is a database with processes on it.
type house struct {
	binary, dir string
	pg          *localpg.Cluster
	db          *sql.DB

	mu   sync.Mutex
	proc []*process
}

func open(ctx context.Context, binary string) (*house, error) {
	dir, err := os.MkdirTemp("", "morvek-soak-")
	if err != nil {
		return nil, err
	}
	if err := os.Chmod(dir, 0o755); err != nil { //nolint:gosec // PostgreSQL's user must reach it
		return nil, err
	}
	h := &house{binary: binary, dir: dir}
	if h.pg, err = localpg.Start(ctx, filepath.Join(dir, "db")); err != nil {
		return nil, errors.Join(err, os.RemoveAll(dir))
	}
	h.db, err = sql.Open("pgx", h.pg.URL)
	return h, err
}

func (h *house) close() {
	h.mu.Lock()
	for _, p := range h.proc {
		p.end()
	}
	h.mu.Unlock()
	h.db.Close()
	h.pg.Stop()
	_ = os.RemoveAll(h.dir)
}

// process is one of the application.
type process struct {
	args []string
	log  *os.File

	mu  sync.Mutex
	cmd *exec.Cmd
	at  string // address, of a server
}

var place = regexp.MustCompile(`http://[\d.:]+`)

// start starts a process; of a server it waits until that says where it is.
func (h *house) start(args ...string) (*process, error) {
	log, err := os.Create(filepath.Join(h.dir, fmt.Sprintf("%s-%d.log", args[0], time.Now().UnixNano())))
	if err != nil {
		return nil, err
	}
	p := &process{args: args, log: log}
	if err := h.begin(p); err != nil {
		return nil, err
	}
	h.mu.Lock()
	h.proc = append(h.proc, p)
	h.mu.Unlock()
	return p, nil
}

func (h *house) begin(p *process) error {
	cmd := exec.Command(h.binary, p.args...)
	cmd.Env = append(os.Environ(), "MORVEK_DATABASE="+h.pg.URL)
	cmd.Stderr = p.log
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil {
		_ = cmd.Wait()
		return fmt.Errorf("%s did not start, see %s: %w", p.args[0], p.log.Name(), err)
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	p.mu.Lock()
	defer p.mu.Unlock()
	p.cmd = cmd
	if at := place.FindString(line); at != "" {
		p.at = at
		for i, a := range p.args { // the same one when it starts again
			if a == "127.0.0.1:0" {
				p.args[i] = strings.TrimPrefix(at, "http://")
			}
		}
	}
	return nil
}

// address is where a server is.
func (p *process) address() string {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.at
}

// again kills a process without a word and starts it anew.
func (h *house) again(p *process) error {
	p.end()
	var err error
	for range 20 {
		if err = h.begin(p); err == nil {
			return nil
		}
		time.Sleep(500 * time.Millisecond)
	}
	return err
}

func (p *process) end() {
	p.mu.Lock()
	cmd := p.cmd
	p.cmd = nil
	p.mu.Unlock()
	if cmd != nil {
		_ = cmd.Process.Kill()
		_ = cmd.Wait()
	}
}

// peak is how much memory a process took at most, in bytes.
func (p *process) peak() int64 {
	p.mu.Lock()
	defer p.mu.Unlock()
	b, _ := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.cmd.Process.Pid))
	var kb int64
	if i := bytes.Index(b, []byte("VmHWM:")); i >= 0 {
		_, _ = fmt.Sscan(string(b[i+6:]), &kb)
	}
	return kb << 10
}

// computed is how long a process kept a core busy so far (proc(5), stat: utime and stime, in hundredths).
func (p *process) computed() time.Duration {
	b, _ := os.ReadFile(fmt.Sprintf("/proc/%d/stat", p.cmd.Process.Pid))
	fields := strings.Fields(string(b[bytes.LastIndexByte(b, ')')+1:]))
	if len(fields) < 13 {
		return 0
	}
	var user, system int64
	_, _ = fmt.Sscan(fields[11]+" "+fields[12], &user, &system)
	return time.Duration(user+system) * 10 * time.Millisecond
}

// client waits for answers as a browser does, and holds its connections.
var client = &http.Client{Timeout: 60 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 256}}

// ask asks a server; into takes the answer, if it is one.
func ask(ctx context.Context, method, at string, body, into any) (status int, err error) {
	var r io.Reader
	if body != nil {
		b, err := json.Marshal(body)
		if err != nil {
			return 0, err
		}
		r = bytes.NewReader(b)
	}
	req, err := http.NewRequestWithContext(ctx, method, at, r)
	if err != nil {
		return 0, err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := client.Do(req)
	if err != nil {
		return 0, err
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		return res.StatusCode, err
	}
	if into != nil && res.StatusCode < 300 {
		err = json.Unmarshal(b, into)
	}
	return res.StatusCode, err
}

// over waits for a long work to end.
func over(ctx context.Context, at string, work int64) error {
	for {
		var w struct {
			State   string `json:"state"`
			Message string `json:"message"`
		}
		if code, err := ask(ctx, "GET", fmt.Sprintf("%s/api/v1/works/%d", at, work), nil, &w); err != nil || code != 200 {
			return fmt.Errorf("work %d: %d, %w", work, code, err)
		}
		switch w.State {
		case "waiting", "running":
		case "done":
			return nil
		default:
			return fmt.Errorf("work %d %s: %s", work, w.State, w.Message)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(200 * time.Millisecond):
		}
	}
}

// bring makes a document of a generated model of so many faces, with the whole job done if job, and returns its number.
func (h *house) bring(ctx context.Context, at string, faces int, job bool) (document int64, err error) {
	file := filepath.Join(h.dir, fmt.Sprintf("mast-%d.obj", faces))
	if out, err := exec.CommandContext(ctx, h.binary, "model", "station-mast", "-faces", fmt.Sprint(faces), "-o", file).CombinedOutput(); err != nil {
		return 0, fmt.Errorf("%w: %s", err, out)
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return 0, err
	}
	req, err := http.NewRequestWithContext(ctx, "POST", at+"/api/v1/models?name="+filepath.Base(file), bytes.NewReader(data))
	if err != nil {
		return 0, err
	}
	res, err := client.Do(req)
	if err != nil {
		return 0, err
	}
	defer res.Body.Close()
	var came struct{ Upload, Work int64 }
	if err := json.NewDecoder(res.Body).Decode(&came); err != nil || res.StatusCode != http.StatusAccepted {
		return 0, fmt.Errorf("bringing a model in: %d, %w", res.StatusCode, err)
	}
	if err := over(ctx, at, came.Work); err != nil {
		return 0, err
	}
	var u struct{ Document int64 }
	if _, err := ask(ctx, "GET", fmt.Sprintf("%s/api/v1/uploads/%d", at, came.Upload), nil, &u); err != nil {
		return 0, err
	}
	if job {
		var w struct{ Work int64 }
		if code, err := ask(ctx, "POST", fmt.Sprintf("%s/api/v1/documents/%d/run", at, u.Document), map[string]any{}, &w); err != nil || w.Work == 0 {
			return 0, fmt.Errorf("the whole job: %d, %w", code, err)
		}
		if err := over(ctx, at, w.Work); err != nil {
			return 0, err
		}
	}
	return u.Document, nil
}

// copies makes n documents like one.
func (h *house) copies(ctx context.Context, at string, document int64, n int) ([]int64, error) {
	out := []int64{document}
	for len(out) < n {
		res, err := client.PostForm(fmt.Sprintf("%s/documents/%d/shelf", at, document), url.Values{"do": {"duplicate"}, "title": {fmt.Sprint("copy ", len(out))}})
		if err != nil {
			return nil, err
		}
		res.Body.Close()
		var id int64
		if err := h.db.QueryRowContext(ctx, `select max(id) from documents`).Scan(&id); err != nil {
			return nil, err
		}
		out = append(out, id)
	}
	return out, nil
}

// revision is that of a document now.
func (h *house) revision(ctx context.Context, document int64) (n int64, err error) {
	err = h.db.QueryRowContext(ctx, `select revision from documents where id = $1`, document).Scan(&n)
	return n, err
}
