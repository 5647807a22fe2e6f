package planar_test

import (
	"testing"

	"morvek/core/planar"
)

// A run sets the bits from its first to its last, and no other, wherever words end.
func TestSetRunSetsBitByBit(t *testing.T) {
	for _, r := range [][2]int{{0, 0}, {0, 63}, {63, 64}, {5, 70}, {64, 191}, {1, 190}, {130, 130}, {9, 8}} {
		row := make([]uint64, 3)
		planar.SetRun(row, r[0], r[1])
		for x := range 192 {
			if got, want := row[x/64]>>(x%64)&1 == 1, r[0] <= x && x <= r[1]; got != want {
				t.Errorf("run %v: bit %d is %v", r, x, got)
			}
		}
	}
}
