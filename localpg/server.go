package localpg

import (
	"context"
	"fmt"
	"os/exec"
	"path/filepath"
	"strconv"
	"syscall"
	"time"
)

// server is one run of PostgreSQL.
type server struct {
	cmd  *exec.Cmd
	exit chan struct{} // closed when it has ended
}

// runAlone ends what is left of servers before on the cluster and starts one.
func (c *Cluster) runAlone(ctx context.Context) error {
	if err := takeOver(ctx, c.data()); err != nil {
		return err
	}
	return c.run(ctx)
}

// run starts a server on the cluster's port and waits until it answers.
func (c *Cluster) run(ctx context.Context) error {
	// Not bound to ctx: a server is never killed where it can be shut down.
	s := &server{exit: make(chan struct{}), cmd: c.command(context.WithoutCancel(ctx), "postgres", "-D", c.data(), "-p", strconv.Itoa(c.port),
		"-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories=", "-c", "max_connections=60",
		"-c", "fsync=on", "-c", "synchronous_commit=on", "-c", "full_page_writes=on")} // what was answered is kept, whatever the folder says
	s.cmd.Dir = c.data() // where others look for it, from the start
	s.cmd.Stdout, s.cmd.Stderr = c.log, c.log
	c.mu.Lock()
	if c.stopping {
		c.mu.Unlock()
		return context.Canceled
	}
	err := s.cmd.Start()
	if err == nil {
		c.now = s
	}
	c.mu.Unlock()
	if err != nil {
		return fmt.Errorf("postgres: %w", err)
	}
	go func() {
		_ = s.cmd.Wait()
		close(s.exit)
	}()
	deadline := time.After(60 * time.Second)
	for {
		if exec.CommandContext(ctx, filepath.Join(c.bin, "pg_isready"), "-q", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port)).Run() == nil {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-s.exit:
			return fmt.Errorf("PostgreSQL did not start; its log is %s", c.log.Name())
		case <-deadline:
			return fmt.Errorf("PostgreSQL did not answer within a minute; its log is %s", c.log.Name())
		case <-time.After(100 * time.Millisecond):
		}
	}
}

// stop shuts the server down, waiting until its data is safe.
func (s *server) stop() {
	_ = s.cmd.Process.Signal(syscall.SIGINT) // fast shutdown: disconnect, checkpoint, end
	select {
	case <-s.exit:
	case <-time.After(20 * time.Second):
		_ = s.cmd.Process.Signal(syscall.SIGQUIT)
		<-s.exit
	}
}

// restarts is how often a server that dies again and again is started.
const restarts = 5

// watch starts the server again whenever it dies without having been told to.
func (c *Cluster) watch() {
	ctx := context.Background()
	for failed, began := 0, time.Now(); ; {
		<-c.now.exit // only this goroutine puts another server there
		c.mu.Lock()
		stopping := c.stopping
		c.mu.Unlock()
		if stopping {
			return
		}
		if time.Since(began) > time.Minute {
			failed = 0
		}
		for failed++; ; failed++ {
			err := c.runAlone(ctx) // its children may be there still
			if err == nil || err == context.Canceled {
				break
			}
			if failed >= restarts {
				c.lost <- fmt.Errorf("the database has ended and does not start again: %w", err)
				return
			}
			time.Sleep(time.Duration(failed) * 200 * time.Millisecond)
		}
		began = time.Now()
	}
}
