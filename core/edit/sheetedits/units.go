package sheetedits

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/planar"
)

// common is the box that holds all.
func common(list []lay.Unit) planar.Box {
	b := list[0].Box
	for _, u := range list[1:] {
		b = planar.Bounds(b.Min, b.Max, u.Box.Min, u.Box.Max)
	}
	return b
}

// put moves a unit to where somebody wants it.
func put(s *document.Tx, u lay.Unit, to func(r2.Vec) r2.Vec) {
	u.Move(s, to)
	s.Wishes.Placed = ids.With(s.Wishes.Placed, u.Lowest()[:1])
}

// shift moves a unit; those that do not move are not touched.
func shift(s *document.Tx, u lay.Unit, by r2.Vec) {
	if by != (r2.Vec{}) {
		put(s, u, func(q r2.Vec) r2.Vec { return r2.Add(q, by) })
	}
}

// usable is the part that shells may lie on of the tile nearest to the middle of a box.
func usable(s *document.State, b planar.Box) planar.Box {
	on := s.Settings.Sheet
	m, wide := on.Margin/float64(on.Size), on.TileWidth()
	at := wide * max(0, min(float64(max(1, on.Tiles)-1), math.Floor(b.Middle().X/wide)))
	return planar.Box{Min: r2.Vec{X: at + m, Y: m}, Max: r2.Vec{X: at + wide - m, Y: 1 - m}}
}
