// Package practice is what a workshop agreed on, as a file: how sheets are, which way grain runs in
// which material, where openings go. It is written from a document and taken over by the next.
package practice

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"morvek/core/document"
	"morvek/core/seam"
	"morvek/core/words"
)

// Version names the form of the file.
const Version = "1"

// MostBytes bounds a file.
const MostBytes = 1 << 20

// Schema is the JSON Schema (2020-12) of the file.
//
//go:embed schema.json
var Schema []byte

// Practice is what was agreed on. What is left out stays as it is.
type Practice struct {
	Version string `json:"practice"`
	Name    string `json:"name,omitempty"`

	Sheet     *document.OnSheet `json:"sheet,omitempty"`
	Up        *seam.Up          `json:"up,omitempty"`
	CreaseDeg *float64          `json:"crease_deg,omitempty"`
	Dial      *float64          `json:"dial,omitempty"`      // 0 fewer pieces … 1 less stretch
	Finer     *float64          `json:"finer,omitempty"`     // parts are read so much finer than usual
	Undivided *bool             `json:"undivided,omitempty"` // no shell is divided for the sheet's sake
	Sides     *seam.Sides       `json:"sides,omitempty"`     // from where it is looked at: openings go to the other sides
	PxPerM    *float64          `json:"px_per_metre,omitempty"`

	Grain   []document.MaterialGrain `json:"grain,omitempty"`   // of materials, by name
	Deliver []string                 `json:"deliver,omitempty"` // what is handed over
}

// Of is the practice of a document, seen through a map. Grain along picked edges means nothing on
// another mesh and is left out.
func Of(d *document.Document, name string) Practice {
	s := d.State.Settings
	sides := s.Viewed()
	p := Practice{Version: Version, Name: name, Sheet: &s.OnSheet, Up: &s.Up, CreaseDeg: &s.CreaseDeg, Dial: &s.Dial, Finer: &s.Finer, Undivided: &s.Undivided, Sides: &sides}
	for _, g := range d.State.Wishes.Grains {
		if g.Of != document.GrainChain {
			g.Edges = nil
			p.Grain = append(p.Grain, g)
		}
	}
	return p
}

// Write writes the file.
func (p Practice) Write(w io.Writer) error {
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(p)
}

// Read reads a file; what cannot be is refused in words, with the place.
func Read(data []byte) (p Practice, err error) {
	if len(data) > MostBytes {
		return p, document.Refuse("a practice file of %d MB is none", len(data)>>20)
	}
	var head struct {
		Version *string `json:"practice"`
	}
	if err := json.Unmarshal(data, &head); err != nil {
		return p, document.Refuse("this is no practice file: %s", said(data, err))
	}
	switch {
	case head.Version == nil:
		return p, document.Refuse(`this is no practice file: it does not begin with "practice": %q`, Version)
	case *head.Version != Version:
		return p, document.Refuse("this practice file has version %.20q; this program knows %q: write it anew from a document", *head.Version, Version)
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return p, document.Refuse("the practice file cannot be read: %s", said(data, err))
	}
	if _, err := p.Settings(document.DefaultSettings()); err != nil {
		return p, err
	}
	if p.PxPerM != nil && !(*p.PxPerM > 0 && *p.PxPerM < 1e9) {
		return p, document.Refuse("a density of %g px per metre is not possible", *p.PxPerM)
	}
	for i, g := range p.Grain {
		if g.Of == document.GrainChain || len(g.Edges) > 0 {
			return p, document.Refuse("the grain of %q follows edges of one mesh; choose along, around, loops, toward or none", g.Material)
		}
		if !slices.Contains(ways, g.Of) {
			return p, document.Refuse("the grain of %q cannot be %q; choose along, around, loops, toward, none or shape", g.Material, g.Of)
		}
		if slices.ContainsFunc(p.Grain[:i], func(h document.MaterialGrain) bool { return h.Material == g.Material }) {
			return p, document.Refuse("the grain of %q is given twice", g.Material)
		}
	}
	return p, nil
}

// ways are the grains that mean something on any mesh.
var ways = []document.GrainOf{document.GrainByShape, document.GrainNone, document.GrainAlong, document.GrainAround, document.GrainLoops, document.GrainToward}

// said is an error of JSON with its line.
func said(data []byte, err error) string {
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	at := int64(-1)
	text := strings.TrimPrefix(err.Error(), "json: ")
	switch {
	case errors.As(err, &syntax):
		at, text = syntax.Offset, syntax.Error()
	case errors.As(err, &kind):
		at, text = kind.Offset, fmt.Sprintf("%s cannot be a %s", kind.Field, kind.Value)
	}
	if at < 0 || at > int64(len(data)) {
		return text
	}
	return fmt.Sprintf("line %d: %s", 1+bytes.Count(data[:at], []byte("\n")), text)
}

// Settings are settings as was agreed on; what does not go together is refused.
func (p Practice) Settings(s document.Settings) (document.Settings, error) {
	if p.Sheet != nil {
		s.OnSheet = *p.Sheet
	}
	set(&s.Up, p.Up)
	set(&s.CreaseDeg, p.CreaseDeg)
	set(&s.Dial, p.Dial)
	set(&s.Finer, p.Finer)
	set(&s.Undivided, p.Undivided)
	set(&s.Sides, p.Sides)
	return s, s.Check()
}

func set[T any](to *T, from *T) {
	if from != nil {
		*to = *from
	}
}

// On is a document with the settings and the grain of its materials as was agreed on; nothing that is
// laid moves. Parts that are read later take their grain from there.
func (p Practice) On(d *document.Document) (*document.State, error) {
	set, err := p.Settings(d.State.Settings)
	if err != nil {
		return nil, err
	}
	s := d.Begin()
	s.Settings = set
	p.grain(s, d.Mesh.Materials)
	return s.Done(), nil
}

// Grained is a document with the grain of its materials as was agreed on, and its own settings.
func (p Practice) Grained(d *document.Document) *document.State {
	s := d.Begin()
	p.grain(s, d.Mesh.Materials)
	return s.Done()
}

// grain sets that of the materials there are.
func (p Practice) grain(s *document.Tx, materials []string) {
	grains := slices.Clone(s.Wishes.Grains)
	for _, g := range p.Grain {
		if !slices.Contains(materials, g.Material) {
			continue
		}
		grains = slices.DeleteFunc(grains, func(h document.MaterialGrain) bool { return h.Material == g.Material })
		if g.Of != document.GrainByShape {
			grains = append(grains, g)
		}
	}
	if len(grains) == 0 {
		grains = nil // as it is read back
	}
	s.Wishes.Grains = grains
}

// Density is the one that was agreed on, in pixels per unit of a model; ok is false for none.
func (p Practice) Density(unit string) (px float64, ok bool) {
	if p.PxPerM == nil {
		return 0, false
	}
	return *p.PxPerM * words.Convert(1, unit, "m"), true
}
