package document

import (
	"strings"
	"unicode/utf8"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// MapID numbers the maps of a document, from 1.
type MapID int32

// Purpose is what a map is for.
type Purpose string

// The purposes of maps.
const (
	Unique Purpose = "unique" // for painting and baking: every place of the model has its own on the sheet
	Tiling Purpose = "tiling" // for patterns that repeat: shells may lie on each other and leave the square
)

// Purposes are all of them, the usual one first.
var Purposes = []Purpose{Unique, Tiling}

// MapHead says which map it is.
type MapHead struct {
	ID      MapID   `json:"id"`
	Name    string  `json:"name"`
	Purpose Purpose `json:"purpose"`

	Sealed  bool   `json:"sealed,omitempty"`  // it is painted: what lies on it does not move
	Picture string `json:"picture,omitempty"` // SHA-256 of what it was sealed with, "" for nothing
}

// firstMap is the map of a document that has one, and of all that were stored before there
// could be several.
var firstMap = MapHead{ID: 1, Name: "Map 1", Purpose: Unique}

// mostMaps bounds the maps of a document: each takes as much memory as the first.
const mostMaps = 12

// longestMapName bounds the name of a map, in letters.
const longestMapName = 60

// Check refuses names and purposes that cannot be, in words.
func (h MapHead) Check() error {
	switch {
	case strings.TrimSpace(h.Name) == "":
		return Refuse("a map needs a name")
	case utf8.RuneCountInString(h.Name) > longestMapName:
		return Refuse("the name of a map has at most %d letters", longestMapName)
	case strings.ContainsFunc(h.Name, func(r rune) bool { return r < ' ' }):
		return Refuse("the name of a map is one line without control characters")
	case h.Purpose != Unique && h.Purpose != Tiling:
		return Refuse("a map is %s or %s, not %q", Unique, Tiling, h.Purpose)
	}
	return nil
}

// away is a map that a state is not seen through at the moment. It is shared, and not changed.
type away struct {
	AwayHead
	Marks
	Lays []Lay // of parts by number; the last says something, of those beyond it nothing is said
	Map  *atlas.Map
}

func (a *away) lay(p int) Lay {
	if p >= len(a.Lays) {
		return Lay{}
	}
	return a.Lays[p]
}

// AwayHead is what such a map is and what it is made for.
type AwayHead struct {
	MapHead
	OnSheet
}

// with returns the map with another lay of some parts.
func (a *away) with(lays map[PartID]Lay) *away {
	out := *a
	out.Lays = append([]Lay{}, a.Lays...)
	for p, l := range lays {
		for len(out.Lays) <= int(p) {
			out.Lays = append(out.Lays, Lay{})
		}
		out.Lays[p] = l
	}
	out.Lays = trimmed(out.Lays)
	return &out
}

func trimmed(lays []Lay) []Lay {
	for n := len(lays); n > 0 && lays[n-1].same(Lay{}); n-- {
		lays = lays[:n-1]
	}
	return lays
}

// blank is a map on which nothing lies and nothing is cut.
func blank(m *mesh.Mesh) *atlas.Map { return atlas.New(m).Freeze() }
