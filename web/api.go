package web

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"time"

	"github.com/labstack/echo/v4"

	"morvek/core/edit"
	"morvek/store"
	"morvek/web/wire"
	"morvek/workspace"
)

func (s *Server) meta(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, wire.NewMeta(o))
}

func (s *Server) meshBlock(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=31536000, immutable") // the address carries the hash
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Mesh(o.Doc.Mesh))
}

func (s *Server) layoutBlock(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", wire.Layout(o))
}

type editRequest struct {
	Base  int64           `json:"base"`
	Edit  json.RawMessage `json:"edit"`
	Key   string          `json:"key,omitempty"`   // of the edit: sent again, it is made once
	Shown *wire.Shown     `json:"shown,omitempty"` // what comes along with the answer; none: all is told
	Offer bool            `json:"offer,omitempty"` // nobody asked for it: a refusal is an answer like others
}

// maxRequest bounds what comes with a request other than a model file.
const maxRequest = 64 << 20

// readBody reads what came along with a request as JSON.
func readBody[T any](c echo.Context) (v T, err error) {
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

// readEdit reads an edit and the revision it is for.
func readEdit(c echo.Context) (base int64, e edit.Edit, err error) {
	r, err := readBody[editRequest](c)
	if err != nil {
		return 0, nil, err
	}
	e, err = edit.Decode(r.Edit)
	return r.Base, e, err
}

func (s *Server) edit(c echo.Context) error {
	to, err := ref(c)
	if err != nil {
		return err
	}
	r, err := readBody[editRequest](c)
	if err != nil {
		return err
	}
	e, err := edit.Decode(r.Edit)
	if err != nil {
		return err
	}
	if len(r.Key) > 64 {
		return echo.NewHTTPError(http.StatusBadRequest, "the key of an edit has at most 64 letters")
	}
	ctx := c.Request().Context()
	if edit.TakesLong(e) {
		now, err := s.open(c)
		if err != nil {
			return err
		}
		made, err := s.store.Made(ctx, to.Document, r.Key)
		if err != nil {
			return err
		}
		if made {
			return c.JSON(http.StatusOK, wire.Answer{Meta: wire.NewMeta(now)})
		}
		if now.Row.Revision != r.Base {
			return store.ErrStale
		}
		w, err := s.queue.Edit(ctx, now, r.Key, e)
		if err != nil {
			return err
		}
		return c.JSON(http.StatusAccepted, map[string]int64{"work": w})
	}
	o, err := s.docs.Apply(ctx, to, r.Base, r.Key, e)
	if err != nil {
		return err
	}
	return s.answerChange(c, r.Base, o, r.Shown)
}

func (s *Server) undo(c echo.Context) error { return s.step(c, true) }
func (s *Server) redo(c echo.Context) error { return s.step(c, false) }

func (s *Server) step(c echo.Context, back bool) error {
	from, err := ref(c)
	if err != nil {
		return err
	}
	r, err := readBody[editRequest](c)
	if err != nil {
		return err
	}
	o, err := s.docs.Step(c.Request().Context(), from.Document, r.Base, back)
	if err != nil {
		return err
	}
	if seen, err := o.Through(from.Map); err == nil && !movedShells(o) { // what changed is seen from where one looks
		o = seen
	}
	return s.answerChange(c, r.Base, o, r.Shown)
}

// movedShells tells whether a document differs from the revision before in the map it is seen
// through.
func movedShells(o *workspace.Opened) bool {
	_, by, ok := o.Since()
	return !ok || !by.Map.Empty() || by.Shown != nil
}

func (s *Server) run(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	r, err := readBody[editRequest](c)
	if err != nil {
		return err
	}
	if r.Base != o.Row.Revision {
		return store.ErrStale
	}
	w, err := s.queue.Run(c.Request().Context(), workspace.Ref{Document: o.Row.ID, Map: o.Doc.State.Shown.ID}, r.Base)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusAccepted, map[string]int64{"work": w})
}

// events streams the progress of a work until it is over.
func (s *Server) events(c echo.Context) error {
	n, err := id(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	if _, err := s.store.Work(ctx, n); err != nil {
		return err
	}
	res := c.Response()
	res.Header().Set("Content-Type", "text/event-stream")
	res.Header().Set("Cache-Control", "no-store")
	for {
		w, err := s.store.Work(ctx, n)
		if err != nil {
			return nil // the browser reconnects
		}
		b, err := json.Marshal(w)
		if err != nil {
			return err
		}
		fmt.Fprintf(res, "data: %s\n\n", b)
		res.Flush()
		if w.Over() {
			return nil
		}
		select {
		case <-ctx.Done():
			return nil
		case <-s.stop:
			return nil
		case <-time.After(200 * time.Millisecond):
		}
	}
}

func (s *Server) cancel(c echo.Context) error {
	n, err := id(c)
	if err != nil {
		return err
	}
	if err := s.queue.Cancel(c.Request().Context(), n); err != nil {
		return err
	}
	return c.NoContent(http.StatusNoContent)
}
