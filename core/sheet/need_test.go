package sheet_test

import (
	"math"
	"testing"

	"morvek/core/sheet"
)

func TestWhatAnEyeNeeds(t *testing.T) {
	// At 1 unit a field of 90° is 2 units high: 1000 px on them are 500 px a unit.
	e := sheet.Eye{Distance: 1, ScreenPx: 1000, FieldDeg: 90}
	if d := e.Density(); math.Abs(d-500) > 1e-9 {
		t.Errorf("%g px a unit, want 500", d)
	}
	if far := (sheet.Eye{Distance: 4, ScreenPx: 1000, FieldDeg: 90}).Density(); math.Abs(far-125) > 1e-9 {
		t.Errorf("four times as far it is %g, want 125", far)
	}
	for _, bad := range []sheet.Eye{{}, {Distance: 1, ScreenPx: 1000, FieldDeg: 180}, {Distance: -1, ScreenPx: 1, FieldDeg: 1}, {Distance: math.NaN(), ScreenPx: 1, FieldDeg: 1}} {
		if d := bad.Density(); d != 0 {
			t.Errorf("%+v needs %g", bad, d)
		}
	}
	// 32 units squared at 500 px are 8 Mpx, at a fill of a half 16: four tiles of 2048.
	want := map[int]int{1024: 16, 2048: 4, 4096: 1, 8192: 1}
	for _, n := range sheet.Needs(32*1.048576, 500, 0.5) {
		if n.Tiles != want[n.SizePx] {
			t.Errorf("%d tiles of %d px, want %d", n.Tiles, n.SizePx, want[n.SizePx])
		}
	}
}
