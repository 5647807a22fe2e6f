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
	"morvek/people"
	"morvek/people/password"
	"morvek/store"
	"morvek/web"
	"morvek/web/ops"
	"morvek/workspace"
)

func init() {
	commands["demo"] = runDemo
	commands["serve"] = runServe
	commands["work"] = runWork
	commands["migrate"] = runMigrate
	commands["invite"] = runInvite
	commands["backup"] = runBackup
	commands["restore"] = runRestore
}

// app is everything a process of the application needs.
type app struct {
	store *store.Store
	docs  *workspace.Documents
	queue *jobs.Queue
	log   *slog.Logger
}

func openApp(ctx context.Context, url string, workers jobs.Workers, documents int64, log *slog.Logger) (*app, error) {
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
	docs := workspace.New(s, documents)
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

// serve answers requests on addr until the context ends; sheets that are to be
// painted go through a shared folder, if there is one. Then
// nothing new is taken in, streams end, and what is under way may finish; what takes
// longer than the grace is cut off and answered so.
func (a *app) serve(ctx context.Context, addr string, cfg web.Config, shared string, stdout io.Writer) error {
	cfg.Stopping = ctx.Done()
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
	srv := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10, BaseContext: func(net.Listener) context.Context { return running }}
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
	children, err := apart(pg.URL, 0)
	if err != nil {
		return exitFailed, err
	}
	a, err := openApp(ctx, pg.URL, jobs.Workers{N: 2, Apart: children}, 0, w.logger(stderr))
	if err != nil {
		return exitFailed, err
	}
	defer a.close()
	say := func(s string) { fmt.Fprintln(stderr, s+" …") }
	if err := demo.Seed(ctx, a.store, say); err != nil {
		return exitFailed, fmt.Errorf("seeding the demo: %w", err)
	}
	if err := a.serve(ctx, *addr, web.Config{}, filepath.Join(*dir, "exchange"), stdout); err != nil {
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

func runServe(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	s := newSettings("serve", stderr)
	s.serving()
	s.working(1)
	s.holding()
	return s.withApp(ctx, args, stderr, func(a *app) error {
		cfg := web.Config{Hosts: s.names(), Plain: s.plain, Proxied: s.proxy, Memory: s.requests, Figures: ops.NewFigures(a.store)}
		if err := s.tell(ctx, a, cfg.Figures, stderr); err != nil {
			return err
		}
		if !s.oneSeat {
			var err error
			if cfg.People, err = people.New(ctx, a.store, password.Usual); err != nil {
				return err
			}
		}
		return a.serve(ctx, s.addr, cfg, s.exchange, stdout)
	})
}

// tell serves figures and health on a listener of their own until the context ends, if that was asked for.
func (s *settings) tell(ctx context.Context, a *app, f *ops.Figures, stderr io.Writer) error {
	if s.figures == "" {
		return nil
	}
	l, err := net.Listen("tcp", s.figures)
	if err != nil {
		return fmt.Errorf("cannot serve figures on %s: %w", s.figures, err)
	}
	srv := &http.Server{Handler: ops.Handler(f, a.store), ReadHeaderTimeout: 10 * time.Second}
	fmt.Fprintf(stderr, "figures are at http://%s/metrics\n", l.Addr())
	go func() { _ = srv.Serve(l) }()
	context.AfterFunc(ctx, func() { _ = srv.Close() })
	return nil
}

func runWork(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	s := newSettings("work", stderr)
	s.working(2)
	s.holding()
	return s.withApp(ctx, args, stderr, func(*app) error {
		fmt.Fprintln(stdout, "working (Ctrl-C stops)")
		<-ctx.Done()
		return nil
	})
}

func runMigrate(ctx context.Context, args []string, _, stderr io.Writer) (int, error) {
	return newSettings("migrate", stderr).withApp(ctx, args, stderr, func(*app) error { return nil })
}

// runInvite prints a link that lets somebody in, for the first steward above all.
func runInvite(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	s := newSettings("invite", stderr)
	at := s.fs.String("at", "http://127.0.0.1:8731", "`address` at which people reach the application")
	plain := s.fs.Bool("no-steward", false, "they are no steward: they invite nobody to the installation")
	return s.withApp(ctx, args, stderr, func(a *app) error {
		p, err := people.New(ctx, a.store, password.Usual)
		if err != nil {
			return err
		}
		secret, err := p.Invite(ctx, store.Invitation{Steward: !*plain, MadeBy: "the command line"})
		if err != nil {
			return err
		}
		fmt.Fprintf(stdout, "%s%s\nThe link works once, until %s.\n", strings.TrimSuffix(*at, "/"), people.Link(secret), time.Now().Add(people.InvitationHolds).Format("2 January, 15:04"))
		return nil
	})
}

// withApp reads the settings, opens the application and does something with it.
func (s *settings) withApp(ctx context.Context, args []string, stderr io.Writer, do func(*app) error) (int, error) {
	if err := s.parse(args); errors.Is(err, errUsage) {
		return exitUsage, nil
	} else if err != nil {
		return exitUsage, err
	}
	if err := s.profile(ctx, stderr); err != nil {
		return exitUsage, err
	}
	log := s.logger(stderr)
	s.say(ctx, log)
	var documents int64
	if s.memory > 0 {
		documents, s.requests = s.bytes()
	}
	children, err := apart(s.database, int64(s.memory)<<20)
	if err != nil {
		return exitFailed, err
	}
	a, err := openApp(ctx, s.database, jobs.Workers{N: s.workers, Apart: children}, documents, log)
	if err != nil {
		return exitFailed, err
	}
	defer a.close()
	return exitDone, do(a)
}
