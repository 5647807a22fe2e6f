package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/url"
	"os"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
)

// settings are what a process of the application is told, by flags or by the environment: the flag
// -name is MORVEK_NAME there.
type settings struct {
	fs *flag.FlagSet
	*watch

	database, databaseFile string

	addr, hosts, exchange string
	figures               string // address
	workers               int
	memory                int   // MiB
	requests              int64 // bytes of it that they may take
	oneSeat, plain, proxy bool
}

// envName is how a flag is called in the environment.
func envName(flag string) string {
	return "MORVEK_" + strings.ToUpper(strings.ReplaceAll(flag, "-", "_"))
}

// newSettings reads what every process is told.
func newSettings(name string, stderr io.Writer) *settings {
	fs := flag.NewFlagSet("morvek "+name, flag.ContinueOnError)
	fs.SetOutput(stderr)
	s := &settings{fs: fs, watch: watchFlags(fs)}
	fs.StringVar(&s.database, "database", "", "`address` of the PostgreSQL database, without a password: that stands in MORVEK_DATABASE or in a file")
	fs.StringVar(&s.databaseFile, "database-file", "", "`file` with that address, password and all")
	return s
}

// serving adds what a server is told.
func (s *settings) serving() {
	s.fs.StringVar(&s.addr, "addr", "127.0.0.1:8731", "`address` to serve on; port 0 takes a free one")
	s.fs.StringVar(&s.hosts, "hosts", "", "`names` it is served under besides addresses and localhost, with commas between")
	s.fs.StringVar(&s.figures, "metrics", "", "`address` of a listener of its own for Prometheus (/metrics) and for health checks; none without")
	s.fs.StringVar(&s.exchange, "exchange", "", "`folder` for sheets that are painted and the pictures that come back; none without")
	s.fs.BoolVar(&s.oneSeat, "one-seat", false, "nobody signs in and whoever is there may do all; on loopback only")
	s.fs.BoolVar(&s.plain, "plain-http", false, "who is signed in is remembered over plain HTTP too: only where nobody listens")
	s.fs.BoolVar(&s.proxy, "behind-proxy", false, "it stands behind a proxy of yours, which says where requests come from (X-Forwarded-For)")
}

// holding adds how much memory it may take.
func (s *settings) holding() {
	s.fs.IntVar(&s.memory, "memory", 4096, "`MiB` of memory that this process may take: documents are held and requests answered within it")
}

// bytes are what documents and requests may take of the memory; the rest is for long work and what is collected.
func (s *settings) bytes() (documents, requests int64) {
	debug.SetMemoryLimit(int64(s.memory) << 20 * 9 / 10)
	return int64(s.memory) << 20 * 3 / 10, int64(s.memory) << 20 * 3 / 10
}

// working adds how many long works are done at a time, as a rule usual.
func (s *settings) working(usual int) {
	s.fs.IntVar(&s.workers, "workers", usual, "long works done at a time in this process")
}

// errUsage is returned for settings that cannot be; they were told already.
var errUsage = errors.New("")

// parse reads the flags, then what they leave open from the environment, and checks all.
func (s *settings) parse(args []string) error {
	if err := s.fs.Parse(args); err != nil {
		return errUsage
	}
	given := map[string]bool{}
	s.fs.Visit(func(f *flag.Flag) { given[f.Name] = true })
	if given["database"] && hasPassword(s.database) {
		return errors.New("a password in the arguments can be read by everybody on this machine; put the address into MORVEK_DATABASE or into a file (-database-file)")
	}
	var wrong error
	s.fs.VisitAll(func(f *flag.Flag) {
		v, ok := os.LookupEnv(envName(f.Name))
		if !ok || given[f.Name] || f.Name == "log" { // that one has read it
			return
		}
		if err := f.Value.Set(v); err != nil {
			wrong = errors.Join(wrong, fmt.Errorf("%s is %q: %w", envName(f.Name), v, err))
		}
	})
	if wrong != nil {
		return wrong
	}
	return s.check()
}

func (s *settings) check() error {
	if s.databaseFile != "" {
		if s.database != "" {
			return errors.New("both -database and -database-file are given; leave one out")
		}
		b, err := os.ReadFile(s.databaseFile)
		if err != nil {
			return fmt.Errorf("the address of the database: %w", err)
		}
		s.database = strings.TrimSpace(string(b))
	}
	if s.database == "" {
		return errors.New("no database given; use MORVEK_DATABASE, -database-file or -database")
	}
	if s.workers < 0 || s.workers > 64 {
		return fmt.Errorf("%d works at a time are not possible; choose 0 to 64", s.workers)
	}
	if s.memory != 0 && s.memory < 256 {
		return fmt.Errorf("%d MiB are too little to hold a document in; give -memory 256 at least", s.memory)
	}
	if s.addr == "" {
		return nil
	}
	if _, port, err := net.SplitHostPort(s.addr); err != nil {
		return fmt.Errorf("%s is no address to serve on; write 127.0.0.1:8731", s.addr)
	} else if n, err := strconv.Atoi(port); err != nil || n < 0 || n > 65535 {
		return fmt.Errorf("%s has no port from 0 to 65535", s.addr)
	}
	if s.oneSeat && !loopback(s.addr) {
		return fmt.Errorf("with one seat there are no passwords, so it serves on loopback only, not on %s", s.addr)
	}
	for _, h := range s.names() {
		if strings.ContainsAny(h, "/:*") {
			return fmt.Errorf("%q in -hosts is no name of a host; write morvek.example.org", h)
		}
	}
	return nil
}

// names are the hosts it is served under.
func (s *settings) names() []string {
	return strings.FieldsFunc(strings.ToLower(s.hosts), func(r rune) bool { return r == ',' || r == ' ' })
}

func hasPassword(database string) bool {
	u, err := url.Parse(database)
	if err == nil && u.User != nil {
		_, there := u.User.Password()
		return there
	}
	return strings.Contains(database, "password=")
}

// say logs what is set, without what is secret.
func (s *settings) say(ctx context.Context, log *slog.Logger) {
	secret := []string{"database", "database-file"}
	var all []slog.Attr
	if u, err := url.Parse(s.database); err == nil && u.Host != "" {
		all = append(all, slog.String("database", u.Redacted()))
	}
	s.fs.VisitAll(func(f *flag.Flag) {
		if !slices.Contains(secret, f.Name) {
			all = append(all, slog.String(f.Name, f.Value.String()))
		}
	})
	log.LogAttrs(ctx, slog.LevelInfo, "settings", all...)
}
