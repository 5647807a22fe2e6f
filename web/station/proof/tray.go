// Package proof is the Proof station: what a painter would send back, each with its place.
package proof

import (
	"context"
	"embed"
	"slices"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/core/words"
	"morvek/web/station"
	"morvek/workspace"
)

//go:embed *.html
var templates embed.FS

// Station is the Proof station.
var Station = station.Station{Name: "Proof", Verbs: table, Templates: templates, Tray: tray}

type trayView struct {
	station.Head
	Findings []findingView
	Open     int // findings before folding, without those that were accepted
	Accepted int
	Marked   bool // the state was marked
	New      int  // since, without those that were accepted
	Kinds    []kindView
	Audit    *auditView
}

// kindView is a kind of finding, to choose by.
type kindView struct {
	Kind, Words string
	N           int
}

func tray(ctx context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	found := o.Proof().Findings
	v := trayView{Head: station.HeadOf("Proof", o, part), Findings: foldFindings(found, o.Doc.State)}
	v.Marked = o.Doc.State.Wishes.Marked != nil
	for _, f := range found {
		switch {
		case f.Accepted != "":
			v.Accepted++
		case f.New:
			v.New++
			fallthrough
		default:
			v.Open++
		}
		k := slices.IndexFunc(v.Kinds, func(k kindView) bool { return k.Kind == f.Kind })
		if k < 0 {
			k = len(v.Kinds)
			v.Kinds = append(v.Kinds, kindView{Kind: f.Kind, Words: report.FindingWords(f.Kind)})
		}
		v.Kinds[k].N++
	}
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
