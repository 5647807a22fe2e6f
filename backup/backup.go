// Package backup writes all that is in a database to a file, and brings it back, with PostgreSQL's own
// pg_dump and pg_restore.
package backup

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	_ "github.com/jackc/pgx/v5/stdlib" // database driver

	"morvek/localpg"
)

// ErrNotEmpty is returned for a database that holds something already.
var ErrNotEmpty = errors.New("there are projects in this database already; restore into an empty one")

// Save writes the database at an address to a file: whole, or not at all.
func Save(ctx context.Context, database, to string) error {
	part, err := os.CreateTemp(filepath.Dir(to), ".morvek-backup-*")
	if err != nil {
		return err
	}
	defer os.Remove(part.Name()) //nolint:errcheck // it was renamed
	if err := part.Close(); err != nil {
		return err
	}
	if err := run(ctx, database, "pg_dump", "--format=custom", "--no-owner", "--no-privileges", "--file="+part.Name()); err != nil {
		return err
	}
	if err := os.Chmod(part.Name(), 0o600); err != nil { // passwords' hashes stand in it
		return err
	}
	return os.Rename(part.Name(), to)
}

// Restore brings a file that Save wrote back into an empty database: whole, or not at all.
func Restore(ctx context.Context, database, from string) error {
	if _, err := os.Stat(from); err != nil {
		return err
	}
	db, err := sql.Open("pgx", database)
	if err != nil {
		return err
	}
	defer db.Close()
	var tables int
	if err := db.QueryRowContext(ctx, `select count(*) from pg_tables where schemaname = current_schema()`).Scan(&tables); err != nil {
		return fmt.Errorf("cannot reach the database: %w", err)
	}
	if tables > 0 {
		var projects int
		if err := db.QueryRowContext(ctx, `select count(*) from projects`).Scan(&projects); err != nil || projects > 0 {
			return ErrNotEmpty
		}
	}
	// Tables that somebody migrated and never used make way.
	return run(ctx, database, "pg_restore", "--single-transaction", "--exit-on-error", "--no-owner", "--no-privileges", "--clean", "--if-exists", "--dbname="+Address(database), from)
}

// Address is the address of a database without its password.
func Address(database string) string {
	u, err := url.Parse(database)
	if err != nil || u.User == nil {
		return database
	}
	u.User = url.User(u.User.Username())
	return u.String()
}

// run runs a program of PostgreSQL on a database. The password goes by the environment: arguments are read by
// everybody on the machine.
func run(ctx context.Context, database, name string, args ...string) error {
	program, err := localpg.Program(name)
	if err != nil {
		return err
	}
	if name == "pg_dump" {
		args = append(args, "--dbname="+Address(database))
	}
	cmd := exec.CommandContext(ctx, program, args...)
	cmd.Env = append(os.Environ(), "LC_ALL=C")
	if u, err := url.Parse(database); err == nil && u.User != nil {
		if p, ok := u.User.Password(); ok {
			cmd.Env = append(cmd.Env, "PGPASSWORD="+p)
		}
	}
	var said bytes.Buffer
	cmd.Stderr = &said
	if err := cmd.Run(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return fmt.Errorf("%s: %w: %s", name, err, strings.TrimSpace(said.String()))
	}
	return nil
}
