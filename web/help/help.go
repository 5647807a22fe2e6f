// Package help is the pages that say how things are done: a first job, how one picks, and every
// verb with its key, written from the tables of verbs.
package help

import (
	"embed"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/web/desk"
	"morvek/web/verbs"
)

// Templates are those of the help.
//
//go:embed *.html
var Templates embed.FS

// Help answers for the pages of help.
type Help struct {
	*desk.Desk
	Verbs verbs.Sets
}

// Routes adds the pages of help.
func (h *Help) Routes(e *echo.Echo) {
	e.GET("/help", h.page)
	e.GET("/help/keys", h.keys)
	e.GET("/help/first", h.first)
}

type pageView struct {
	Sets  []setView
	Mouse []mouseView
	First []stepView
}

// setView is the verbs of a station, or with no name those of all.
type setView struct {
	Station string
	Groups  []groupView
}

type groupView struct {
	Says  string
	Verbs []verbs.Verb
}

// mouseView is what the pointer does.
type mouseView struct{ How, What string }

// stepView is a step of the first job; the bench knows by its name whether it is done.
type stepView struct {
	Name  string `json:"name"`
	Title string `json:"title"`
	Text  string `json:"text"`
}

var mouse = []mouseView{
	{"Click", "picks a face, an edge, a point or a shell: what the station is about. B goes on to another kind."},
	{"Shift or Alt with it", "adds to the pick, or takes away from it."},
	{"Double click", "extends: an edge to its loop, a face to its part, a shell to all of its part."},
	{"Drag on the model", "turns it; with Shift, or the middle button, moves it; the wheel zooms."},
	{"Drag on empty ground", "picks what lies inside a rectangle; with L held, inside a line drawn by hand."},
	{"Drag on the sheet", "moves a shell or a point, at their stations; the right button moves the view."},
	{"Point at a verb", "draws what it would change, and counts it, before anything is done."},
	{"In a number", "sums and units are understood: 3/8 in, 2*12 mm, *2. Arrow keys step, Shift by ten; dragging the name of the field does too."},
}

var first = []stepView{
	{"look", "Look at the parts", "The card on the left lists the parts as they came: rows are parts, columns the six stations of the work. Click one of them."},
	{"run", "Run the whole job", "At Parts, press “Run the whole job” below. Parts are recognised, walls opened, unrolled, straightened and packed. It can be cancelled, and undone with Ctrl+Z."},
	{"cloth", "See what it made", "Shift+2 lays the proof cloth on the model: its squares should be square, equally large, and stand upright. Shift+3 shows where it stretches."},
	{"seam", "Change a seam", "Go to Seams with 3. Double click an edge for its loop, then C cuts it, V closes it, J joins the two shells after showing what that costs. Take one of them."},
	{"flow", "Straighten a shell", "Go to Flow with 4 and choose a part on the card. The tray says what truing up would gain; take it, or turn the shell with T."},
	{"sheet", "Lay one by hand", "Go to Sheet with 5. Drag a shell; arrow keys nudge it by a pixel. K packs what waits; what you laid stays."},
	{"proof", "Prove it", "Go to Proof with 6. N leads from finding to finding, M mends one where a verb is known that does, A accepts it with a reason."},
	{"deliver", "Deliver", "Press Deliver, or Shift+D: the model with its map, a template to paint on, the report."},
}

func (h *Help) view() pageView {
	v := pageView{Mouse: mouse, First: first}
	for _, s := range h.Verbs {
		set := setView{Station: s.Station}
		for _, g := range verbs.Groups {
			group := groupView{Says: g.Says}
			for _, x := range s.Verbs {
				if x.Takes == g.Takes {
					group.Verbs = append(group.Verbs, x)
				}
			}
			if len(group.Verbs) > 0 {
				set.Groups = append(set.Groups, group)
			}
		}
		v.Sets = append(v.Sets, set)
	}
	return v
}

func (h *Help) page(c *echo.Context) error { return c.Render(http.StatusOK, "help.html", h.view()) }

// keys is the verbs alone, as the bench shows them over itself.
func (h *Help) keys(c *echo.Context) error { return c.Render(http.StatusOK, "helpkeys", h.view()) }

// first is the steps of the first job, for the bench that watches how far it is.
func (h *Help) first(c *echo.Context) error { return c.JSON(http.StatusOK, first) }
