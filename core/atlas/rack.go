package atlas

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// Rack is the place below the sheet (V < 0) where shells wait, in rows from
// left to right.
type Rack struct {
	x, y, row float64
}

const (
	rackGap = 0.02
	rackTop = 0.09 // room for the ruler and a label above it
)

// NewRack starts below whatever already waits; shells with a face that is leaving do not
// count.
func (c *Map) NewRack(leaving ...[]mesh.FaceID) *Rack {
	gone := map[mesh.FaceID]bool{}
	for _, faces := range leaving {
		for _, f := range faces {
			gone[f] = true
		}
	}
	r := &Rack{y: -rackTop}
	shells, _ := c.Shells()
	for _, sh := range shells {
		if gone[sh.Faces[0]] {
			continue
		}
		if b := c.Box(sh.Faces); b.Min.Y < 0 {
			r.y = min(r.y, b.Min.Y-rackGap)
		}
	}
	return r
}

// Put moves the coordinates of a shell to the next free place of the rack.
func (r *Rack) Put(uv []r2.Vec) {
	b := planar.Bounds(uv...)
	size := b.Size()
	if r.x > 0 && r.x+size.X > 1 {
		r.x, r.y, r.row = 0, r.y-r.row-rackGap, 0
	}
	shift := r2.Vec{X: r.x - b.Min.X, Y: r.y - b.Max.Y}
	for i := range uv {
		uv[i] = r2.Add(uv[i], shift)
	}
	r.x += size.X + rackGap
	r.row = max(r.row, size.Y)
}

// ToRack moves mapped faces to the end of the rack.
func (c *Map) ToRack(faces []mesh.FaceID) {
	r := c.NewRack(faces)
	b := c.Box(faces)
	shift := r2.Vec{X: -b.Min.X, Y: r.y - b.Max.Y}
	c.Transform(faces, func(q r2.Vec) r2.Vec { return r2.Add(q, shift) })
}
