package lay

import (
	"sync"
	"time"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
)

// Frame is a shell on its way to being flat.
type Frame struct {
	Patch     *mesh.Patch
	UV        []r2.Vec // per vertex of the patch, on the sheet
	Iteration int
	Energy    float64 // of the method
	Worst     float64 // how far the most squeezed triangle is squeezed
}

// Watched is embedded in edits that can be watched while they work.
type Watched struct {
	watch func(Frame)
	mu    *sync.Mutex
}

// Watch implements Live.
func (w *Watched) Watch(f func(Frame)) { w.watch, w.mu = f, &sync.Mutex{} }

// perFrame is the least time between two frames of one shell: more are not seen.
const perFrame = 60 * time.Millisecond

// Frames returns what to call after each iteration; onSheet brings a copy of a map from
// model units to where it would lie.
func (w *Watched) Frames(p *mesh.Patch, onSheet func([]r2.Vec)) func(flatten.Step) {
	if w.watch == nil {
		return nil
	}
	var last time.Time
	return func(s flatten.Step) {
		if time.Since(last) < perFrame {
			return
		}
		last = time.Now()
		uv := append([]r2.Vec(nil), s.UV...)
		onSheet(uv)
		w.mu.Lock()
		defer w.mu.Unlock()
		w.watch(Frame{p, uv, s.Iteration, s.Energy, s.Worst})
	}
}
