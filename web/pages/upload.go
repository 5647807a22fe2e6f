package pages

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"path/filepath"
	"strings"
	"unicode/utf8"

	"github.com/labstack/echo/v5"

	"morvek/core/document"
	"morvek/core/meshio"
	"morvek/store"
	"morvek/workspace"
)

// maxUpload bounds a model file.
const maxUpload = 512 << 20

// upload brings in a model; a file that cannot be read leaves nothing behind.
func (p *Pages) upload(c *echo.Context) error {
	ctx := c.Request().Context()
	c.Request().Body = http.MaxBytesReader(c.Response(), c.Request().Body, maxUpload)
	tooLarge := echo.NewHTTPError(http.StatusRequestEntityTooLarge, fmt.Sprintf("the file is larger than %d MB; split the model or bring in fewer objects at a time", maxUpload>>20))
	if c.Request().ContentLength > maxUpload {
		c.Response().Header().Set("Connection", "close") // or the server waits for the body first
		return tooLarge
	}
	mr, err := c.Request().MultipartReader()
	if err != nil {
		return echo.NewHTTPError(http.StatusBadRequest, "no file came along; choose one that ends in "+meshio.Endings(false))
	}
	var name string
	var data []byte
	for {
		part, err := mr.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off; try again")
		}
		if part.FormName() != "model" {
			continue
		}
		name = filepath.Base(part.FileName())
		if data, err = io.ReadAll(part); err != nil {
			var big *http.MaxBytesError
			if errors.As(err, &big) {
				return tooLarge
			}
			return echo.NewHTTPError(http.StatusBadRequest, "the upload broke off; try again")
		}
	}
	if !utf8.ValidString(name) || strings.ContainsRune(name, 0) {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "the name of this file cannot be kept; give it another one")
	}
	if name == "" {
		return echo.NewHTTPError(http.StatusBadRequest, "no file came along; choose one that ends in "+meshio.Endings(false))
	}
	m, err := meshio.Read(ctx, name, meshio.Input{Data: data})
	if err != nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, name+": "+workspace.Words(err))
	}
	state, err := document.New(m, document.Guess(m, document.DefaultSettings())).State.MarshalBinary()
	if err != nil {
		return err
	}
	project, err := p.uploadProject(c)
	if err != nil {
		return err
	}
	title := strings.TrimSuffix(name, filepath.Ext(name))
	doc, err := p.Store.CreateDocument(ctx, store.NewDocument{Project: project, Title: title, About: "brought in from " + name, FileName: name,
		Source: data, Faces: m.NumFaces(), Points: m.NumPoints(), State: state})
	if err != nil {
		return err
	}
	return c.JSON(http.StatusCreated, map[string]string{"url": fmt.Sprintf("/documents/%d", doc), "arrival": fmt.Sprintf("/documents/%d/arrival", doc)})
}

// uploadProject is the newest project, or a first one.
func (p *Pages) uploadProject(c *echo.Context) (int64, error) {
	list, err := p.Store.Projects(c.Request().Context())
	if err != nil {
		return 0, err
	}
	if len(list) > 0 {
		return list[0].ID, nil
	}
	return p.Store.CreateProject(c.Request().Context(), "My models")
}
