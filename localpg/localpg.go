// Package localpg runs a private PostgreSQL cluster on loopback for the demo
// and for tests: it finds the server binaries, makes a cluster in a folder,
// starts it on a free port with a password of its own, starts it again should it
// die, and stops it at the end. A folder belongs to one process at a time; what a
// killed one left running there is ended first.
package localpg

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
)

// Cluster is a running server.
type Cluster struct {
	URL string // of the database morvek

	dir  string
	bin  string
	cred *syscall.Credential
	port int
	lock *os.File
	log  *os.File
	lost chan error

	mu       sync.Mutex
	now      *server // nil before the first start
	stopping bool
}

// ErrNoServer is returned when no PostgreSQL server is installed.
var ErrNoServer = errors.New("no PostgreSQL server found; install Debian's package postgresql")

// binaries returns the newest folder with PostgreSQL's server programs.
func binaries() (string, error) {
	found, err := filepath.Glob("/usr/lib/postgresql/*/bin/initdb")
	if err != nil {
		return "", err
	}
	if p, err := exec.LookPath("initdb"); err == nil {
		found = append(found, p)
	}
	if len(found) == 0 {
		return "", ErrNoServer
	}
	version := func(p string) int { v, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(p)))); return v }
	slices.SortFunc(found, func(a, b string) int { return version(b) - version(a) })
	return filepath.Dir(found[0]), nil
}

// Program is where a program of PostgreSQL is; ErrNoServer if it is not installed.
func Program(name string) (string, error) {
	if bin, err := binaries(); err == nil {
		if p := filepath.Join(bin, name); fileThere(p) {
			return p, nil
		}
	}
	if p, err := exec.LookPath(name); err == nil {
		return p, nil
	}
	return "", fmt.Errorf("no %s: %w", name, ErrNoServer)
}

func fileThere(name string) bool {
	_, err := os.Stat(name)
	return err == nil
}

// Start makes a cluster in dir if there is none yet and starts it. As root the
// server runs as the user postgres, who then owns dir.
func Start(ctx context.Context, dir string) (*Cluster, error) {
	bin, err := binaries()
	if err != nil {
		return nil, err
	}
	dir, err = filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	c := &Cluster{dir: dir, bin: bin, lost: make(chan error, 1)}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	if c.lock, err = own(ctx, dir); err != nil {
		return nil, err
	}
	if err := c.begin(ctx); err != nil {
		c.Stop()
		return nil, err
	}
	go c.watch()
	return c, nil
}

// begin readies the folder, which is ours alone now, and starts the server.
func (c *Cluster) begin(ctx context.Context) error {
	if os.Geteuid() == 0 {
		if err := c.dropTo("postgres"); err != nil {
			return err
		}
	}
	password, err := c.password()
	if err != nil {
		return err
	}
	if err := c.init(ctx); err != nil {
		return err
	}
	c.log, err = os.OpenFile(filepath.Join(c.dir, "server.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	if c.port, err = freePort(); err != nil {
		return err
	}
	c.URL = fmt.Sprintf("postgres://morvek:%s@127.0.0.1:%d/postgres?sslmode=disable", password, c.port)
	// A server that a process started the moment it was killed takes the folder only now.
	for tries := 1; ; tries++ {
		if err = c.runAlone(ctx); err == nil || ctx.Err() != nil || tries == 3 {
			return err
		}
	}
}

// data is the folder of the cluster itself.
func (c *Cluster) data() string { return filepath.Join(c.dir, "pg") }

func (c *Cluster) dropTo(name string) error {
	u, err := user.Lookup(name)
	if err != nil {
		return fmt.Errorf("PostgreSQL does not run as root and there is no user %s: %w", name, err)
	}
	uid, err := strconv.Atoi(u.Uid)
	if err != nil {
		return err
	}
	gid, err := strconv.Atoi(u.Gid)
	if err != nil {
		return err
	}
	c.cred = &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
	return os.Chown(c.dir, uid, gid)
}

// password returns the cluster's password, made at the first start.
func (c *Cluster) password() (string, error) {
	name := filepath.Join(c.dir, "password")
	if b, err := os.ReadFile(name); err == nil {
		return strings.TrimSpace(string(b)), nil
	}
	if _, err := os.Stat(c.data()); err == nil {
		return "", fmt.Errorf("the database in %s has lost its password file; put it back or choose another folder", c.dir)
	}
	b := make([]byte, 16)
	if _, err := rand.Read(b); err != nil {
		return "", err
	}
	p := hex.EncodeToString(b)
	// Written beside it and renamed: an empty password file would lock us out.
	if err := os.WriteFile(name+".new", []byte(p+"\n"), 0o600); err != nil {
		return "", err
	}
	if c.cred != nil {
		if err := os.Chown(name+".new", int(c.cred.Uid), int(c.cred.Gid)); err != nil {
			return "", err
		}
	}
	return p, os.Rename(name+".new", name)
}

func (c *Cluster) command(ctx context.Context, name string, args ...string) *exec.Cmd {
	cmd := exec.CommandContext(ctx, filepath.Join(c.bin, name), args...)
	cmd.Dir = c.dir
	// A group of its own: Ctrl-C must reach the server through Stop only.
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.cred, Setpgid: true}
	cmd.Env = append(os.Environ(), "LC_ALL=C")
	return cmd
}

// init makes the cluster if there is none: whole, or not at all.
func (c *Cluster) init(ctx context.Context) error {
	if _, err := os.Stat(c.data()); err == nil {
		return nil
	}
	const begun = "pg.new-"
	old, err := filepath.Glob(filepath.Join(c.dir, begun+"*"))
	if err != nil {
		return err
	}
	for _, d := range old { // interrupted starts
		if err := removeBegun(ctx, d); err != nil {
			return err
		}
	}
	fresh, err := os.MkdirTemp(c.dir, begun)
	if err != nil {
		return err
	}
	if c.cred != nil {
		if err := os.Chown(fresh, int(c.cred.Uid), int(c.cred.Gid)); err != nil {
			return err
		}
	}
	out, err := c.command(ctx, "initdb", "-D", fresh, "-U", "morvek", "-E", "UTF8", "--locale=C",
		"-A", "scram-sha-256", "--pwfile", filepath.Join(c.dir, "password"), "--data-checksums", "--no-sync").CombinedOutput()
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if err != nil {
		return fmt.Errorf("initdb: %w: %s", err, out)
	}
	return os.Rename(fresh, c.data())
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// Lost receives an error when the server has died and cannot be started again.
func (c *Cluster) Lost() <-chan error { return c.lost }

// Stop shuts the server down, waiting until its data is safe, and lets go of the folder.
func (c *Cluster) Stop() {
	c.mu.Lock()
	c.stopping = true
	now := c.now
	c.mu.Unlock()
	if now != nil {
		now.stop()
	}
	if c.log != nil {
		c.log.Close()
	}
	c.lock.Close()
}
