package flatten

import (
	"runtime"
	"sync/atomic"

	"morvek/core/parallel"
)

// share is how many triangles are handled at a time. It does not depend on the number
// of workers, and neither does the order in which sums are added up.
const share = 4096

// sum runs f over all shares of n things and adds up what it gives.
func sum(n int, f func(lo, hi int) float64) (total float64) {
	if n <= share {
		return f(0, n)
	}
	parts := make([]float64, (n+share-1)/share)
	var next atomic.Int64
	var wg parallel.Group
	for range min(runtime.GOMAXPROCS(0), len(parts)) {
		wg.Do(func() {
			for {
				i := int(next.Add(1)) - 1
				if i >= len(parts) {
					return
				}
				parts[i] = f(i*share, min(n, (i+1)*share))
			}
		})
	}
	_ = wg.Wait()
	for _, p := range parts {
		total += p
	}
	return total
}
