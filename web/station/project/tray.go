// Package project is the Project station: what each kind of projection makes of a part, and
// jigs that keep one.
package project

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

// Station is the Project station.
var Station = station.Station{Name: "Project", Verbs: table, Templates: templates, Tray: tray, Routes: routes}

func tray(_ context.Context, o *workspace.Opened, part document.PartID) (any, error) {
	return station.HeadOf("Project", o, part), nil
}

type room struct{ *desk.Desk }

func routes(g *echo.Group, d *desk.Desk) {
	r := room{d}
	g.POST("/projections", r.projections)
	g.GET("/jigs", r.jigs)
	g.POST("/jigs", r.keepJig)
	g.POST("/jigs/:jig", r.changeJig)
	g.DELETE("/jigs/:jig", r.dropJig)
}
