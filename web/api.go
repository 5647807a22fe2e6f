package web

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"time"

	"github.com/labstack/echo/v4"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/seam"
	"morvek/core/unroll"
	"morvek/core/words"
	"morvek/workspace"
	"morvek/store"
)

type metaPart struct {
	Name    string  `json:"name"`
	Shape   string  `json:"shape"`
	Error   string  `json:"error"`
	Locked  bool    `json:"locked"`
	Repeats int     `json:"repeats"` // how many more are equal
	Fit     metaFit `json:"fit"`

	Projection unroll.Kind `json:"projection,omitempty"` // by which it is laid, if by one
	Grain      string      `json:"grain"`                // in words
	GrainSense bool        `json:"grain_sense,omitempty"`
	Material   string      `json:"material"`
}

// metaLabel is a label with how it reads.
type metaLabel struct {
	flow.Label
	Reads string `json:"reads"` // in words
}

type metaShell struct {
	Part    int     `json:"part"`
	Density float64 `json:"density"`
	L2      float64 `json:"l2"`
	Angular float64 `json:"angular"`
	Grain   float64 `json:"grain"`

	Straight float64 `json:"straight"`
}

// meta is what the views know about a revision besides its block.
type metaView struct {
	Revision int64       `json:"revision"`
	LastEdit string      `json:"last_edit"`
	NextEdit string      `json:"next_edit"`
	Head     int         `json:"head"`
	Saved    string      `json:"saved"`
	Unit     string      `json:"unit"`
	Size     int         `json:"size"`
	Coverage float64     `json:"coverage"`
	Density  float64     `json:"density"`
	Parts    []metaPart  `json:"parts"`
	Shells   []metaShell `json:"shells"`
	Findings [][]int32   `json:"findings"` // faces of each

	Dial  float64            `json:"dial"`
	Sides seam.Sides         `json:"sides"`
	Whole []mesh.FaceID      `json:"whole"`
	Held  []mesh.EdgeID      `json:"held"`
	Picks []document.PickSet `json:"picks"`

	Settings document.Settings `json:"settings"`

	Labels []metaLabel       `json:"labels"`
	Pins   []mesh.HalfedgeID `json:"pins"`
	Middle [3]float64        `json:"middle"` // about which the coordinates of the mesh block are
}

func newMeta(o *workspace.Opened) metaView {
	r := o.Proof()
	v := metaView{Revision: o.Row.Revision, LastEdit: o.Row.LastEdit, NextEdit: o.Row.NextEdit, Head: o.Row.Head,
		Saved: o.Row.ChangedAt.Local().Format("15:04"), Unit: o.Doc.State.Settings.Unit, Size: o.Doc.State.Settings.Sheet.Size,
		Coverage: r.Totals.Coverage, Density: r.Totals.MeanDensity, Parts: []metaPart{}, Shells: []metaShell{}, Findings: [][]int32{}}
	lo, hi := o.Doc.Mesh.Bounds()
	middle := r3.Scale(0.5, r3.Add(lo, hi))
	st := o.Doc.State
	equal := map[document.PartID]int{}
	for i := range st.Parts {
		equal[st.RepeatRoot(document.PartID(i))]++
	}
	faces := st.PartFaces()
	for i, p := range st.Parts {
		mp := metaPart{Name: p.Name, Shape: string(p.Fit.Kind), Error: words.Length(p.Fit.Error, v.Unit), Locked: p.Locked,
			Repeats: equal[st.RepeatRoot(document.PartID(i))] - 1, Fit: newMetaFit(p.Fit, middle)}
		mp.Grain, mp.GrainSense = grainWords(p.Grain), p.Grain.Sense
		mp.Material = document.MaterialOf(o.Doc.Mesh, faces[i])
		if p.Projection != nil {
			mp.Projection = p.Projection.Kind
		}
		v.Parts = append(v.Parts, mp)
	}
	w := st.Wishes
	v.Pins, v.Middle = append([]mesh.HalfedgeID{}, w.Pins...), [3]float64{middle.X, middle.Y, middle.Z}
	v.Dial, v.Sides, v.Settings = st.Settings.Dial, st.Settings.Viewed(), st.Settings
	v.Whole, v.Held, v.Picks = append([]mesh.FaceID{}, w.Whole...), append([]mesh.EdgeID{}, w.Held...), append([]document.PickSet{}, w.Picks...)
	v.Labels = []metaLabel{}
	for i, l := range w.Labels {
		v.Labels = append(v.Labels, metaLabel{l, readingWords(r.Labels[i])})
	}
	for _, s := range r.Shells {
		v.Shells = append(v.Shells, metaShell{s.Part, s.Density, s.L2, s.AngularP95, s.GrainErrDeg, s.Straight})
	}
	for _, f := range r.Findings {
		faces := make([]int32, len(f.Faces))
		for i, x := range f.Faces {
			faces[i] = int32(x)
		}
		v.Findings = append(v.Findings, faces)
	}
	return v
}

// grainWords says what the grain of a part is.
func grainWords(g flow.Grain) string {
	words, ok := map[flow.Mode]string{flow.Along: "along its axis", flow.Around: "around its axis", flow.Toward: "in one direction", flow.Walls: "along each of its walls"}[g.Mode]
	switch {
	case !ok:
		return "no grain"
	case g.Mode == flow.Toward && len(g.Path) > 0:
		words = "along picked edges"
	}
	if g.Sense {
		words += ", one way"
	}
	return words
}

// readingWords says how a label lies on the sheet.
func readingWords(l proof.LabelReading) string {
	switch {
	case l.Shells == 0:
		return "not mapped yet"
	case l.Shells > 1:
		return fmt.Sprintf("cut into %d shells", l.Shells)
	case l.Mirrored:
		return "mirrored"
	case l.Reads():
		return "reads upright"
	}
	return fmt.Sprintf("%.0f° off upright", l.OffDeg)
}

func (s *Server) meta(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, newMeta(o))
}

func (s *Server) meshBlock(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=31536000, immutable") // the address carries the hash
	return c.Blob(http.StatusOK, "application/octet-stream", encodeMesh(o.Doc.Mesh))
}

func (s *Server) layoutBlock(c echo.Context) error {
	o, err := s.open(c)
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "no-store")
	return c.Blob(http.StatusOK, "application/octet-stream", encodeLayout(o))
}

type editRequest struct {
	Base  int64           `json:"base"`
	Edit  json.RawMessage `json:"edit"`
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
	n, err := id(c)
	if err != nil {
		return err
	}
	base, e, err := readEdit(c)
	if err != nil {
		return err
	}
	if edit.TakesLong(e) {
		now, err := s.open(c)
		if err != nil {
			return err
		}
		if now.Row.Revision != base {
			return store.ErrStale
		}
		w, err := s.queue.Edit(c.Request().Context(), n, base, "", e)
		if err != nil {
			return err
		}
		return c.JSON(http.StatusAccepted, map[string]int64{"work": w})
	}
	o, err := s.docs.Apply(c.Request().Context(), n, base, "", e, nil)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, newMeta(o))
}

func (s *Server) undo(c echo.Context) error { return s.step(c, true) }
func (s *Server) redo(c echo.Context) error { return s.step(c, false) }

func (s *Server) step(c echo.Context, back bool) error {
	n, err := id(c)
	if err != nil {
		return err
	}
	r, err := readBody[editRequest](c)
	if err != nil {
		return err
	}
	o, err := s.docs.Step(c.Request().Context(), n, r.Base, back)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, newMeta(o))
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
	w, err := s.queue.Run(c.Request().Context(), o.Row.ID, r.Base)
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
