package delivery

import (
	"fmt"
	"slices"
	"strings"

	"morvek/core/document"
)

// Order is what is wanted.
type Order struct {
	Items []string         `json:"items"`          // names of items
	Maps  []document.MapID `json:"maps"`           // of which maps; none: of all
	Size  int              `json:"size,omitempty"` // height of pictures in pixels; 0: that of the sheet
	Line  float64          `json:"line,omitempty"` // width of lines in pixels; 0: by the size
}

// LeastSize and MostSize bound the height of pictures.
const (
	LeastSize = 64
	MostSize  = 8192
)

// has tells whether something of a kind is ordered as a picture.
func (o Order) has(kind string) bool {
	return slices.ContainsFunc(o.Items, func(n string) bool { return strings.HasPrefix(n, kind+".") && n != "template.svg" })
}

// size is how high pictures of a map are.
func (o Order) size(s *document.State) int {
	if o.Size > 0 {
		return o.Size
	}
	return s.Settings.Sheet.Size
}

// seen are the maps that are ordered, each with the document seen through it, the shown one first.
func (o Order) seen(d *document.Document) (out []*document.State) {
	for _, h := range d.State.Maps() {
		if len(o.Maps) > 0 && !slices.Contains(o.Maps, h.ID) {
			continue
		}
		if s, ok := d.State.Through(h.ID); ok {
			out = append(out, s)
		}
	}
	slices.SortStableFunc(out, func(a, b *document.State) int {
		first := func(s *document.State) int {
			if s.Shown.ID == d.State.Shown.ID {
				return 0
			}
			return 1
		}
		return first(a) - first(b)
	})
	return out
}

// Suffix is what the names of files that speak of one of several maps end in.
func Suffix(s *document.State) string {
	if len(s.Maps()) == 1 {
		return ""
	}
	if w := plain(s.Shown.Name); w != "" {
		return "-" + w
	}
	return fmt.Sprintf("-map-%d", s.Shown.ID)
}

// plain is a name as part of one of a file: small letters and digits with hyphens.
func plain(name string) string {
	return strings.Join(strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return (r < 'a' || r > 'z') && (r < '0' || r > '9') }), "-")
}
