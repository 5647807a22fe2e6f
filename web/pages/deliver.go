package pages

import (
	"bytes"
	"fmt"
	"net/http"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/delivery"
	"morvek/core/meshio"
	"morvek/core/meshio/format"
	"morvek/core/report"
	"morvek/core/template"
	"morvek/store"
	"morvek/web/desk"
)

// deliver hands out the mesh with its map, the painter's template or the report.
func (p *Pages) deliver(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	size := o.Doc.State.Settings.Sheet.Size
	if q := c.QueryParam("size"); q != "" {
		if size, err = strconv.Atoi(q); err != nil || size < delivery.LeastSize || size > delivery.MostSize {
			return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("a template can be %d to %d px large", delivery.LeastSize, delivery.MostSize))
		}
	}
	base := o.Row.Stem() + delivery.Suffix(o.Doc.State)
	var b bytes.Buffer
	var kind, name string
	switch file := c.Param("file"); file {
	case "template.svg", "template.png", "template.ora":
		kind, name = template.Media(file), base+"-"+file
		if err := template.Write(&b, file, report.Template(o.Doc), template.Options{Size: size}); err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, err.Error())
		}
	case "report.json":
		r, rerr := report.Of(c.Request().Context(), o.Doc, o.Row.FileName)
		if rerr != nil {
			return rerr
		}
		desk.Attach(c, base+"-report.json")
		return c.JSONPretty(http.StatusOK, r, " ")
	default:
		if !meshio.Writable(file) || !strings.HasPrefix(file, "model.") {
			return store.ErrNotFound
		}
		f, _ := meshio.Of(file)
		kind, name = f.Media, base+filepath.Ext(file)
		maps := o.Doc.Written(f)
		if strings.EqualFold(filepath.Ext(file), filepath.Ext(o.Row.FileName)) && format.Unchanged(o.Doc.Source, maps) {
			from, err := p.Docs.File(c.Request().Context(), o)
			if err != nil {
				return err
			}
			if from.Data != nil { // as it came, to the byte
				b.Write(from.Data)
				break
			}
		}
		err = f.Write(&b, o.Doc.Source, maps)
	}
	if err != nil {
		return err
	}
	desk.Attach(c, name)
	return c.Blob(http.StatusOK, kind, b.Bytes())
}
