// Package seams is the Seams station: cutting, closing and joining by hand, what is suggested,
// and the dial between fewer pieces and less stretch.
package seams

import (
	"context"
	"embed"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/web/desk"
	"morvek/web/station"
	"morvek/workspace"
)

//go:embed *.html
var templates embed.FS

// Station is the Seams station.
var Station = station.Station{Name: "Seams", Verbs: table, Templates: templates, Tray: tray, Routes: routes}

type trayView struct {
	station.Head
	Recognised bool
	Dial       float64
	Sides      []sideView
	Picks      []document.PickSet
}

// sideView is how much the piece is looked at from one side.
type sideView struct {
	Name   string
	Weight float64
}

func tray(_ context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	s := o.Doc.State
	look := s.Settings.Viewed()
	return trayView{station.HeadOf("Seams", o, part), s.Recognised(), s.Settings.Dial,
		[]sideView{{"front", look.Front}, {"back", look.Back}, {"left", look.Left}, {"right", look.Right}, {"above", look.Above}, {"below", look.Below}}, s.Wishes.Picks}, nil
}

type room struct{ *desk.Desk }

func routes(g *echo.Group, d *desk.Desk) { g.GET("/suggestions", room{d}.suggestions) }
