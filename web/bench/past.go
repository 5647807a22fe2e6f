package bench

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// pastView is which state that was a page shows.
type pastView struct {
	Name, Value   string // of the query that asks for it
	Says          string
	Earlier, Next string // addresses, "" for none
}

// past says which state that was is asked for; nil: how it is now.
func (b *Bench) past(c *echo.Context, o *workspace.Opened) (*pastView, error) {
	when, past, err := desk.When(c)
	if err != nil || !past {
		return nil, err
	}
	ctx := c.Request().Context()
	v := &pastView{}
	v.Name, v.Value, _ = strings.Cut(query(when), "=")
	if v.Says, err = b.Docs.Says(ctx, o.Row.ID, when); err != nil {
		return nil, err
	}
	if when.Moment != 0 {
		return v, nil
	}
	row, err := b.Store.Document(ctx, o.Row.ID)
	if err != nil {
		return nil, err
	}
	at := func(seq int) string { return fmt.Sprintf("?seq=%d&map=%d", seq, o.Doc.State.Shown.ID) }
	if when.Seq > 0 {
		v.Earlier = at(when.Seq - 1)
	}
	if when.Seq < row.Head {
		v.Next = at(when.Seq + 1)
	}
	return v, nil
}

func query(when workspace.When) string {
	if when.Moment != 0 {
		return "moment=" + strconv.FormatInt(when.Moment, 10)
	}
	return "seq=" + strconv.Itoa(when.Seq)
}

// name gives the state that is asked for a name.
func (b *Bench) name(c *echo.Context) error {
	r, err := desk.ReadBody[struct {
		Name string `json:"name"`
	}](c)
	if err != nil {
		return err
	}
	ref, err := desk.Ref(c)
	if err != nil {
		return err
	}
	when, past, err := desk.When(c)
	if err != nil {
		return err
	}
	if !past {
		when.Seq = store.Now
	}
	if err := b.Docs.Name(c.Request().Context(), ref, when, r.Name, desk.Who(c)); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// unname forgets the name of a state.
func (b *Bench) unname(c *echo.Context) error {
	ref, err := desk.Ref(c)
	if err != nil {
		return err
	}
	moment, err := desk.Number(c, "moment")
	if err != nil {
		return err
	}
	if err := b.Store.ForgetMoment(c.Request().Context(), ref.Document, moment); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

// goBack makes the document what it was in the state that is asked for.
func (b *Bench) endHistory(c *echo.Context) error {
	ref, err := desk.Changing(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[editRequest](c)
	if err != nil {
		return err
	}
	if _, err := b.Docs.EndHistory(c.Request().Context(), ref.Document, r.Base, desk.Who(c)); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}

func (b *Bench) goBack(c *echo.Context) error {
	ref, err := desk.Ref(c)
	if err != nil {
		return err
	}
	when, past, err := desk.When(c)
	if err != nil || !past {
		return store.ErrNotFound
	}
	r, err := desk.ReadBody[editRequest](c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	says, err := b.Docs.Says(ctx, ref.Document, when)
	if err != nil {
		return err
	}
	if _, err := b.Docs.GoBack(ctx, ref, r.Base, store.By{Key: r.Key, Who: desk.Who(c)}, when, says); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
