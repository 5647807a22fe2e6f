package lay

import (
	"morvek/core/document"
	"morvek/core/mesh"
)

// How says how all shells are packed; the zero value at one density, wherever they fit best.
type How struct {
	Sizes  Sizes         `json:"sizes,omitempty"`
	Blocks Blocks        `json:"blocks,omitempty"` // what lies together
	Picked []mesh.FaceID `json:"picked,omitempty"` // with blocks of what is picked: a face of each of these shells
}

// Sizes says how large packing lays shells.
type Sizes string

// The ways to size shells.
const (
	Even  Sizes = ""      // at one texel density, times the weights
	Kept  Sizes = "kept"  // as large to each other as they are
	Fixed Sizes = "fixed" // exactly as large as they are, on as few tiles as that takes
)

func (z Sizes) check() error {
	if z != Even && z != Kept && z != Fixed {
		return document.Refuse("sizes are %q or %q, or say nothing for one density; not %q", Kept, Fixed, z)
	}
	return nil
}

// Blocks says which shells packing lays together in a rectangle of their own.
type Blocks string

// The ways to group shells.
const (
	NoBlocks   Blocks = ""
	ByMaterial Blocks = "material"
	ByObject   Blocks = "object" // as the file names them, or else pieces of the mesh that hang together
	ByPick     Blocks = "picked" // those that are picked, and all others
)

func (how How) check(s *document.State) error {
	if err := how.Sizes.check(); err != nil {
		return err
	}
	switch {
	case how.Blocks != NoBlocks && how.Blocks != ByMaterial && how.Blocks != ByObject && how.Blocks != ByPick:
		return document.Refuse("shells lie together by %s, %s or %s, not by %q", ByMaterial, ByObject, ByPick, how.Blocks)
	case how.Blocks != NoBlocks && how.Sizes == Fixed:
		return document.Refuse("blocks need shells that can be scaled together; let sizes be as they are to each other")
	case how.Blocks == ByPick:
		_, err := UnitsOf(s, how.Picked)
		return err
	}
	return nil
}
