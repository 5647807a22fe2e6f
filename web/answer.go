package web

import (
	"context"
	"net/http"
	"strings"

	"github.com/labstack/echo/v4"

	"morvek/web/wire"
	"morvek/workspace"
)

// answerChange answers a change of the revision base, which the browser saw through the map
// that it told, with what it led to.
func (s *Server) answerChange(c echo.Context, base int64, now *workspace.Opened, with *wire.Shown) error {
	if with == nil {
		return c.JSON(http.StatusOK, wire.Answer{Meta: wire.NewMeta(now)})
	}
	ctx := c.Request().Context()
	was, by, ok := now.Since()
	if from, err := ref(c); !ok || err != nil || was.Row.Revision != base || from.Map != 0 && from.Map != now.Doc.State.Shown.ID {
		was = nil // it knows something else
	}
	var a wire.Answer
	if was != nil {
		if p, ok := wire.NewPatch(was, now, by); ok {
			a.Meta, a.Patch = wire.Brief(now), &p
		}
	}
	if a.Patch == nil {
		a.Meta = wire.NewMeta(now)
	}
	card, err := s.newCardPatch(was, now)
	if err != nil {
		return err
	}
	a.Card = &card
	if a.Tray, err = s.trayText(ctx, now, with); err != nil {
		return err
	}
	if with.Worklog {
		if a.Worklog, err = s.worklogText(ctx, now); err != nil {
			return err
		}
	}
	return c.JSON(http.StatusOK, a)
}

func (s *Server) trayText(ctx context.Context, o *workspace.Opened, with *wire.Shown) (string, error) {
	v, err := newTrayView(ctx, o, with.Station, with.Part)
	if err != nil {
		return "", err
	}
	return s.text("tray.html", v)
}

func (s *Server) worklogText(ctx context.Context, o *workspace.Opened) (string, error) {
	edits, err := s.store.Worklog(ctx, o.Row.ID)
	if err != nil {
		return "", err
	}
	return s.text("worklog.html", worklogView{edits, o.Row.Head})
}

// text renders a template.
func (s *Server) text(name string, data any) (string, error) {
	var b strings.Builder
	err := s.pages.ExecuteTemplate(&b, name, data)
	return b.String(), err
}
