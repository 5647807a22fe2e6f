package bench

import (
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// momentView is a state with a name, of a document.
type momentView struct {
	ID int64
	M  store.Moment
}

type worklogView struct {
	Edits []store.Edit
	Names map[int][]store.Moment // of states, by the edit after which they are
	Kept  []store.Moment         // of states that the worklog does not lead to any more
	Head  int
	ID    int64
	Map   document.MapID // that is shown
	Past  string         // the query that asks for the state that is shown; "" for how it is now
	Who   string
	Seat  bool // that is who is signed in
}

// Before is how many edits were made before one of them.
func (worklogView) Before(seq int) int { return seq - 1 }

// Shown tells whether the state after an edit is the one that is shown.
func (v worklogView) Shown(seq int) bool {
	if v.Past == "" {
		return seq == v.Head
	}
	return v.Past == query(workspace.When{Seq: seq})
}

func (b *Bench) newWorklogView(c *echo.Context, o *workspace.Opened) (v worklogView, err error) {
	ctx := c.Request().Context()
	v = worklogView{ID: o.Row.ID, Map: o.Doc.State.Shown.ID, Names: map[int][]store.Moment{}, Who: desk.Who(c)}
	_, v.Seat = desk.Seated(c)
	if when, past, _ := desk.When(c); past {
		v.Past = query(when)
	}
	now, err := b.Store.Document(ctx, o.Row.ID)
	if err != nil {
		return v, err
	}
	v.Head = now.Head
	if v.Edits, err = b.Store.Worklog(ctx, o.Row.ID); err != nil {
		return v, err
	}
	moments, err := b.Store.Moments(ctx, o.Row.ID)
	if err != nil {
		return v, err
	}
	for _, m := range moments {
		if m.Seq == nil {
			v.Kept = append(v.Kept, m)
		} else {
			v.Names[*m.Seq] = append(v.Names[*m.Seq], m)
		}
	}
	return v, nil
}

func (b *Bench) worklog(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	v, err := b.newWorklogView(c, o)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "worklog.html", v)
}

func (b *Bench) worklogText(c *echo.Context, o *workspace.Opened) (string, error) {
	v, err := b.newWorklogView(c, o)
	if err != nil {
		return "", err
	}
	return b.Text("worklog.html", v)
}
