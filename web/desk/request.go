package desk

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/mesh"
	"morvek/store"
	"morvek/workspace"
)

// ID is the number in the path of a request.
func ID(c *echo.Context) (int64, error) {
	n, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0, store.ErrNotFound
	}
	return n, nil
}

// Number is a further number in the path of a request.
func Number(c *echo.Context, name string) (int64, error) {
	n, err := strconv.ParseInt(c.Param(name), 10, 64)
	if err != nil {
		return 0, echo.NewHTTPError(http.StatusBadRequest, "a "+name+" is a number")
	}
	return n, nil
}

// Ref is the document that is asked for, and the map it is to be seen through: ?map=2, else its
// first.
func Ref(c *echo.Context) (r workspace.Ref, err error) {
	if r.Document, err = ID(c); err != nil {
		return r, err
	}
	if p := c.QueryParam("map"); p != "" {
		n, err := strconv.ParseInt(p, 10, 32)
		if err != nil || n < 1 {
			return r, workspace.ErrNoMap
		}
		r.Map = document.MapID(n)
	}
	return r, nil
}

// When is which state that was is asked for: ?seq=12 after so many edits, ?moment=3 one with a name.
func When(c *echo.Context) (w workspace.When, past bool, err error) {
	seq, moment := c.QueryParam("seq"), c.QueryParam("moment")
	switch {
	case moment != "":
		w.Moment, err = strconv.ParseInt(moment, 10, 64)
	case seq != "":
		w.Seq, err = strconv.Atoi(seq)
	default:
		return w, false, nil
	}
	if err != nil || moment != "" && w.Moment < 1 {
		return w, true, store.ErrNotFound
	}
	return w, true, nil
}

// longestWho bounds how people call themselves, in letters.
const longestWho = 40

// WhoCookie holds how somebody calls himself, as in an address.
const WhoCookie = "who"

// Who is whoever asks: who signed in, else as they call themselves; "" where they did not say.
func Who(c *echo.Context) string {
	if p, ok := Seated(c); ok {
		return p.Name
	}
	k, err := c.Cookie(WhoCookie)
	if err != nil {
		return ""
	}
	who, err := url.PathUnescape(k.Value)
	if err != nil || !utf8.ValidString(who) || strings.ContainsFunc(who, unicode.IsControl) || utf8.RuneCountInString(who) > longestWho {
		return ""
	}
	return strings.TrimSpace(who)
}

// maxRequest bounds what comes with a request other than a model file.
const maxRequest = 16 << 20

// ReadBody reads what came along with a request as JSON.
func ReadBody[T any](c *echo.Context) (v T, err error) {
	b, err := io.ReadAll(http.MaxBytesReader(c.Response(), c.Request().Body, maxRequest))
	if err != nil {
		return v, echo.NewHTTPError(http.StatusRequestEntityTooLarge, "this request is too large")
	}
	if err := edit.Sane(b); err != nil {
		return v, err
	}
	if json.Unmarshal(b, &v) != nil {
		return v, echo.NewHTTPError(http.StatusBadRequest, "this request is not valid JSON")
	}
	return v, nil
}

// KnownFaces refuses faces that a mesh does not have.
func KnownFaces(m *mesh.Mesh, faces []mesh.FaceID) error {
	for _, f := range faces {
		if f < 0 || int(f) >= m.NumFaces() {
			return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("there is no face %d; the mesh has %d", f, m.NumFaces()))
		}
	}
	return nil
}
