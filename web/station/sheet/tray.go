// Package sheet is the Sheet station: packing, what rules the scale, shells moved by hand.
package sheet

import (
	"context"
	"embed"
	"fmt"
	"slices"
	"strconv"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/proof"
	"morvek/core/sheet"
	"morvek/core/words"
	"morvek/web/station"
	"morvek/workspace"
)

//go:embed *.html
var templates embed.FS

// Station is the Sheet station.
var Station = station.Station{Name: "Sheet", Verbs: table, Templates: templates, Tray: tray, Routes: routes}

type trayView struct {
	station.Head
	Totals  proof.Totals
	Packing string  // what packing keeps to, in words
	Stay    string  // that shells laid by hand stay, in words; "" where none were
	Waiting int     // units on the rack
	Near    string  // a usual viewing distance
	PerCm   float64 // what a density per centimetre is per unit
	Rules   string  // which part rules the scale, in words
	Set     document.OnSheet
	Sizes   []int // of a sheet, px; the one that is set among them
	Turns   []turnsView
}

// turnsView is how shells may be turned, in words.
type turnsView struct {
	Turns sheet.Turns
	Words string
}

// turns are all ways to turn shells.
var turns = []turnsView{{sheet.NoTurns, "no turns"}, {sheet.HalfTurns, "half turns only"}, {sheet.QuarterTurns, "quarter turns"}, {sheet.AnyTurns, "any turns"}}

func tray(_ context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	set := o.Doc.State.Settings.OnSheet
	v := trayView{Set: set, Sizes: []int{512, 1024, 2048, 4096, 8192}, Turns: turns, Head: station.HeadOf("Sheet", o, part), Totals: o.Proof().Totals, Packing: packingWords(o.Doc.State.Settings)}
	if !slices.Contains(v.Sizes, set.Sheet.Size) {
		v.Sizes = append(v.Sizes, set.Sheet.Size)
		slices.Sort(v.Sizes)
	}
	for _, s := range o.Proof().Shells {
		if s.StackedOn == nil && s.Box.Max.Y <= 0 {
			v.Waiting++
		}
	}
	if n := len(o.Doc.State.Wishes.Placed); n > 0 {
		v.Stay = fmt.Sprintf("%s laid by hand: what lies on the sheet stays.", words.Count(n, "shell")+" "+words.Be(n))
	}
	lo, hi := o.Doc.Mesh.Bounds()
	v.Near = fmt.Sprintf("%.2g", 2*r3.Norm(r3.Sub(hi, lo)))
	v.PerCm = words.Convert(1, o.Doc.State.Settings.Unit, "cm")
	margins := 2 * set.Sheet.Margin / float64(set.Sheet.Size)
	if k, share := o.Proof().Ruling(set.Sheet.TileWidth()-margins, 1-margins); share > rulesFrom {
		if p := o.Proof().Shells[k].Part; p >= 0 {
			v.Rules = fmt.Sprintf("%s spans %.0f %% of the sheet", o.Doc.State.Parts[p].Name, 100*share)
		}
	}
	return v, nil
}

// rulesFrom is the share of the sheet from which a shell is said to rule the scale.
const rulesFrom = 0.85

// packingWords says what packing keeps to.
func packingWords(s document.Settings) string {
	turned := turns[slices.IndexFunc(turns, func(t turnsView) bool { return t.Turns == s.Turns })].Words
	size := strconv.Itoa(s.Sheet.Size)
	if s.Sheet.Wide {
		size = fmt.Sprintf("%d × %d", 2*s.Sheet.Size, s.Sheet.Size)
	}
	words := fmt.Sprintf("%s px, shells %g px apart and %g px from the border, %s", size, s.Sheet.Padding, s.Sheet.Margin, turned)
	if s.Sheet.Tiles > 1 {
		words += fmt.Sprintf(", on %d tiles", s.Sheet.Tiles)
	}
	switch equal, mirrored := s.Stacks(); {
	case mirrored:
		words += ", equal and mirrored parts stacked"
	case equal:
		words += ", equal parts stacked"
	}
	return words
}
