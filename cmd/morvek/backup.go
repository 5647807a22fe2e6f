package main

import (
	"context"
	"errors"
	"fmt"
	"io"

	"morvek/backup"
)

// runBackup writes the whole database to a file.
func runBackup(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	s := newSettings("backup", stderr)
	to := s.fs.String("o", "", "`file` to write")
	return s.offline(args, func() error {
		if *to == "" {
			return errors.New("say where to: -o FILE")
		}
		if err := backup.Save(ctx, s.database, *to); err != nil {
			return err
		}
		fmt.Fprintf(stdout, "%s holds all of %s\n", *to, backup.Address(s.database))
		return nil
	})
}

// runRestore brings such a file back into an empty database.
func runRestore(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	s := newSettings("restore", stderr)
	return s.offline(args, func() error {
		if s.fs.NArg() != 1 {
			return errors.New("say which file: morvek restore FILE")
		}
		if err := backup.Restore(ctx, s.database, s.fs.Arg(0)); err != nil {
			return err
		}
		fmt.Fprintf(stdout, "%s holds all of %s; servers may start on it\n", backup.Address(s.database), s.fs.Arg(0))
		return nil
	})
}

// offline reads the settings and does something without opening the application.
func (s *settings) offline(args []string, do func() error) (int, error) {
	switch err := s.parse(args); {
	case errors.Is(err, errUsage):
		return exitUsage, nil
	case err != nil:
		return exitUsage, err
	}
	if err := do(); err != nil {
		return exitFailed, err
	}
	return exitDone, nil
}
