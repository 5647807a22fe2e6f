package pages

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"html/template"
	"image"
	"image/png"
	"net/http"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/report"
	"morvek/core/sheet"
	drawn "morvek/core/template"
	"morvek/store"
	"morvek/workspace"
)

// reportView is a report for people; it needs nothing beside itself.
type reportView struct {
	store.Document
	Map      document.MapHead
	Report   report.Report
	Counts   []report.Counted
	Measures []report.Measure
	Settings [][2]string
	Parts    []report.PartRow
	Open     []findingRow
	Accepted []findingRow
	Model    []pictured
	Sheet    template.URL
	Worklog  []workedRow
	Made     []delivery.File // of the last delivery
	MadeName string
	PDF      bool
	Query    string
}

type findingRow struct {
	Words, Value, Part, Reason string
	Must                       bool
}

type pictured struct {
	From string
	Data template.URL
}

type workedRow struct {
	Label string
	Times int
}

// reportPage shows what is handed over with a model as a page that prints.
func (p *Pages) reportPage(c *echo.Context) error {
	o, err := p.Open(c)
	if err != nil {
		return err
	}
	v, err := p.reportOf(c.Request().Context(), o)
	if err != nil {
		return err
	}
	if q := c.QueryString(); q != "" {
		v.Query = "?" + q
	}
	v.PDF = chromium() != ""
	return c.Render(http.StatusOK, "report.html", v)
}

func (p *Pages) reportOf(ctx context.Context, o *workspace.Opened) (v reportView, err error) {
	d := o.Doc
	r, err := report.Of(ctx, d, o.Row.FileName)
	if err != nil {
		return v, err
	}
	v = reportView{Document: o.Row, Map: d.State.Shown, Report: r, Counts: report.Counts(d), Measures: report.Measures(r.Totals, r.Model.Unit), Settings: settings(d.State.Settings)}
	v.Parts = report.PartRows(d, r.Shells)
	for _, f := range r.Findings {
		row := findingRow{Words: report.FindingWords(f.Kind), Value: report.FindingValue(f, r.Model.Unit), Reason: f.Accepted, Must: f.Must()}
		if k := slices.IndexFunc(r.Parts, func(q report.PartReport) bool { return len(f.Faces) > 0 && slices.Contains(q.Faces, f.Faces[0]) }); k >= 0 {
			row.Part = r.Parts[k].Name
		}
		if f.Accepted != "" {
			v.Accepted = append(v.Accepted, row)
		} else {
			v.Open = append(v.Open, row)
		}
	}
	if v.Model, err = modelPictures(ctx, d); err != nil {
		return v, err
	}
	if v.Sheet, err = inline(drawn.Picture(report.Template(d), drawn.Options{Size: 1200})); err != nil {
		return v, err
	}
	edits, err := p.Store.Worklog(ctx, o.Row.ID)
	if err != nil {
		return v, err
	}
	for _, e := range edits {
		if e.Seq > o.Row.Head { // taken back
			continue
		}
		if k := slices.IndexFunc(v.Worklog, func(w workedRow) bool { return w.Label == e.Label }); k >= 0 {
			v.Worklog[k].Times++
			continue
		}
		v.Worklog = append(v.Worklog, workedRow{e.Label, 1})
	}
	slices.Reverse(v.Worklog)
	made, err := p.Store.Deliveries(ctx, o.Row.ID)
	if err == nil && len(made) > 0 {
		v.MadeName = made[0].FileName
		err = json.Unmarshal(made[0].Files, &v.Made)
	}
	return v, err
}

// turned says which turns packing may use.
var turned = map[sheet.Turns]string{sheet.NoTurns: "none", sheet.HalfTurns: "half turns", sheet.QuarterTurns: "quarter turns", sheet.AnyTurns: "any"}

func settings(s document.Settings) [][2]string {
	q := s.Sheet
	size := fmt.Sprintf("%d px", q.Size)
	if q.Wide {
		size = fmt.Sprintf("%d × %d px", 2*q.Size, q.Size)
	}
	if q.Tiles > 1 {
		size += fmt.Sprintf(", %d tiles", q.Tiles)
	}
	along := "U"
	if s.GrainOnV {
		along = "V"
	}
	return [][2]string{{"unit and up", s.Unit + ", " + strings.ToUpper(string(s.Up))}, {"sheet", size}, {"between shells, to the border", fmt.Sprintf("%g px, %g px", q.Padding, q.Margin)},
		{"turns", turned[s.Turns]}, {"grain along", along}, {"creases from", fmt.Sprintf("%g°", s.CreaseDeg)}}
}

// modelPictures are those of the model from its front, its right, its back and above, half turned.
func modelPictures(ctx context.Context, d *document.Document) (out []pictured, err error) {
	up, front := d.State.Settings.Up.Vec(), d.State.Settings.Up.Front()
	right := r3.Cross(up, front)
	for _, v := range []struct {
		from string
		way  r3.Vec
	}{{"half from above", report.Half(d)}, {"front", front}, {"right", right}, {"back", r3.Scale(-1, front)}} {
		img, err := report.Portrait(ctx, d, v.way, 520)
		if err != nil {
			return nil, err
		}
		data, err := inline(img)
		if err != nil {
			return nil, err
		}
		out = append(out, pictured{v.from, data})
	}
	return out, nil
}

// inline is a picture within a page.
func inline(img image.Image) (template.URL, error) {
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		return "", err
	}
	return template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(b.Bytes())), nil
}
