package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"morvek/core/parallel"
	"morvek/demo"
	"morvek/exchange"
	"morvek/jobs"
	"morvek/localpg"
	"morvek/store"
	"morvek/web"
	"morvek/workspace"
)

func init() {
	commands["demo"] = runDemo
	commands["serve"] = runServe
	commands["work"] = runWork
	commands["migrate"] = runMigrate
}

// app is everything a process of the application needs.
type app struct {
	store *store.Store
	docs  *workspace.Documents
	queue *jobs.Queue
	log   *slog.Logger
}

func openApp(ctx context.Context, url string, workers int, log *slog.Logger) (*app, error) {
	s, err := store.Open(ctx, url)
	if err != nil {
		return nil, err
	}
	if err := s.Migrate(ctx); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	if err := jobs.Migrate(ctx, url); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	docs := workspace.New(s)
	// The queue outlives ctx, so that stopping is orderly.
	q, err := jobs.Open(context.WithoutCancel(ctx), url, s, docs, workers, log)
	if err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return &app{s, docs, q, log}, nil
}

func (a *app) close() {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	a.queue.Close(ctx)
	a.docs.Close()
	_ = a.store.Close()
}

// tidy forgets what was deleted long ago, now and once a day.
func (a *app) tidy(ctx context.Context) {
	for ctx.Err() == nil {
		if err := a.store.Purge(ctx, store.Keep); err != nil && ctx.Err() == nil {
			a.log.Error("what was deleted long ago is still there", "err", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(24 * time.Hour):
		}
	}
}

// grace is how long requests under way may take to finish when the server stops.
const grace = 5 * time.Second

// serve answers requests on addr, under these names, until the context ends; sheets that are to be
// painted go through a shared folder, if there is one. Then
// nothing new is taken in, streams end, and what is under way may finish; what takes
// longer than the grace is cut off and answered so.
func (a *app) serve(ctx context.Context, addr string, hosts []string, shared string, stdout io.Writer) error {
	cfg := web.Config{Hosts: hosts, Stopping: ctx.Done()}
	var behind parallel.Group
	listening, stop := context.WithCancel(ctx)
	defer func() { stop(); _ = behind.Wait() }()
	behind.Do(func() { a.docs.Listen(listening) })
	behind.Do(func() { a.tidy(listening) })
	if shared != "" {
		var err error
		if cfg.Exchange, err = exchange.Open(shared, a.docs, a.log); err != nil {
			return err
		}
		behind.Do(func() { cfg.Exchange.Watch(listening) })
	}
	h, err := web.New(a.store, a.docs, a.queue, a.log, cfg)
	if err != nil {
		return err
	}
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("cannot listen on %s: %w", addr, err)
	}
	running, cutOff := context.WithCancel(context.WithoutCancel(ctx))
	defer cutOff()
	srv := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, BaseContext: func(net.Listener) context.Context { return running }}
	fmt.Fprintf(stdout, "Morvek is at http://%s/  (Ctrl-C stops it)\n", l.Addr())
	failed := make(chan error, 1)
	go func() { failed <- srv.Serve(l) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	for _, patience := range []time.Duration{grace, time.Second} {
		end, cancel := context.WithTimeout(context.Background(), patience)
		err = srv.Shutdown(end)
		cancel()
		if err == nil {
			return nil
		}
		cutOff()
	}
	return srv.Close()
}

func runDemo(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	fs := flag.NewFlagSet("morvek demo", flag.ContinueOnError)
	fs.SetOutput(stderr)
	dir := fs.String("data", dataFolder(), "`folder` of the private database")
	addr := fs.String("addr", "127.0.0.1:8731", "loopback `address` to serve on; port 0 takes a free one")
	w := watchFlags(fs)
	if err := fs.Parse(args); err != nil {
		return exitUsage, nil
	}
	if !loopback(*addr) {
		return exitUsage, fmt.Errorf("the demo has no passwords and serves on loopback only, not on %s", *addr)
	}
	pg, err := localpg.Start(ctx, *dir)
	if err != nil {
		return exitFailed, err
	}
	defer pg.Stop()
	ctx, end := context.WithCancelCause(ctx)
	defer end(nil)
	go func() {
		select {
		case err := <-pg.Lost():
			end(err)
		case <-ctx.Done():
		}
	}()
	if err := w.profile(ctx, stderr); err != nil {
		return exitUsage, err
	}
	a, err := openApp(ctx, pg.URL, 2, w.logger(stderr))
	if err != nil {
		return exitFailed, err
	}
	defer a.close()
	say := func(s string) { fmt.Fprintln(stderr, s+" …") }
	if err := demo.Seed(ctx, a.store, say); err != nil {
		return exitFailed, fmt.Errorf("seeding the demo: %w", err)
	}
	if err := a.serve(ctx, *addr, nil, filepath.Join(*dir, "exchange"), stdout); err != nil {
		return exitFailed, err
	}
	if err := context.Cause(ctx); !errors.Is(err, context.Canceled) {
		return exitFailed, err // the database is gone
	}
	return exitDone, nil
}

// dataFolder is where the demo keeps its database. As root the server runs as
// another user, who cannot reach a checkout in root's home.
func dataFolder() string {
	if os.Geteuid() == 0 {
		return "/var/lib/morvek"
	}
	return "data"
}

// databaseFlag reads the address of the database from a flag or the environment.
func databaseFlag(fs *flag.FlagSet) *string {
	return fs.String("database", os.Getenv("MORVEK_DATABASE"), "`address` of the PostgreSQL database, or MORVEK_DATABASE")
}

func runServe(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	fs := flag.NewFlagSet("morvek serve", flag.ContinueOnError)
	fs.SetOutput(stderr)
	url, w := databaseFlag(fs), watchFlags(fs)
	addr := fs.String("addr", "127.0.0.1:8731", "`address` to serve on")
	hosts := fs.String("hosts", os.Getenv("MORVEK_HOSTS"), "`names` it is served under besides addresses and localhost, with commas between, or MORVEK_HOSTS")
	shared := fs.String("exchange", os.Getenv("MORVEK_EXCHANGE"), "`folder` for sheets that are painted and the pictures that come back, or MORVEK_EXCHANGE; none without")
	workers := fs.Int("workers", 1, "long works done at a time in this process")
	if err := fs.Parse(args); err != nil {
		return exitUsage, nil
	}
	return withApp(ctx, *url, *workers, w, stderr, func(a *app) error {
		return a.serve(ctx, *addr, strings.FieldsFunc(strings.ToLower(*hosts), func(r rune) bool { return r == ',' || r == ' ' }), *shared, stdout)
	})
}

func runWork(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	fs := flag.NewFlagSet("morvek work", flag.ContinueOnError)
	fs.SetOutput(stderr)
	url, w := databaseFlag(fs), watchFlags(fs)
	workers := fs.Int("workers", 2, "long works done at a time")
	if err := fs.Parse(args); err != nil {
		return exitUsage, nil
	}
	return withApp(ctx, *url, max(1, *workers), w, stderr, func(*app) error {
		fmt.Fprintln(stdout, "working (Ctrl-C stops)")
		<-ctx.Done()
		return nil
	})
}

func runMigrate(ctx context.Context, args []string, _, stderr io.Writer) (int, error) {
	fs := flag.NewFlagSet("morvek migrate", flag.ContinueOnError)
	fs.SetOutput(stderr)
	url, w := databaseFlag(fs), watchFlags(fs)
	if err := fs.Parse(args); err != nil {
		return exitUsage, nil
	}
	return withApp(ctx, *url, 0, w, stderr, func(*app) error { return nil })
}

func withApp(ctx context.Context, url string, workers int, w *watch, stderr io.Writer, do func(*app) error) (int, error) {
	if url == "" {
		return exitUsage, errors.New("no database given; use --database or MORVEK_DATABASE")
	}
	if err := w.profile(ctx, stderr); err != nil {
		return exitUsage, err
	}
	a, err := openApp(ctx, url, workers, w.logger(stderr))
	if err != nil {
		return exitFailed, err
	}
	defer a.close()
	return exitDone, do(a)
}
