package document

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/parts"
	"morvek/core/proof"
	"morvek/core/seam"
	"morvek/core/sheet"
)

// Settings are what the whole document agrees on, and those of the map it is seen through.
type Settings struct {
	OnSheet
	Up        seam.Up    `json:"up"`
	Unit      string     `json:"unit"`
	Sides     seam.Sides `json:"sides,omitzero"` // all zero: the default
	CreaseDeg float64    `json:"crease_deg"`
	Dial      float64    `json:"dial"`                // 0 fewer pieces … 1 less stretch
	Finer     float64    `json:"finer,omitempty"`     // than usual parts are read: −0.5 few … 0.5 primitives
	Undivided bool       `json:"undivided,omitempty"` // no shell is divided for the sheet's sake
	Merged    bool       `json:"merged,omitempty"`    // triangles of the source are worked on as the polygons they were once; it never changes
}

// OnSheet are the settings that each map has its own of.
type OnSheet struct {
	Sheet    proof.Sheet `json:"sheet"`
	Turns    sheet.Turns `json:"turns"`
	GrainOnV bool        `json:"grain_on_v"`
	Repeats  string      `json:"repeats"` // spread, stack or stack-over; "" means spread
}

// DefaultSettings are those of the command line.
func DefaultSettings() Settings {
	return Settings{
		OnSheet: OnSheet{Sheet: proof.Sheet{Size: 2048, Padding: 8, Margin: 8, Tiles: 1}, Turns: sheet.HalfTurns}, Up: seam.UpY, Unit: "m", CreaseDeg: 30, Dial: 0.5,
	}
}

// Flow returns what along and up mean in this document.
func (s Settings) Flow() flow.Settings {
	return flow.Settings{GrainOnV: s.GrainOnV, Up: s.Up.Vec(), Back: r3.Scale(-1, s.Up.Front())}
}

// Viewed returns the sides the piece is looked at from.
func (s Settings) Viewed() seam.Sides {
	if s.Sides == (seam.Sides{}) {
		return seam.DefaultSides()
	}
	return s.Sides
}

// Units and Ups are the units a model can be in and the axes that can be up.
var (
	Units = []string{"m", "cm", "mm", "in"}
	Ups   = []string{"y", "z"}
)

// Check refuses settings that cannot work, in words.
func (s Settings) Check() error {
	switch {
	case s.Sheet.Size < 64 || s.Sheet.Size > 16384:
		return Refuse("a sheet of %d px is not possible; choose 64 to 16384", s.Sheet.Size)
	case !distance(s.Sheet.Padding, s.Sheet.Size):
		return Refuse("a padding of %g px does not go with a sheet of %d px", s.Sheet.Padding, s.Sheet.Size)
	case !distance(s.Sheet.Margin, s.Sheet.Size):
		return Refuse("a margin of %g px does not go with a sheet of %d px", s.Sheet.Margin, s.Sheet.Size)
	case s.Sheet.Wide && s.Sheet.Tiles > 1:
		return Refuse("a sheet twice as wide as high is one tile; choose one tile, or square ones")
	case s.Sheet.Tiles < 1 || s.Sheet.Tiles > MostTiles:
		return Refuse("%d tiles are not possible; choose 1 to %d", s.Sheet.Tiles, MostTiles)
	case !slices.Contains([]string{"0", "180", "90", "any"}, string(s.Turns)):
		return Refuse("turns %q are unknown; choose 0, 180, 90 or any", s.Turns)
	case !slices.Contains(Ups, string(s.Up)):
		return Refuse("up %q is unknown; choose y or z", s.Up)
	case !slices.Contains(Units, s.Unit):
		return Refuse("unit %q is unknown; choose m, cm, mm or in", s.Unit)
	case !s.Viewed().Valid():
		return Refuse("the viewing sides need weights from 0 to 10, one of them above 0")
	case !(s.CreaseDeg > 0 && s.CreaseDeg < 180):
		return Refuse("a crease angle of %g° is not possible; choose more than 0 and less than 180", s.CreaseDeg)
	case !slices.Contains([]string{"", Spread, Stack, StackOver}, s.Repeats):
		return Refuse("repeats %q are unknown; choose spread, stack or stack-over", s.Repeats)
	case !(s.Finer >= -0.5 && s.Finer <= 0.5):
		return Refuse("parts are read from 0.5 coarser to 0.5 finer than usual, not %g", s.Finer)
	case !(s.Dial >= 0 && s.Dial <= 1):
		return Refuse("the dial goes from 0 to 1, not to %g", s.Dial)
	}
	return nil
}

// MostTiles is how many tiles a sheet may have, side by side: a row of UDIM numbers.
const MostTiles = 10

// distance tells whether a distance in pixels can be kept on a sheet: none, or one that
// is neither lost in rounding nor most of the sheet.
func distance(px float64, size int) bool { return px == 0 || px >= 1e-3 && px <= float64(size)/4 }

// Stacks tells whether repeats are stacked, and whether mirrored ones are too.
func (s OnSheet) Stacks() (equal, mirrored bool) {
	return s.Repeats == Stack || s.Repeats == StackOver, s.Repeats == StackOver
}

// Detail is the detail at which parts are cut out of the reading.
func (s Settings) Detail() float64 { return parts.Default().Detail + s.Finer }

// The ways to lay out repeats.
const (
	Spread = "spread" // each has its own place on the sheet
	Stack  = "stack"  // equal ones share the place of the first; mirrored ones do not

	StackOver = "stack-over" // mirrored ones do too, turned over
)
