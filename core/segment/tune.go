package segment

import (
	"cmp"
	"context"
	"maps"
	"math"
	"math/bits"
	"slices"
)

// tune goes on with what a quick packing says: estimates know nothing of how few large
// shells fit beside each other. It tries the largest shells in one piece more, all that
// are longer than some length in as many as that takes, and where none of that brings
// anything, several of the largest together: two that do not fit beside each other hold
// back the sheet until both are divided.
func (r *ruling) tune(ctx context.Context, plan map[int]laneCut, groups [][]int) (map[int]laneCut, error) {
	scale, err := r.quick(ctx, plan, 0)
	if err != nil {
		return nil, err
	}
	for range tuneRounds {
		if r.area*scale*scale > wellFilled {
			break
		}
		var next map[int]laneCut
		best, reached := 0.0, scale
		// weigh looks for the best of some changes, and lists those that lose no more than something.
		weigh := func(changes []map[int]laneCut, loss float64) (promising []map[int]laneCut, err error) {
			gains := make([]float64, len(changes))
			order := make([]int, len(changes))
			for k, change := range changes {
				try := maps.Clone(plan)
				maps.Copy(try, change)
				asks := worth(r.area*scale*scale) + r.price(try) - r.price(plan) + tuneNoise
				now, err := r.quick(ctx, try, math.Sqrt(worthOf(asks-loss)/r.area))
				if err != nil {
					return nil, err
				}
				order[k], gains[k] = k, worth(r.area*now*now)-asks
				if gains[k] > best {
					next, best, reached = try, gains[k], now
				}
			}
			slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(gains[b], gains[a]) })
			seen := map[string]bool{}
			for _, k := range order {
				if key := r.key(changes[k]); gains[k] >= -loss && !seen[key] && len(promising) < mostPromising {
					seen[key] = true
					promising = append(promising, changes[k])
				}
			}
			return promising, nil
		}
		finer, shorter := r.finer(plan, groups), r.shorter(plan, groups)
		looser, further := r.looser(plan, groups)
		promising, err := weigh(slices.Concat(finer, looser, further, shorter), mostLoss)
		if err != nil {
			return nil, err
		}
		if next == nil {
			if _, err := weigh(together(promising), 0); err != nil {
				return nil, err
			}
		}
		if next == nil {
			break
		}
		plan, scale = next, reached
	}
	return plan, nil
}

// How far tuning goes: until the sheet is well filled, for some rounds; what a quick packing
// says is sure to a few hundredths.
const (
	tuneRounds = 4
	tuneNoise  = 0.01
)

// together lists what two or more of some changes make together, of different shells.
func together(changes []map[int]laneCut) (out []map[int]laneCut) {
	for set := range 1 << len(changes) {
		if n := bits.OnesCount(uint(set)); n < 2 || n > mostTogether {
			continue
		}
		both, sum := map[int]laneCut{}, 0
		for k, c := range changes {
			if set>>k&1 == 1 {
				maps.Copy(both, c)
				sum += len(c)
			}
		}
		if len(both) == sum {
			out = append(out, both)
		}
	}
	return out
}

// mostTogether is how many changes are made together at the most, of mostPromising that bring most or lose
// least each alone.
const (
	mostTogether  = 3
	mostPromising = 5
	mostLoss      = 0.2 // what a change may lose alone
)
