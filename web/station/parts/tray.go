// Package parts is the Parts station: what the chosen part reads as, and the tools to have the
// model read otherwise.
package parts

import (
	"context"
	"embed"
	"time"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/web/station"
	"morvek/workspace"
)

//go:embed *.html
var templates embed.FS

// Station is the Parts station.
var Station = station.Station{Name: "Parts", Verbs: table, Templates: templates, Tray: tray}

type trayView struct {
	station.Head
	Chosen     *partView
	Parts      int
	Recognised bool
	Detail     float64
	Crease     float64
	Mirror     string // where the model mirrors, in words
	Looking    bool   // that is still being looked for
	Health     []report.HealthReport
}

// patience is how long a tray waits for what takes seconds on large models, once.
const patience = 150 * time.Millisecond

func tray(ctx context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	s := o.Doc.State
	v := trayView{Head: station.HeadOf("Parts", o, part), Parts: len(s.Parts), Recognised: s.Recognised(), Detail: s.Settings.Detail(),
		Crease: s.Settings.CreaseDeg, Health: report.HealthReports(o.Doc)}
	mirror, ok, known := o.Doc.MirrorWithin(ctx, patience)
	if v.Looking = !known; ok {
		v.Mirror = mirrorWords(mirror)
	}
	if part != document.NoPart {
		v.Chosen = newPartView(o, part)
	}
	return v, nil
}
