// Package flow is the Flow station: flattening, straightening, grain and words on parts.
package flow

import (
	"context"
	"embed"
	"math"
	"strconv"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/web/station"
	"morvek/workspace"
)

//go:embed *.html
var templates embed.FS

// Station is the Flow station.
var Station = station.Station{Name: "Flow", Verbs: table, Templates: templates, Tray: tray, Routes: routes}

type trayView struct {
	station.Head
	Flow   flowView // of the part
	Totals proof.Totals
	Pins   int
	Reach  float64 // of a falloff to begin with, model units
}

func tray(_ context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	v := trayView{Head: station.HeadOf("Flow", o, part), Totals: o.Proof().Totals, Pins: len(o.Doc.State.Wishes.Pins)}
	v.Reach, _ = strconv.ParseFloat(strconv.FormatFloat(o.Doc.Mesh.Diagonal()/20, 'g', 1, 64), 64)
	if part != document.NoPart {
		v.Flow = newFlowView(o, part)
	}
	return v, nil
}

// flowView sums up how the shells of a part run on the sheet.
type flowView struct {
	Shells   int
	Straight float64 // share of edge length along the axes, by area of the shells
	Grain    float64 // degrees off, root mean square by area
	L2       float64 // worst shell
	Angular  float64 // worst shell
}

func newFlowView(o *workspace.Opened, p document.PartID) (v flowView) {
	r := o.Proof()
	seen := map[int32]bool{}
	var area, straight, grain float64
	for f, q := range o.Doc.State.FaceParts() {
		k := r.ShellOf[f]
		if q != p || k == mesh.None || seen[k] {
			continue
		}
		seen[k] = true
		s := r.Shells[k]
		area += s.Area
		straight += s.Area * s.Straight
		grain += s.Area * s.GrainOverDeg * s.GrainOverDeg
		v.L2, v.Angular = max(v.L2, s.L2), max(v.Angular, s.AngularP95)
	}
	if v.Shells = len(seen); area > 0 {
		v.Straight, v.Grain = straight/area, math.Sqrt(grain/area)
	}
	return v
}
