package web

import (
	"net/http"

	"github.com/labstack/echo/v4"

	"morvek/core/document"
	"morvek/core/report"
	"morvek/web/wire"
	"morvek/workspace"
)

type cardView struct {
	report.Card
	Stations [6]string
	Revision int64
	Unit     string
}

// rowView is a row of the card with what it is shown in.
type cardRowView struct {
	report.Row
	Stations [6]string
	Unit     string
}

func newCardView(o *workspace.Opened) cardView {
	return cardView{o.Card(), report.Stations, o.Row.Revision, o.Doc.State.Settings.Unit}
}

func (s *Server) card(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "card.html", newCardView(o))
}

// newCardPatch is what changes on the route card, all of it after nobody knows what.
func (s *Server) newCardPatch(was, now *workspace.Opened) (p wire.Card, err error) {
	var a report.Card
	if was != nil {
		a = was.Card()
	}
	b := now.Card()
	p.ToDo = b.ToDo
	same := len(a.Rows) == len(b.Rows)
	for i := 0; same && i < len(b.Rows); i++ {
		same = a.Rows[i].Part == b.Rows[i].Part
	}
	if !same {
		p.Whole, err = s.text("card.html", newCardView(now))
		return p, err
	}
	p.Rows = map[document.PartID]string{}
	for i, r := range b.Rows {
		if r == a.Rows[i] {
			continue
		}
		if p.Rows[r.Part], err = s.text("cardrow", cardRowView{r, report.Stations, now.Doc.State.Settings.Unit}); err != nil {
			return p, err
		}
	}
	return p, nil
}
