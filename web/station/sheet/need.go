package sheet

import (
	"fmt"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"morvek/core/proof"
	"morvek/core/sheet"
	"morvek/web/desk"
)

type room struct{ *desk.Desk }

func routes(document *echo.Group, d *desk.Desk) {
	document.GET("/need", room{d}.need)
}

type needView struct {
	Density string
	Sharp   string // how the map as it is compares
	Needs   []sheet.Need
	Wrong   string
}

// need tells the density that never blurs from some distance, and how many tiles it takes.
func (r room) need(c *echo.Context) error {
	o, err := r.Open(c)
	if err != nil {
		return err
	}
	number := func(name string) float64 {
		x, _ := strconv.ParseFloat(c.QueryParam(name), 64) //nolint:errcheck // what is no number sees nothing
		return x
	}
	d := sheet.Eye{Distance: number("distance"), ScreenPx: number("screen"), FieldDeg: number("field")}.Density()
	if d == 0 {
		return r.show(c, needView{Wrong: "give a distance, the height of the picture, and a field of less than 180°"})
	}
	p, unit := o.Proof(), o.Doc.State.Settings.Unit
	area, fill := unstackedArea(p), p.Totals.Coverage
	if fill < leastFill {
		fill = usualFill
	}
	v := needView{Density: fmt.Sprintf("%.0f px/%s", d, unit), Needs: sheet.Needs(area, d, fill)}
	if has := p.Totals.MeanDensity; has > 0 {
		v.Sharp = fmt.Sprintf("×%.2f of it now", has/d)
	}
	return r.show(c, v)
}

// What a sheet is thought to be filled to where it is not packed yet, or hardly.
const (
	leastFill = 0.4
	usualFill = 0.75
)

// unstackedArea is what needs room, in model units squared: stacks once, by their weights.
func unstackedArea(p proof.Report) (area float64) {
	for _, s := range p.Shells {
		if s.StackedOn == nil {
			area += s.Area * s.Weight * s.Weight
		}
	}
	return area
}

func (r room) show(c *echo.Context, v needView) error {
	text, err := r.Text("sheet-need", v)
	if err != nil {
		return err
	}
	return c.HTML(http.StatusOK, text)
}
