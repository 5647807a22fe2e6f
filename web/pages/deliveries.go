package pages

import (
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/meshio"
	"morvek/core/proof"
	"morvek/core/words"
	"morvek/store"
	"morvek/web/desk"
	"morvek/workspace"
)

// deliveriesView is the dialog in which it is chosen what is handed over.
type deliveriesView struct {
	store.Document
	Kinds   []deliverableKind
	Maps    []deliveredMap
	Sizes   []int
	Size    int // of pictures
	Line    float64
	Warning string // about what would be sent back
	Made    []madeView
}

type deliverableKind struct {
	Title string
	Items []deliverable
}

type deliverable struct {
	delivery.Item
	Wanted bool
	Alone  string // where it is had by itself, "" for nowhere
}

type deliveredMap struct {
	document.MapHead
	Wanted bool
}

type madeView struct {
	store.Delivery
	Size  string
	Names []string
}

// titles are the kinds of what can be delivered, in the order of the dialog.
var titles = [][2]string{{"meshes", "Meshes"}, {"templates", "Templates"}, {"masks", "Masks"}, {"bakes", "Baked to the sheet"}, {"tables", "Report"}}

// deliveries shows what can be handed over, as it was chosen last, and what was.
func (p *Pages) deliveries(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	list, err := p.Store.Deliveries(c.Request().Context(), o.Row.ID)
	if err != nil {
		return err
	}
	v := deliveriesView{Document: o.Row, Sizes: []int{512, 1024, 2048, 4096, 8192}, Warning: warning(o)}
	last := usual(o)
	if len(list) > 0 {
		if last, err = asked(list[0]); err != nil {
			return err
		}
	}
	if v.Size, v.Line = last.Size, last.Line; v.Size == 0 {
		v.Size = o.Doc.State.Settings.Sheet.Size
	}
	if !slices.Contains(v.Sizes, v.Size) {
		v.Sizes = append(v.Sizes, v.Size)
		slices.Sort(v.Sizes)
	}
	for _, k := range titles {
		kind := deliverableKind{Title: k[1]}
		for _, i := range delivery.Items() {
			if i.Of == k[0] {
				kind.Items = append(kind.Items, deliverable{i, slices.Contains(last.Items, i.Name), alone(i)})
			}
		}
		v.Kinds = append(v.Kinds, kind)
	}
	for _, h := range o.Doc.State.Maps() {
		v.Maps = append(v.Maps, deliveredMap{h, len(last.Maps) == 0 || slices.Contains(last.Maps, h.ID)})
	}
	for _, d := range list {
		m := madeView{Delivery: d, Size: megabytes(d.Bytes)}
		var files []delivery.File
		if err := json.Unmarshal(d.Files, &files); err != nil {
			return err
		}
		for _, f := range files {
			m.Names = append(m.Names, f.Name)
		}
		v.Made = append(v.Made, m)
	}
	return c.Render(http.StatusOK, "deliveries.html", v)
}

// asked is what was ordered.
func asked(d store.Delivery) (o delivery.Order, err error) {
	err = json.Unmarshal(d.Asked, &o)
	return o, err
}

// usual is what is proposed where nothing was delivered yet.
func usual(o *workspace.Opened) delivery.Order {
	mesh := "obj"
	if f, ok := meshio.Of(o.Row.FileName); ok && f.Write != nil {
		mesh = strings.TrimPrefix(f.Extensions[0], ".")
	}
	return delivery.Order{Items: []string{mesh, "template.svg", "report.json"}}
}

// alone is the name under which an item is had by itself.
func alone(i delivery.Item) string {
	switch {
	case i.Of == "meshes":
		return "model." + i.Name
	case i.Of == "templates", i.Name == "report.json":
		return i.Name
	}
	return ""
}

// warning says what a painter would send back, "" for nothing.
func warning(o *workspace.Opened) string {
	n := proof.Musts(o.Proof().Findings)
	if n == 0 {
		return ""
	}
	return fmt.Sprintf("%s that a painter would send back; the Proof station lists them.", words.Count(n, "finding"))
}

// megabytes is a size in words.
func megabytes(n int) string {
	if n < 100_000 {
		return fmt.Sprintf("%.1f kB", float64(n)/1e3)
	}
	return fmt.Sprintf("%.1f MB", float64(n)/1e6)
}

// order queues a delivery.
func (p *Pages) order(c *echo.Context) error {
	o, err := p.OpenNow(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[delivery.Order](c)
	if err != nil {
		return err
	}
	w, err := p.Queue.Deliver(c.Request().Context(), o, r, desk.Who(c))
	if err != nil {
		return err
	}
	return desk.Begun(c, w)
}

// ordered leads to what a work made.
func (p *Pages) ordered(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	d, err := p.Store.DeliveryOf(c.Request().Context(), id)
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, fmt.Sprintf("/deliveries/%d", d.ID))
}

// delivered hands out what was made.
func (p *Pages) delivered(c *echo.Context) error {
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	return p.Delivery(c, id)
}
