// Package delivery puts together what is handed over with a map: meshes in every format that is
// written, templates, masks, pictures baked to the sheet, tables, all in one ZIP. The same document
// and order give the same bytes.
package delivery

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"path"
	"slices"
	"strings"

	"morvek/core/bake"
	"morvek/core/document"
	"morvek/core/report"
	"morvek/core/template"
)

// Check refuses what cannot be delivered of a document.
func (o Order) Check(d *document.Document) error {
	if err := CheckItems(o.Items); err != nil {
		return err
	}
	if o.Size != 0 && (o.Size < LeastSize || o.Size > MostSize) {
		return document.Refuse("pictures can be %d to %d px high", LeastSize, MostSize)
	}
	if !(o.Line >= 0 && o.Line <= template.MostLine) || math.IsNaN(o.Line) {
		return document.Refuse("lines can be 0 to %d px wide", template.MostLine)
	}
	for _, m := range o.Maps {
		if !slices.ContainsFunc(d.State.Maps(), func(h document.MapHead) bool { return h.ID == m }) {
			return document.Refuse("there is no map %d", m)
		}
	}
	for _, s := range o.seen(d) {
		set := s.Settings.Sheet
		across, size := set.Across(), o.size(s)
		if o.has("template") && size*size*across > bake.MostPixels || (o.has("mask") || o.has("bake")) && set.Wide && 2*size*size > bake.MostPixels {
			return document.Refuse("%s: pictures of %d tiles of %d px are too large; choose a smaller size", s.Shown.Name, across, size)
		}
	}
	return nil
}

// CheckItems refuses names of what there is not, and none.
func CheckItems(names []string) error {
	if len(names) == 0 {
		return document.Refuse("choose what is to be delivered")
	}
	all := Items()
	for _, n := range names {
		if !slices.ContainsFunc(all, func(i Item) bool { return i.Name == n }) {
			return document.Refuse("%q cannot be delivered; choose %s", n, Names())
		}
	}
	return nil
}

// Write writes what is ordered of a document as a ZIP, and in it a list of what it holds. tell, which
// may be nil, hears what is made and how far it is.
func Write(ctx context.Context, w io.Writer, d *document.Document, from Source, o Order, tell func(what string, done float64)) ([]File, error) {
	if err := o.Check(d); err != nil {
		return nil, err
	}
	if tell == nil {
		tell = func(string, float64) {}
	}
	p := &packing{ctx: ctx, z: zip.NewWriter(w), d: d, from: from, order: o, base: strings.TrimSuffix(path.Base(from.Name), path.Ext(from.Name)), seen: o.seen(d), reported: map[*document.State]report.Report{}}
	var todo []Item
	for _, i := range Items() {
		if slices.Contains(o.Items, i.Name) {
			todo = append(todo, i)
		}
	}
	for k, i := range todo {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		tell(i.Of+": "+i.Says, float64(k)/float64(len(todo)))
		p.tell = func(share float64) { tell(i.Of+": "+i.Says, (float64(k)+share)/float64(len(todo))) }
		if err := i.write(p); err != nil {
			return nil, fmt.Errorf("%s: %w", i.Name, err)
		}
	}
	list, err := json.MarshalIndent(struct {
		Model string `json:"model"`
		Order Order  `json:"order"`
		Files []File `json:"files"`
	}{from.Name, o, p.files}, "", " ")
	if err != nil {
		return nil, err
	}
	if err := p.put("delivery.json", list); err != nil {
		return nil, err
	}
	return p.files, p.z.Close()
}
