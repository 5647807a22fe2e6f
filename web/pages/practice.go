package pages

import (
	"bytes"
	"io"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/practice"
	"morvek/web/desk"
)

// practice hands out the practice of a document, as the next may take it over.
func (p *Pages) practice(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	of := practice.Of(o.Doc, o.Row.Title)
	if list, err := p.Store.Deliveries(c.Request().Context(), o.Row.ID); err != nil {
		return err
	} else if len(list) > 0 {
		last, err := asked(list[0])
		if err != nil {
			return err
		}
		of.Deliver = last.Items
	}
	var b bytes.Buffer
	if err := of.Write(&b); err != nil {
		return err
	}
	desk.Attach(c, o.Row.Stem()+"-practice.json")
	return c.Blob(http.StatusOK, "application/json", b.Bytes())
}

// readPractice answers with a practice file as it is understood, or with what is wrong with it.
func (p *Pages) readPractice(c *echo.Context) error {
	data, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, practice.MostBytes+1))
	if err != nil {
		return echo.NewHTTPError(http.StatusRequestEntityTooLarge, "this file is too large for a practice")
	}
	read, err := practice.Read(data)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, read)
}

// practiceSchema is the form of practice files.
func (p *Pages) practiceSchema(c *echo.Context) error {
	return c.Blob(http.StatusOK, "application/schema+json", practice.Schema)
}
