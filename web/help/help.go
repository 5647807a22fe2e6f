// Package help is the pages that say how things are done: a first job, how one picks, and every
// verb with its key, written from the tables of verbs.
package help

import (
	"embed"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/docs"
	"morvek/store"
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
	e.GET("/help/pictures/:name", h.picture)
}

type pageView struct {
	Sets  []setView
	Mouse []mouseView
	First []stepView
	More  []viewView
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
	Shows string `json:"-"` // name of the picture that shows it
}

// viewView is a view that the first job does not lead to.
type viewView struct{ Title, Text, Shows string }

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
	{"look", "Look at the parts", "The card on the left lists the parts as they came: rows are parts, columns the six stations of the work. Click one of them.", "bench-imported"},
	{"run", "Run the whole job", "At Parts, press “Run the whole job” below. Parts are recognised, walls opened, unrolled, straightened and packed. It can be cancelled, and undone with Ctrl+Z.", "bench-parts"},
	{"cloth", "See what it made", "Shift+2 lays the proof cloth on the model: its squares should be square, equally large, and stand upright. Shift+3 shows where it stretches.", "bench-cloth"},
	{"seam", "Change a seam", "Go to Seams with 3. Double click an edge for its loop, then C cuts it, V closes it, J joins the two shells after showing what that costs. Take one of them.", "bench-seams"},
	{"flow", "Straighten a shell", "Go to Flow with 4 and choose a part on the card. The tray says what truing up would gain; take it, or turn the shell with T.", "bench-flow"},
	{"sheet", "Lay one by hand", "Go to Sheet with 5. Drag a shell; arrow keys nudge it by a pixel. K packs what waits; what you laid stays.", "bench-hand"},
	{"proof", "Prove it", "Go to Proof with 6. N leads from finding to finding, M mends one where a verb is known that does, A accepts it with a reason.", "bench-proof"},
	{"deliver", "Deliver", "Press Deliver, or Shift+D: the model with its map, a template to paint on, the report.", "deliver"},
}

var more = []viewView{
	{"A file that comes in", "After reading, the model turns on a page of its own: its size in the unit that is set, what is wrong with the mesh, where, and the repair for it, and the maps that came along. Then the bench, or the whole job at once.", "arrival"},
	{"A projection set up by hand", "At Project each kind is tried and priced. Knobs in the model move it, the frame shows how it lies, and the ghost on the sheet what it gives.", "bench-project"},
	{"Where it stretches", "Stretch, area, density, grain and exposure are maps on the model and the sheet, with lines of equal value and the ten worst places, each a way there.", "bench-stretch"},
	{"Several maps", "A model has as many maps as it needs, each with its own sheet: one for paint, one for tiling boards. Shells are copied from one to another.", "bench-maps"},
	{"Painted", "A picture of the sheet, painted elsewhere, is laid on the model. A sealed map refuses what would move it from under the paint.", "bench-painted"},
	{"A revision of the model", "When the model changes, a page shows what stays, is adapted, laid anew or gone, before it is taken. What did not change keeps its place to the last bit.", "revision"},
	{"Before and after", "Any two states, maps or models side by side or wiped over each other, with what became better and worse in numbers.", "compare"},
	{"The report", "What the map is worth, in numbers and pictures, to print or to keep with the delivery.", "report"},
}

func (h *Help) view() pageView {
	v := pageView{Mouse: mouse, First: first, More: more}
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

// picture is one of the pictures of the main views.
func (h *Help) picture(c *echo.Context) error {
	b, err := docs.Picture(c.Param("name"))
	if err != nil {
		return store.ErrNotFound
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=86400")
	return c.Blob(http.StatusOK, "image/png", b)
}
