package people

import (
	"sync"
	"time"

	"golang.org/x/time/rate"
)

// Throttle lets each of many do something so often, and a number of times at once after a rest.
type Throttle struct {
	every time.Duration
	burst int

	mu   sync.Mutex
	of   map[string]*rate.Limiter
	tidy time.Time // when those at rest are forgotten next
}

// NewThrottle allows something once per every, burst times at once after a rest.
func NewThrottle(every time.Duration, burst int) *Throttle {
	return &Throttle{every: every, burst: burst, of: map[string]*rate.Limiter{}}
}

// Allow tells whether somebody may do it now.
func (t *Throttle) Allow(who string) bool { return t.allow(who, time.Now()) }

func (t *Throttle) allow(who string, now time.Time) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	if now.After(t.tidy) {
		for k, l := range t.of {
			if l.TokensAt(now) >= float64(t.burst) {
				delete(t.of, k)
			}
		}
		t.tidy = now.Add(t.every * time.Duration(t.burst))
	}
	l := t.of[who]
	if l == nil {
		l = rate.NewLimiter(rate.Every(t.every), t.burst)
		t.of[who] = l
	}
	return l.AllowN(now, 1)
}
