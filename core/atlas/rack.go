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
	shift := r.next(planar.Bounds(uv...))
	for i := range uv {
		uv[i] = r2.Add(uv[i], shift)
	}
}

// next takes the next free place for a box and tells the way there.
func (r *Rack) next(b planar.Box) r2.Vec {
	size := b.Size()
	if r.x > 0 && r.x+size.X > 1 {
		r.x, r.y, r.row = 0, r.y-r.row-rackGap, 0
	}
	shift := r2.Vec{X: r.x - b.Min.X, Y: r.y - b.Max.Y}
	r.x += size.X + rackGap
	r.row = max(r.row, size.Y)
	return shift
}

// ToRack moves mapped faces to the end of the rack; each list keeps its form and gets a place
// of its own.
func (c *Map) ToRack(groups ...[]mesh.FaceID) {
	r := c.NewRack(groups...)
	for _, faces := range groups {
		shift := r.next(c.Box(faces))
		c.Transform(faces, func(q r2.Vec) r2.Vec { return r2.Add(q, shift) })
	}
}
