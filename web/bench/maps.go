package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/workspace"
)

// mapView is a map of a document in the list of maps.
type mapView struct {
	document.MapHead
	Shown  bool
	Shells int
}

// mapsView is what the list of maps shows.
type mapsView struct {
	Maps     []mapView
	Shown    document.MapHead
	Others   []document.MapHead
	Purposes []document.Purpose
}

func newMapsView(o *workspace.Opened) (v mapsView, err error) {
	st := o.Doc.State
	v.Shown, v.Purposes = st.Shown, document.Purposes
	for _, h := range st.Maps() {
		seen, err := o.Through(h.ID)
		if err != nil {
			return v, err
		}
		shells, _ := seen.Doc.State.Map.Shells()
		v.Maps = append(v.Maps, mapView{h, h.ID == st.Shown.ID, len(shells)})
		if h.ID != st.Shown.ID {
			v.Others = append(v.Others, h)
		}
	}
	return v, nil
}

// maps is the list of maps, with what can be done to them.
func (b *Bench) maps(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	v, err := newMapsView(o)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "maps.html", v)
}
