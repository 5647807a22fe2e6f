// Package station is what the bench knows of a station: its name, its tray, and what it answers
// besides. Each has a folder of its own below, with the tray, its tools in the browser, and
// what they ask for.
package station

import (
	"context"
	"embed"
	"io/fs"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/web/desk"
	"morvek/web/verbs"
	"morvek/workspace"
)

// Templates are those that trays share.
//
//go:embed shared.html
var Templates embed.FS

// Station is one of the places of the bench.
type Station struct {
	Name      string
	Verbs     []verbs.Verb
	Templates fs.FS // one of them is called "tray-" and its name in lower case
	// Tray is what that template shows for a part, document.NoPart for none.
	Tray func(ctx context.Context, o *workspace.Opened, part document.PartID) (any, error)
	// Routes are what it answers besides, nil for nothing.
	Routes func(document *echo.Group, d *desk.Desk)
}

// Template is what the template of its tray is called.
func (s Station) Template() string { return "tray-" + strings.ToLower(s.Name) }

// Head is what all trays begin with.
type Head struct {
	Station  string
	Document int64
	Map      document.MapID
	Part     string // "": none is chosen
	Unit     string
	Mapped   bool // something is
	Fresh    bool // nothing was done yet
	Tiling   bool // the shown map is
	Picks    []document.PickSet
}

// HeadOf is the head of the tray of a station.
func HeadOf(name string, o *workspace.Opened, part document.PartID) Head {
	s := o.Doc.State
	h := Head{Station: name, Document: o.Row.ID, Map: s.Shown.ID, Unit: s.Settings.Unit, Mapped: s.Map.AnyMapped(), Fresh: o.Row.Head == 0, Tiling: s.Shown.Purpose == document.Tiling, Picks: s.Wishes.Picks}
	if part != document.NoPart {
		h.Part = s.Parts[part].Name
	}
	return h
}
