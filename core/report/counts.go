package report

import (
	"morvek/core/document"
	"morvek/core/words"
)

// Counted is so many of something.
type Counted struct {
	N  int
	Of string
}

// Counts are what people budget a model by.
func Counts(d *document.Document) []Counted {
	m := d.Source
	_, pieces := m.Components()
	var maps int // that something lies on
	for _, h := range d.State.Maps() {
		if s, ok := d.State.Through(h.ID); ok && s.Map.AnyMapped() {
			maps++
		}
	}
	of := func(n int, word string) Counted { return Counted{n, words.Plural(n, word)} }
	return []Counted{of(m.NumFaces(), "face"), of(len(m.Triangles().Corner), "triangle"), of(m.NumPoints(), "point"), of(pieces, "loose piece"),
		of(len(m.Objects), "object"), of(len(m.Materials), "material"), of(maps, "map")}
}
