package sheet

import (
	"context"
	"errors"
	"math/rand/v2"
	"testing"

	"morvek/core/planar"
)

// Improved, shells are larger, keep all distances, and the same rounds give the same.
func TestImproveEnlargesWhatIsLaid(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 2))
	o := Options{SizePx: 1024, PaddingPx: 6, MarginPx: 6, Turns: HalfTurns, Tiles: 1}
	shells := somewhere(rng, 24, 0.12)
	placed, laid, err := Fill(context.Background(), shells, nil, o)
	if err != nil {
		t.Fatal(err)
	}
	var lying []Shell
	for i, s := range shells {
		if !laid[i] {
			t.Fatal("not all found room")
		}
		var moved Shell
		for _, q := range s.Tris {
			moved.Tris = append(moved.Tris, planar.Triangle{placed[i].Apply(q[0]), placed[i].Apply(q[1]), placed[i].Apply(q[2])})
		}
		lying = append(lying, moved)
	}
	last := 1.
	run := func(rounds int) []Placement {
		out, err := Improve(context.Background(), lying, o, rounds, func(_ int, now []Placement) {
			if now[0].Scale < last {
				t.Errorf("it became smaller: %g after %g", now[0].Scale, last)
			}
			last = now[0].Scale
		})
		if err != nil {
			t.Fatal(err)
		}
		return out
	}
	a := run(12)
	if a[0].Scale < 1.02 {
		t.Errorf("12 rounds enlarge by %g", a[0].Scale)
	}
	apart(t, lying, a, yes(len(lying)), nil, o)
	last = 1
	for i, b := range run(12) {
		if a[i] != b {
			t.Fatalf("again, shell %d lies elsewhere", i)
		}
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Improve(ctx, lying, o, 5, nil); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
	if _, err := Improve(context.Background(), make([]Shell, mostImprove+1), o, 1, nil); !errors.Is(err, ErrTooMany) {
		t.Errorf("too many: %v", err)
	}
}
