package mapedits

import (
	"context"
	"regexp"

	"morvek/core/document"
)

// Seal seals the map that is shown: it is painted, and nothing that lies on it moves any more. The
// picture is the SHA-256 of what was painted, in hexadecimal, or "" where there is none yet.
type Seal struct {
	Picture string `json:"picture,omitempty"`
}

// Kind implements Edit.
func (*Seal) Kind() string { return "seal-map" }

// Describe implements Edit.
func (*Seal) Describe() string { return "seal the map" }

var sum = regexp.MustCompile(`^[0-9a-f]{64}$`)

// Apply implements Edit.
func (e *Seal) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	switch {
	case e.Picture != "" && !sum.MatchString(e.Picture):
		return nil, document.Refuse("%.80q is not the hash of a picture", e.Picture)
	case d.State.Shown.Sealed && d.State.Shown.Picture == e.Picture:
		return nil, document.Refuse("%s is sealed already", d.State.Shown.Name)
	case !d.State.Map.AnyMapped():
		return nil, document.Refuse("nothing lies on %s yet", d.State.Shown.Name)
	}
	s := d.Begin()
	s.Shown.Sealed, s.Shown.Picture = true, e.Picture
	return s.Done(), nil
}

// Unseal lets go of the seal of the map that is shown.
type Unseal struct{}

// Kind implements Edit.
func (*Unseal) Kind() string { return "unseal-map" }

// Describe implements Edit.
func (*Unseal) Describe() string { return "unseal the map" }

// Apply implements Edit.
func (*Unseal) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if !d.State.Shown.Sealed {
		return nil, document.Refuse("%s is not sealed", d.State.Shown.Name)
	}
	s := d.Begin()
	s.Shown.Sealed, s.Shown.Picture = false, ""
	return s.Done(), nil
}
