// Package verbs is what can be done on the bench, as tables: what each verb is called, what it is
// done to, its key, and what it does in a sentence. Trays, palette, help, tooltips and keys are
// all written from them; the browser's half (verbs.ts, by go generate) makes a verb that is in
// a table and does nothing, or the other way round, an error of its compiler.
package verbs

import (
	"fmt"
	"html/template"
	"strings"
)

//go:generate go run ./gen

// Takes is what a verb is done to.
type Takes string

const (
	Points Takes = "points"
	Edges  Takes = "edges"
	Faces  Takes = "faces"
	Shells Takes = "shells"
	Parts  Takes = "parts"
	Model  Takes = "model"  // the whole of it
	Choose Takes = "choose" // changes what is picked or chosen
	View   Takes = "view"   // changes what is seen
	Begun  Takes = "begun"  // what is shown and not taken yet
	Page   Takes = "page"
)

// Groups are what stands over the verbs of a kind, in the order of help and palette.
var Groups = []struct {
	Takes Takes  `json:"takes"`
	Says  string `json:"says"`
}{
	{Points, "Picked points"}, {Edges, "Picked edges"}, {Faces, "Picked faces"}, {Shells, "Shells"}, {Parts, "Parts"},
	{Model, "Whole model"}, {Choose, "Choosing"}, {Begun, "What is shown"}, {View, "Views"}, {Page, "Page"},
}

// Need is what must be so besides that what a verb takes is there.
type Need string

const (
	Mapped     Need = "mapped"
	Recognised Need = "recognised"
	Chosen     Need = "chosen" // a part is, or faces, or shells
	OnePart    Need = "one part"
	Several    Need = "several parts"
	Repeats    Need = "repeats"
	Picked     Need = "picked"   // something of the kind that is picked here
	Painting   Need = "painting" // the shown map is no tiling one
	Waiting    Need = "waiting"  // shells on the rack
	Label      Need = "label"
	Pins       Need = "pins"
	Finding    Need = "finding"
	Mendable   Need = "mendable" // a finding is chosen that some verb mends
)

// Verb is something that a person can do.
type Verb struct {
	Name  string   `json:"name"`
	Says  string   `json:"says"` // as buttons say
	Takes Takes    `json:"takes"`
	What  string   `json:"what"`          // it does, in a sentence
	Key   string   `json:"key,omitempty"` // as keyboards say: C, Shift+Q, Ctrl+A; a letter is told without its case
	Needs []Need   `json:"needs,omitempty"`
	Of    []string `json:"of,omitempty"`   // kinds of picks it is about: points, edges, faces, shells; none for any
	Form  bool     `json:"form,omitempty"` // it has settings, which the tray shows before it is done
	Rare  bool     `json:"rare,omitempty"` // it stands in the palette, not in the tray
}

// Set is the verbs of a station, or with no name those of all.
type Set struct {
	Station string `json:"station"`
	Verbs   []Verb `json:"verbs"`
}

// Sets are all verbs.
type Sets []Set

// Find looks a verb up by its name: at a station, then among those of all, then anywhere.
func (s Sets) Find(station, name string) (Verb, bool) {
	var found *Verb
	for _, set := range s {
		for i, v := range set.Verbs {
			if v.Name != name {
				continue
			}
			if set.Station == station {
				return v, true
			}
			if found == nil || set.Station == "" {
				found = &set.Verbs[i]
			}
		}
	}
	if found == nil {
		return Verb{}, false
	}
	return *found, true
}

// Words is what templates write verbs with: a button of one, its look told by CSS classes.
func (s Sets) Words() template.FuncMap {
	find := func(station, name string) (Verb, error) {
		v, ok := s.Find(station, name)
		if !ok {
			return v, fmt.Errorf("there is no verb %s", name)
		}
		return v, nil
	}
	return template.FuncMap{
		"find": find,
		"verb": func(station, name string, look ...string) (template.HTML, error) {
			v, err := find(station, name)
			if err != nil {
				return "", err
			}
			key := ""
			if v.Key != "" {
				key = " <kbd>" + template.HTMLEscapeString(v.Key) + "</kbd>"
			}
			return template.HTML(fmt.Sprintf(`<button class="button %s" data-do="%s" title="%s">%s%s</button>`,
				strings.Join(look, " "), v.Name, template.HTMLEscapeString(v.What), template.HTMLEscapeString(v.Says), key)), nil
		},
	}
}
