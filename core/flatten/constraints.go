package flatten

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
)

// ErrConflict is returned for constraints that cannot all hold.
var ErrConflict = errors.New("these constraints contradict each other")

// Constraints are what a map keeps exactly. The zero value keeps nothing.
type Constraints struct {
	Pins   []Pin
	ShareU [][]int32 // vertices that get one U
	ShareV [][]int32 // vertices that get one V
	Only   Axis      // vertices move along this axis alone
	// Give is how freely each vertex moves away from where it starts: 0 not at all, 1
	// freely; nil lets all go.
	Give []float64
}

// Pin holds a vertex at a place, in the units of the map.
type Pin struct {
	Vertex int32
	At     r2.Vec
}

// Axis is an axis of the sheet, or both.
type Axis int8

// The axes along which vertices may move.
const (
	Both Axis = iota
	OnlyU
	OnlyV
)

// none reports whether nothing is to be kept.
func (c *Constraints) none() bool {
	return len(c.Pins)+len(c.ShareU)+len(c.ShareV) == 0 && c.Only == Both && c.Give == nil
}

// reduced numbers the coordinates that are free: those that share a value have one
// unknown, those that are held have none and a value.
type reduced struct {
	index []int32
	value []float64
	free  int
}

const held = -1

// reduce returns the free coordinates of both axes, for vertices that start somewhere.
func (c *Constraints) reduce(start []r2.Vec) (r [2]reduced, err error) {
	for axis, groups := range [2][][]int32{c.ShareU, c.ShareV} {
		if r[axis], err = c.axis(axis, groups, start); err != nil {
			return r, err
		}
	}
	return r, nil
}

func coordinate(q r2.Vec, axis int) float64 {
	if axis == 0 {
		return q.X
	}
	return q.Y
}

func (c *Constraints) axis(axis int, groups [][]int32, start []r2.Vec) (reduced, error) {
	n := len(start)
	one := ids.NewForest(n)
	for _, g := range groups {
		for _, v := range g {
			if v < 0 || int(v) >= n {
				return reduced{}, fmt.Errorf("%w: there is no vertex %d", ErrConflict, v)
			}
			one.Join(g[0], v)
		}
	}
	var size float64
	for _, q := range start {
		size = max(size, math.Abs(coordinate(q, axis)))
	}
	r := reduced{index: make([]int32, n), value: make([]float64, n)}
	fixed := make([]bool, n) // by root
	fix := func(v int32, to float64) error {
		k := one.Root(v)
		if fixed[k] && math.Abs(r.value[k]-to) > 1e-9*max(size, math.Abs(to)) {
			return fmt.Errorf("%w: a point is held at %s %.6g and at %.6g", ErrConflict, [2]string{"U", "V"}[axis], r.value[k], to)
		}
		if !fixed[k] {
			fixed[k], r.value[k] = true, to
		}
		return nil
	}
	for _, p := range c.Pins {
		if p.Vertex < 0 || int(p.Vertex) >= n || math.IsNaN(p.At.X+p.At.Y) || math.IsInf(p.At.X+p.At.Y, 0) {
			return reduced{}, fmt.Errorf("%w: vertex %d cannot be pinned at %g, %g", ErrConflict, p.Vertex, p.At.X, p.At.Y)
		}
		if err := fix(p.Vertex, coordinate(p.At, axis)); err != nil {
			return reduced{}, err
		}
	}
	for v := range start {
		still := c.Only == OnlyV && axis == 0 || c.Only == OnlyU && axis == 1 || c.Give != nil && c.Give[v] <= 0
		// A pin says where to; what else is held stays.
		if still && !fixed[one.Root(int32(v))] {
			if err := fix(int32(v), coordinate(start[v], axis)); err != nil {
				return reduced{}, err
			}
		}
	}
	number := make([]int32, n)
	for v := range start {
		k := one.Root(int32(v))
		switch {
		case fixed[k]:
			r.index[v], r.value[v] = held, r.value[k]
		case int(k) == v: // roots come first
			number[v] = int32(r.free)
			r.index[v] = number[v]
			r.free++
		default:
			r.index[v] = number[k]
		}
	}
	return r, nil
}

// interleave numbers the coordinates of both axes together, U and V of each vertex side
// by side.
func interleave(r [2]reduced) reduced {
	n := len(r[0].index)
	out := reduced{index: make([]int32, 2*n), value: make([]float64, 2*n), free: r[0].free + r[1].free}
	// Unknowns are numbered anew in the order in which they turn up, so that what
	// belongs to one vertex lies together.
	place := make([]int32, out.free)
	for i := range place {
		place[i] = held
	}
	var next int32
	for v := range n {
		for axis := range 2 {
			i := r[axis].index[v]
			out.value[2*v+axis] = r[axis].value[v]
			if i == held {
				out.index[2*v+axis] = held
				continue
			}
			if axis == 1 {
				i += int32(r[0].free)
			}
			if place[i] == held {
				place[i] = next
				next++
			}
			out.index[2*v+axis] = place[i]
		}
	}
	return out
}

// snapped puts each coordinate of a map where the constraints have it, shared ones at
// their mean; kept tells whether it lay there already.
func snapped(r [2]reduced, uv []r2.Vec) (out []r2.Vec, kept bool) {
	out, kept = make([]r2.Vec, len(uv)), true
	var x [2][]float64
	for axis := range r {
		first, sum, count := make([]float64, r[axis].free), make([]float64, r[axis].free), make([]float64, r[axis].free)
		apart := make([]bool, r[axis].free)
		for v, k := range r[axis].index {
			if k < 0 {
				continue
			}
			c := coordinate(uv[v], axis)
			if count[k] == 0 {
				first[k] = c
			}
			apart[k] = apart[k] || c != first[k]
			sum[k] += c
			count[k]++
		}
		for k := range first { // what is equal stays so to the last bit
			if apart[k] {
				first[k] = sum[k] / count[k]
			}
		}
		x[axis] = first
	}
	for v := range uv {
		out[v] = r2.Vec{X: r[0].at(x[0], v), Y: r[1].at(x[1], v)}
		kept = kept && out[v] == uv[v]
	}
	return out, kept
}

// at returns a coordinate of a solution.
func (r *reduced) at(x []float64, i int) float64 {
	if k := r.index[i]; k >= 0 {
		return x[k]
	}
	return r.value[i]
}

// same tells whether two axes leave the same unknowns free.
func (r *reduced) same(o *reduced) bool {
	if r.free != o.free {
		return false
	}
	for i, k := range r.index {
		if o.index[i] != k {
			return false
		}
	}
	return true
}

// springs are how strongly each vertex is drawn to where it started, in the units of
// the stiffness of the surface; nil for none.
func (c *Constraints) springs(stiffness float64) []float64 {
	if c.Give == nil {
		return nil
	}
	k := make([]float64, len(c.Give))
	for v, g := range c.Give {
		if g > 0 && g < 1 {
			k[v] = stiffness * (1 - g) / g
		}
	}
	return k
}
