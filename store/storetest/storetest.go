// Package storetest gives tests a store on a PostgreSQL of their own.
package storetest

import (
	"context"

	"morvek/localpg/pgtest"
	"morvek/store"
)

// Run starts a cluster, opens and migrates a store on it, calls tests with it and
// its address, and removes both. It returns the exit code for TestMain.
func Run(tests func(db *store.Store, url string) (code int, err error)) int {
	return pgtest.Run(func(url string) (int, error) {
		ctx := context.Background()
		db, err := store.Open(ctx, url)
		if err != nil {
			return 0, err
		}
		defer db.Close()
		if err := db.Migrate(ctx); err != nil {
			return 0, err
		}
		return tests(db, url)
	})
}
