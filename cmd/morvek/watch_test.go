package main

import (
	"context"
	"flag"
	"io"
	"log/slog"
	"net/http"
	"regexp"
	"strings"
	"testing"
)

func watched(t *testing.T, args ...string) *watch {
	t.Helper()
	fs := flag.NewFlagSet("test", flag.ContinueOnError)
	fs.SetOutput(io.Discard)
	w := watchFlags(fs)
	if err := fs.Parse(args); err != nil {
		t.Fatal(err)
	}
	return w
}

func TestTheLogSaysAsMuchAsAsked(t *testing.T) {
	if l := watched(t).level; l != slog.LevelWarn {
		t.Errorf("unasked the log is at %v", l)
	}
	t.Setenv("MORVEK_LOG", "debug")
	if l := watched(t).level; l != slog.LevelDebug {
		t.Errorf("MORVEK_LOG=debug gives %v", l)
	}
	w := watched(t, "-log", "info")
	var out strings.Builder
	log := w.logger(&out)
	log.Debug("a file")
	log.Info("a request")
	if s := out.String(); strings.Contains(s, "a file") || !strings.Contains(s, "a request") {
		t.Errorf("at info the log says %q", s)
	}
}

func TestProfilesStayOnThisMachine(t *testing.T) {
	for _, addr := range []string{"0.0.0.0:0", "192.0.2.1:6060", ":6060", "nowhere"} {
		if err := watched(t, "-pprof", addr).profile(t.Context(), io.Discard); err == nil {
			t.Errorf("profiles are served on %s", addr)
		}
	}
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	var said strings.Builder
	if err := watched(t, "-pprof", "127.0.0.1:0").profile(ctx, &said); err != nil {
		t.Fatal(err)
	}
	res, err := http.Get(regexp.MustCompile(`http://\S+`).FindString(said.String()) + "goroutine?debug=1")
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	if b, _ := io.ReadAll(res.Body); res.StatusCode != http.StatusOK || !strings.Contains(string(b), "goroutine profile") {
		t.Errorf("profiles answer %d", res.StatusCode)
	}
}
