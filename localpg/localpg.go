// Package localpg runs a private PostgreSQL cluster on loopback for the demo
// and for tests: it finds the server binaries, makes a cluster in a folder,
// starts it on a free port with a password of its own, and stops it again.
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
	"syscall"
	"time"
)

// Cluster is a running server.
type Cluster struct {
	URL string // of the database morvek

	dir  string
	bin  string
	cred *syscall.Credential
	cmd  *exec.Cmd
	log  *os.File
	exit chan struct{}
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
	c := &Cluster{dir: dir, bin: bin, exit: make(chan struct{})}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	if os.Geteuid() == 0 {
		if err := c.dropTo("postgres"); err != nil {
			return nil, err
		}
	}
	password, err := c.password()
	if err != nil {
		return nil, err
	}
	if _, err := os.Stat(filepath.Join(dir, "pg", "PG_VERSION")); err != nil {
		if err := c.init(ctx); err != nil {
			return nil, err
		}
	}
	if err := c.run(ctx, password); err != nil {
		c.Stop()
		return nil, err
	}
	return c, nil
}

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
	b := make([]byte, 16)
	if _, err := rand.Read(b); err != nil {
		return "", err
	}
	p := hex.EncodeToString(b)
	if err := os.WriteFile(name, []byte(p+"\n"), 0o600); err != nil {
		return "", err
	}
	if c.cred != nil {
		return p, os.Chown(name, int(c.cred.Uid), int(c.cred.Gid))
	}
	return p, nil
}

func (c *Cluster) command(name string, args ...string) *exec.Cmd {
	cmd := exec.Command(filepath.Join(c.bin, name), args...)
	cmd.Dir = c.dir
	// A group of its own: Ctrl-C must reach the server through Stop only.
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.cred, Setpgid: true}
	cmd.Env = append(os.Environ(), "LC_ALL=C")
	return cmd
}

func (c *Cluster) init(ctx context.Context) error {
	cmd := c.command("initdb", "-D", filepath.Join(c.dir, "pg"), "-U", "morvek", "-E", "UTF8", "--locale=C",
		"-A", "scram-sha-256", "--pwfile", filepath.Join(c.dir, "password"), "--no-sync")
	out, err := cmd.CombinedOutput()
	if err != nil {
		return fmt.Errorf("initdb: %w: %s", err, out)
	}
	return ctx.Err()
}

func (c *Cluster) run(ctx context.Context, password string) error {
	port, err := freePort()
	if err != nil {
		return err
	}
	c.log, err = os.OpenFile(filepath.Join(c.dir, "server.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	c.cmd = c.command("postgres", "-D", filepath.Join(c.dir, "pg"), "-p", strconv.Itoa(port),
		"-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=", "-c", "max_connections=60")
	c.cmd.Stdout, c.cmd.Stderr = c.log, c.log
	if err := c.cmd.Start(); err != nil {
		return fmt.Errorf("postgres: %w", err)
	}
	go func() {
		_ = c.cmd.Wait()
		close(c.exit)
	}()
	c.URL = fmt.Sprintf("postgres://morvek:%s@127.0.0.1:%d/postgres?sslmode=disable", password, port)
	deadline := time.After(60 * time.Second)
	for {
		if c.ready(ctx, port) {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-c.exit:
			return fmt.Errorf("PostgreSQL did not start; its log is %s", c.log.Name())
		case <-deadline:
			return fmt.Errorf("PostgreSQL did not answer within a minute; its log is %s", c.log.Name())
		case <-time.After(100 * time.Millisecond):
		}
	}
}

func (c *Cluster) ready(ctx context.Context, port int) bool {
	cmd := exec.CommandContext(ctx, filepath.Join(c.bin, "pg_isready"), "-q", "-h", "127.0.0.1", "-p", strconv.Itoa(port))
	return cmd.Run() == nil
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// Stop shuts the server down, waiting until its data is safe.
func (c *Cluster) Stop() {
	if c.cmd != nil && c.cmd.Process != nil {
		_ = c.cmd.Process.Signal(syscall.SIGINT) // fast shutdown: disconnect, checkpoint, end
		select {
		case <-c.exit:
		case <-time.After(20 * time.Second):
			_ = c.cmd.Process.Signal(syscall.SIGQUIT)
			<-c.exit
		}
	}
	if c.log != nil {
		c.log.Close()
	}
}
