// Package paintshop is the page of the stand-in for a painting program. It reaches sheets as such a
// program would, by their folder, and knows nothing of documents.
package paintshop

import (
	"embed"
	"net/http"
	"os"
	"path/filepath"
	"slices"

	"github.com/labstack/echo/v5"

	"morvek/exchange"
	"morvek/standin"
	"morvek/store"
	"morvek/web/desk"
)

// Templates are those of the page.
//
//go:embed *.html
var Templates embed.FS

// Shop answers what is asked of it.
type Shop struct{ Folder *exchange.Folder }

// Routes adds those of the page.
func (s *Shop) Routes(e *echo.Echo) {
	e.GET("/paintshop", s.page)
	e.POST("/paintshop/:sheet/paint", s.paint)
	e.GET("/paintshop/:sheet/:picture", s.picture)
}

type sheetView struct {
	ID        string
	Title     string
	Materials []materialView
	Painted   bool
	At        int64 // when it was painted, for caches
	Trouble   string
	Template  string // its picture
}

type materialView struct{ Name, Look string }

// page shows the sheets that were sent, and one of them as it may be painted.
func (s *Shop) page(c *echo.Context) error {
	sheets, err := s.Folder.Sheets()
	if err != nil {
		return err
	}
	var ids []string
	for id := range sheets {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	v := struct {
		Sheets []sheetView
		Shown  *sheetView
		Looks  []string
		Folder string
	}{Looks: standin.Looks(), Folder: s.Folder.Dir()}
	for _, id := range ids {
		v.Sheets = append(v.Sheets, sheetView{ID: id, Title: sheets[id].Title})
	}
	asked := c.QueryParam("sheet")
	if asked == "" && len(ids) > 0 {
		asked = ids[len(ids)-1]
	}
	if k := slices.Index(ids, asked); k >= 0 {
		shown := &v.Sheets[k]
		dir := filepath.Join(s.Folder.Dir(), asked)
		sheet, err := standin.Open(dir)
		if err != nil {
			shown.Trouble = "it was sent without masks by material; send it again"
		}
		for _, m := range sheet.Materials {
			shown.Materials = append(shown.Materials, materialView{m, standin.Suggested(m)})
		}
		shown.Painted = sheet.Painted
		if info, err := os.Stat(filepath.Join(dir, painted(sheet.Tiles))); err == nil {
			shown.At = info.ModTime().UnixMilli()
		}
		v.Shown = shown
	}
	return c.Render(http.StatusOK, "paintshop.html", v)
}

// painted is the picture of the first of so many tiles.
func painted(tiles int) string { return exchange.Sheet{Tiles: tiles}.Painted(0) }

// folder is that of the sheet a request is about.
func (s *Shop) folder(c *echo.Context) (string, error) {
	sheets, err := s.Folder.Sheets()
	if err != nil {
		return "", err
	}
	if _, ok := sheets[c.Param("sheet")]; !ok {
		return "", store.ErrNotFound
	}
	return filepath.Join(s.Folder.Dir(), c.Param("sheet")), nil
}

// paint paints a sheet.
func (s *Shop) paint(c *echo.Context) error {
	dir, err := s.folder(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[standin.Recipe](c)
	if err != nil {
		return err
	}
	sheet, err := standin.Open(dir)
	if err != nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "this sheet cannot be painted: it was sent without masks by material")
	}
	if err := sheet.Paint(c.Request().Context(), r); err != nil {
		if c.Request().Context().Err() != nil {
			return err
		}
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "this sheet cannot be painted: "+err.Error())
	}
	return c.NoContent(http.StatusNoContent)
}

// picture hands out the template or what was painted.
func (s *Shop) picture(c *echo.Context) error {
	dir, err := s.folder(c)
	if err != nil {
		return err
	}
	file := ""
	switch c.Param("picture") {
	case "template":
		if found, _ := filepath.Glob(filepath.Join(dir, "*-template.png")); len(found) > 0 {
			file = found[0]
		}
	case "painted":
		if found, _ := filepath.Glob(filepath.Join(dir, "painted*.png")); len(found) > 0 {
			file = found[0]
		}
	}
	if file == "" {
		return store.ErrNotFound
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "no-cache")
	return c.Blob(http.StatusOK, "image/png", data)
}
