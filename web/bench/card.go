package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

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

// sumView is what is left to do in a column.
type sumView struct{ ToDo, Look int }

func newCardView(o *workspace.Opened) cardView {
	return cardView{o.Card(), report.Stations, o.Row.Revision, o.Doc.State.Settings.Unit}
}

func (b *Bench) card(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "card.html", newCardView(o))
}

// newCardPatch is what changes on the route card, all of it after nobody knows what.
func (b *Bench) newCardPatch(was, now *workspace.Opened) (p wire.Card, err error) {
	var before report.Card
	if was != nil {
		before = was.Card()
	}
	after := now.Card()
	same := len(before.Rows) == len(after.Rows)
	for i := 0; same && i < len(after.Rows); i++ {
		same = before.Rows[i].Part == after.Rows[i].Part
	}
	if !same {
		p.Whole, err = b.Text("card.html", newCardView(now))
		return p, err
	}
	for i := range after.ToDo {
		if p.Sums[i], err = b.Text("cardsum", sumView{after.ToDo[i], after.Look[i]}); err != nil {
			return p, err
		}
	}
	p.Rows = map[document.PartID]string{}
	for i, r := range after.Rows {
		if r == before.Rows[i] {
			continue
		}
		if p.Rows[r.Part], err = b.Text("cardrow", cardRowView{r, report.Stations, now.Doc.State.Settings.Unit}); err != nil {
			return p, err
		}
	}
	return p, nil
}
