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
	"net/http/pprof"
	"os"
	"time"
)

// watch is what somebody who looks for a fault asks of a process: how much its log says and
// where its profiles are.
type watch struct {
	level slog.Level
	json  bool   // the log is for programs
	pprof string // loopback address; empty: nowhere
}

// watchFlags adds -log and -pprof. The level defaults to MORVEK_LOG, else to warn.
func watchFlags(fs *flag.FlagSet) *watch {
	w := &watch{level: slog.LevelWarn}
	if v := os.Getenv("MORVEK_LOG"); v != "" {
		if err := w.level.UnmarshalText([]byte(v)); err != nil {
			fmt.Fprintf(fs.Output(), "morvek: MORVEK_LOG is %q; use debug, info, warn or error\n", v)
		}
	}
	fs.TextVar(&w.level, "log", w.level, "`level` of the log: error, warn, info (each request), debug (files too), or MORVEK_LOG")
	fs.BoolVar(&w.json, "log-json", false, "the log is written as JSON, a line each")
	fs.StringVar(&w.pprof, "pprof", "", "loopback `address` to serve profiles on, under /debug/pprof/")
	return w
}

func (w *watch) logger(stderr io.Writer) *slog.Logger {
	how := &slog.HandlerOptions{Level: w.level}
	if w.json {
		return slog.New(slog.NewJSONHandler(stderr, how))
	}
	return slog.New(slog.NewTextHandler(stderr, how))
}

// profile serves the profiles until the context ends, if they were asked for. Profiles tell
// what a process holds in memory, so they leave no machine.
func (w *watch) profile(ctx context.Context, stderr io.Writer) error {
	if w.pprof == "" {
		return nil
	}
	if !loopback(w.pprof) {
		return fmt.Errorf("profiles are served on loopback only, not on %s", w.pprof)
	}
	l, err := net.Listen("tcp", w.pprof)
	if err != nil {
		return fmt.Errorf("cannot serve profiles on %s: %w", w.pprof, err)
	}
	mux := http.NewServeMux()
	mux.HandleFunc("/debug/pprof/", pprof.Index)
	mux.HandleFunc("/debug/pprof/profile", pprof.Profile)
	mux.HandleFunc("/debug/pprof/trace", pprof.Trace)
	srv := &http.Server{Handler: mux, ReadHeaderTimeout: 10 * time.Second}
	fmt.Fprintf(stderr, "profiles are at http://%s/debug/pprof/\n", l.Addr())
	go func() {
		if err := srv.Serve(l); !errors.Is(err, http.ErrServerClosed) {
			fmt.Fprintf(stderr, "profiles: %v\n", err)
		}
	}()
	context.AfterFunc(ctx, func() { _ = srv.Close() })
	return nil
}

// loopback reports whether an address to listen on can be reached from this machine alone.
func loopback(addr string) bool {
	host, _, err := net.SplitHostPort(addr)
	return err == nil && (host == "localhost" || net.ParseIP(host).IsLoopback())
}
