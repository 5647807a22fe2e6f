package shape

import "gonum.org/v1/gonum/spatial/r3"

// NearestOn returns the index of the point of the spine that is nearest to a point.
func (f *Fit) NearestOn(p r3.Vec) (best int) {
	for i, q := range f.Spine {
		if r3.Norm2(r3.Sub(p, q)) < r3.Norm2(r3.Sub(p, f.Spine[best])) {
			best = i
		}
	}
	return best
}

// Along is the direction in which the spine runs on beside a point, of length 1.
func (f *Fit) Along(p r3.Vec) r3.Vec {
	i := f.NearestOn(p)
	run := r3.Sub(f.Spine[min(i+1, len(f.Spine)-1)], f.Spine[max(i-1, 0)])
	return r3.Scale(1/max(r3.Norm(run), 1e-300), run)
}
