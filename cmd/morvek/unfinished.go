package main

import (
	"os"
	"sync"
)

// unfinished are the files that are being written beside their places.
var unfinished files

type files struct {
	mu    sync.Mutex
	names map[string]bool
}

func (f *files) add(name string) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.names == nil {
		f.names = map[string]bool{}
	}
	f.names[name] = true
}

// remove deletes a file, unless it was renamed meanwhile.
func (f *files) remove(name string) {
	f.mu.Lock()
	defer f.mu.Unlock()
	delete(f.names, name)
	_ = os.Remove(name)
}

// removeAll deletes what is unfinished; nothing can be added afterwards.
func (f *files) removeAll() {
	f.mu.Lock() // for good: the process ends
	for name := range f.names {
		_ = os.Remove(name)
	}
}
