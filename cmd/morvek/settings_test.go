package main

import (
	"bytes"
	"context"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Flags come before the environment; what cannot be is said by the name it has.
func TestSettings(t *testing.T) {
	file := filepath.Join(t.TempDir(), "database")
	if err := os.WriteFile(file, []byte("postgres://a:secret@h/d\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		args, env []string
		wrong     string
		is        func(*settings) bool
	}{
		{nil, nil, "no database given", nil},
		{[]string{"-database", "postgres://a:b@h/d"}, nil, "can be read by everybody", nil},
		{[]string{"-database", "host=h password=b"}, nil, "can be read by everybody", nil},
		{[]string{"-database", "postgres://a@h/d"}, nil, "", func(s *settings) bool { return s.database == "postgres://a@h/d" && s.workers == 1 }},
		{nil, []string{"MORVEK_DATABASE=postgres://a:b@h/d", "MORVEK_WORKERS=3", "MORVEK_ONE_SEAT=true"}, "", func(s *settings) bool { return s.workers == 3 && s.oneSeat }},
		{[]string{"-workers", "2"}, []string{"MORVEK_DATABASE=postgres://a:b@h/d", "MORVEK_WORKERS=3"}, "", func(s *settings) bool { return s.workers == 2 }},
		{nil, []string{"MORVEK_DATABASE_FILE=" + file}, "", func(s *settings) bool { return s.database == "postgres://a:secret@h/d" }},
		{nil, []string{"MORVEK_DATABASE_FILE=" + file + ".none"}, "the address of the database", nil},
		{nil, []string{"MORVEK_DATABASE_FILE=" + file, "MORVEK_DATABASE=x"}, "leave one out", nil},
		{nil, []string{"MORVEK_DATABASE=x", "MORVEK_WORKERS=many"}, `MORVEK_WORKERS is "many"`, nil},
		{[]string{"-workers", "900"}, []string{"MORVEK_DATABASE=x"}, "choose 0 to 64", nil},
		{[]string{"-addr", "8731"}, []string{"MORVEK_DATABASE=x"}, "no address to serve on", nil},
		{[]string{"-addr", "a:70000"}, []string{"MORVEK_DATABASE=x"}, "no port", nil},
		{[]string{"-one-seat", "-addr", ":8731"}, []string{"MORVEK_DATABASE=x"}, "on loopback only", nil},
		{[]string{"-hosts", "https://morvek.example"}, []string{"MORVEK_DATABASE=x"}, "no name of a host", nil},
		{[]string{"-hosts", "Morvek.example, b.example"}, []string{"MORVEK_DATABASE=x"}, "", func(s *settings) bool { return strings.Join(s.names(), " ") == "morvek.example b.example" }},
	} {
		t.Run(strings.Join(append(c.args, c.env...), " "), func(t *testing.T) {
			for _, e := range c.env {
				k, v, _ := strings.Cut(e, "=")
				t.Setenv(k, v)
			}
			s := newSettings("serve", io.Discard)
			s.serving()
			s.working(1)
			err := s.parse(c.args)
			switch {
			case c.wrong == "" && err != nil, c.wrong != "" && (err == nil || !strings.Contains(err.Error(), c.wrong)):
				t.Fatalf("%v, want %q", err, c.wrong)
			case c.is != nil && !c.is(s):
				t.Errorf("%+v", s)
			}
			var said bytes.Buffer
			s.say(context.Background(), slog.New(slog.NewTextHandler(&said, nil)))
			if strings.Contains(said.String(), "secret") || strings.Contains(said.String(), ":b@") {
				t.Errorf("a secret is in the log: %s", said.String())
			}
		})
	}
}
