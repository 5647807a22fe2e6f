package report

import (
	"fmt"

	"morvek/core/proof"
	"morvek/core/words"
)

// Measure is one number of what a map is worth, for people.
type Measure struct {
	Words, Text string
	Value       float64
	Wish        int // 1 where more is better, -1 where less is, 0 where neither
}

// Measures are what a map is worth; lengths are in a unit of the model.
func Measures(t proof.Totals, unit string) []Measure {
	return []Measure{
		{"faces not mapped", fmt.Sprint(t.Unmapped), float64(t.Unmapped), -1},
		{"mirrored", fmt.Sprint(t.Mirrored), float64(t.Mirrored), -1},
		{"outside the sheet", fmt.Sprint(t.Outside), float64(t.Outside), -1},
		{"lying on each other", fmt.Sprintf("%.2g %%", 100*t.OverlapShare), t.OverlapShare, -1},
		{"least gap between shells", Gap(t.MinGapPx), t.MinGapPx, 0},
		{"least gap to the border", Gap(t.MinRimPx), t.MinRimPx, 0},
		{"shells", fmt.Sprint(t.Shells), float64(t.Shells), 0},
		{"sheet used", fmt.Sprintf("%.1f %%", 100*t.Coverage), t.Coverage, 1},
		{"texel density", fmt.Sprintf("%.4g px/%s", t.MeanDensity, unit), t.MeanDensity, 1},
		{"sharpest against least sharp", words.Times(t.DensitySpread, 3), t.DensitySpread, -1},
		{"stretch, by area", words.Times(t.L2, 4), t.L2, -1},
		{"stretch of angles, worst 5 % aside", words.Times(t.AngularP95, 4), t.AngularP95, -1},
		{"off the grain", fmt.Sprintf("%.2f°", t.GrainOverDeg), t.GrainOverDeg, -1},
		{"edges along the sheet", fmt.Sprintf("%.1f %%", 100*t.Straight), t.Straight, 1},
		{"seams", words.Length(t.SeamLength, unit), t.SeamLength, -1},
		{"seams in view", words.Length(t.SeamExposed, unit), t.SeamExposed, -1},
	}
}

// Gap says a distance on the sheet in pixels, negative where there is none.
func Gap(px float64) string {
	if px < 0 {
		return "–"
	}
	return fmt.Sprintf("%.1f px", px)
}
