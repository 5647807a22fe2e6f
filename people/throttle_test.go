package people

import (
	"fmt"
	"testing"
	"time"
)

// A burst, then one at a time; each on his own account; who rests is forgotten.
func TestThrottle(t *testing.T) {
	th := NewThrottle(time.Second, 2)
	from := time.Unix(1_000_000, 0)
	for _, c := range []struct {
		who  string
		at   float64 // s
		want bool
	}{{"a", 0, true}, {"a", 0, true}, {"a", 0, false}, {"b", 0, true}, {"a", 0.5, false}, {"a", 1.1, true}, {"a", 1.2, false}, {"a", 60, true}, {"a", 60, true}, {"a", 60, false}} {
		if got := th.allow(c.who, from.Add(time.Duration(c.at*float64(time.Second)))); got != c.want {
			t.Errorf("%s at %g s: %v", c.who, c.at, got)
		}
	}
	for i := range 1000 {
		th.allow(fmt.Sprint("guest ", i), from.Add(2*time.Minute))
	}
	th.allow("late", from.Add(10*time.Minute))
	if len(th.of) > 1 {
		t.Errorf("%d are remembered", len(th.of))
	}
}
