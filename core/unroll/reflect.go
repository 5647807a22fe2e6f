package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Mirrored is the projection that makes of the mirror image of faces the mirror image of what this one
// makes of them: U becomes −U, which still faces up. image is where a place comes to lie in the plane.
func (pr *Projection) Mirrored(image func(r3.Vec) r3.Vec) Projection {
	turned := func(v r3.Vec) r3.Vec { return r3.Sub(image(v), image(r3.Vec{})) }
	out := *pr
	out.Origin, out.Axis, out.Up, out.Pitch = image(pr.Origin), turned(pr.Axis), turned(pr.Up), -pr.Pitch
	// Where the turn is counted from may be a direction of the world, which has no image.
	side, from, axis := turned(pr.frame().v), out.Reference(), out.frame().axis
	out.TurnDeg = math.Atan2(r3.Dot(r3.Cross(from, side), mesh.Unit(axis)), r3.Dot(from, side)) * 180 / math.Pi
	return out
}
