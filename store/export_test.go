package store

import "github.com/pressly/goose/v3"

// Provider migrates to any version.
func (s *Store) Provider() (*goose.Provider, error) { return s.provider() }
