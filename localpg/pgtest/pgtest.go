// Package pgtest starts a PostgreSQL of its own for the tests of a package.
package pgtest

import (
	"context"
	"fmt"
	"os"

	"morvek/localpg"
)

// Folder makes a temporary folder that PostgreSQL's user can reach, for the caller to remove.
func Folder() (string, error) {
	dir, err := os.MkdirTemp("", "morvek-test-")
	if err != nil {
		return "", err
	}
	return dir, os.Chmod(dir, 0o755)
}

// Run starts a private cluster in a temporary folder, calls tests with its
// address, and stops and removes it. It returns the exit code for TestMain.
func Run(tests func(url string) (code int, err error)) int {
	dir, err := Folder()
	if err != nil {
		return fail(err)
	}
	defer os.RemoveAll(dir)
	pg, err := localpg.Start(context.Background(), dir+"/db")
	if err != nil {
		return fail(err)
	}
	defer pg.Stop()
	code, err := tests(pg.URL)
	if err != nil {
		return fail(err)
	}
	return code
}

func fail(err error) int {
	fmt.Fprintln(os.Stderr, "starting the test database:", err)
	return 1
}
