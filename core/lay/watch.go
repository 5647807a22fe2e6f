package lay

import (
	"fmt"
	"sync"
	"time"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Frame is what shells look like on their way to where an edit brings them.
type Frame struct {
	Iteration int // from 1, over all that is watched
	Corners   []mesh.HalfedgeID
	UV        []r2.Vec // per corner, on the sheet
	Said      string   // how far it is, in words
}

// Watched is embedded in edits that can be watched while they work.
type Watched struct {
	watch func(Frame)
	mu    *sync.Mutex
}

// Watch implements Live.
func (w *Watched) Watch(f func(Frame)) { w.watch, w.mu = f, &sync.Mutex{} }

// Watcher is what to show frames to, nil if nobody watches.
func (w *Watched) Watcher() func(Frame) { return w.watch }

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
		f := Frame{Iteration: s.Iteration, Corners: p.Corner, Said: fmt.Sprintf("energy %.5g, most squeezed %s", s.Energy, words.Times(s.Worst, 3))}
		for _, v := range p.CornerVert {
			f.UV = append(f.UV, uv[v])
		}
		w.watch(f)
	}
}
