// Package proof is the Proof station: what a painter would send back, each with its place.
package proof

import (
	"context"
	"embed"

	"morvek/core/document"
	"morvek/core/words"
	"morvek/web/station"
	"morvek/workspace"
)

//go:embed *.html
var templates embed.FS

// Station is the Proof station.
var Station = station.Station{Name: "Proof", Templates: templates, Tray: tray}

type trayView struct {
	station.Head
	Findings []findingView
	Found    int // findings before folding
	Audit    *auditView
}

func tray(ctx context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	found := o.Proof().Findings
	v := trayView{Head: station.HeadOf("Proof", o, part), Findings: foldFindings(found, o.Doc.State), Found: len(found)}
	var err error
	if v.Mapped {
		v.Audit, err = newAuditView(ctx, o)
	}
	return v, err
}

// auditView tells of all seams at once.
type auditView struct {
	Length, Openings, Divisions, Creases, Hollows, Exposed string
	Flat                                                   float64 // percent
}

func newAuditView(ctx context.Context, o *workspace.Opened) (*auditView, error) {
	r, err := o.Audit(ctx)
	if err != nil {
		return nil, err
	}
	t, unit := r.Totals, o.Doc.State.Settings.Unit
	return &auditView{words.Length(t.SeamLength, unit), words.Length(t.SeamOpenings, unit), words.Length(t.SeamDivisions, unit), words.Length(t.SeamOnCrease, unit),
		words.Length(t.SeamConcave, unit), words.Length(t.SeamExposed, unit), 100 * t.SeamOnFlat}, nil
}
