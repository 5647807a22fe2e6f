// Package seam decides where to cut: how visible a place is, which chains make
// a closed wall lie flat, and how a shell that lands on itself is divided.
// Chains are shortest paths (Dijkstra 1959) under a cost that prefers hidden
// places; closed surfaces are opened by tree-cotree cut graphs (Eppstein 2003).
package seam

import (
	"context"
	"math"
	"runtime"
	"sync/atomic"

	"golang.org/x/sync/errgroup"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Up names the axis that points up in the model.
type Up string

// The ways up.
const (
	UpY Up = "y"
	UpZ Up = "z"
)

// Vec returns the up direction; Front the side people look at first.
func (u Up) Vec() r3.Vec {
	if u == UpZ {
		return r3.Vec{Z: 1}
	}
	return r3.Vec{Y: 1}
}

// Front returns the direction towards the viewer's usual side.
func (u Up) Front() r3.Vec {
	if u == UpZ {
		return r3.Vec{Y: -1}
	}
	return r3.Vec{Z: 1}
}

// Exposure tells how visible faces are, 0 hidden to 1 open: the weighted share
// of viewing directions that reach a face without meeting the mesh. Directions
// come from all above the horizon, the front stronger; from below hardly any.
type Exposure struct {
	mesh   *mesh.Mesh
	dirs   []r3.Vec
	weight []float64
	open   float64         // weight of the best placed normal
	face   []atomic.Uint64 // bits of the value, NaN where not computed yet; several may look at once
}

const (
	viewDirections = 96
	sampleBudget   = 12000 // faces looked at; the others take their neighbour's value
)

// NewExposure prepares the viewing directions for a mesh.
func NewExposure(m *mesh.Mesh, up Up) *Exposure {
	e := &Exposure{mesh: m, face: make([]atomic.Uint64, m.NumFaces())}
	for i := range e.face {
		e.face[i].Store(math.Float64bits(math.NaN()))
	}
	u, f := up.Vec(), up.Front()
	golden := math.Pi * (3 - math.Sqrt(5))
	for i := range viewDirections { // spiral of even spacing over the sphere
		y := 1 - 2*(float64(i)+0.5)/viewDirections
		s, c := math.Sincos(golden * float64(i))
		r := math.Sqrt(1 - y*y)
		side := r3.Cross(u, f)
		d := r3.Add(r3.Add(r3.Scale(r*c, side), r3.Scale(r*s, f)), r3.Scale(y, u))
		w := 1 + 0.6*r3.Dot(d, f)
		if y < -0.15 {
			w *= 0.05
		}
		e.dirs = append(e.dirs, d)
		e.weight = append(e.weight, w)
	}
	for _, n := range e.dirs {
		e.open = max(e.open, e.facing(n))
	}
	return e
}

func (e *Exposure) facing(n r3.Vec) (sum float64) {
	for i, d := range e.dirs {
		if r3.Dot(d, n) > 0 {
			sum += e.weight[i]
		}
	}
	return sum
}

// Prepare computes the exposure of faces, in parallel. Where there are more
// than the budget allows, evenly spread samples stand for their neighbours.
func (e *Exposure) Prepare(ctx context.Context, faces []mesh.FaceID) error {
	stride := (len(faces) + sampleBudget - 1) / sampleBudget
	if stride == 0 {
		return nil
	}
	var sample []mesh.FaceID
	for i := 0; i < len(faces); i += stride {
		if math.IsNaN(e.known(faces[i])) {
			sample = append(sample, faces[i])
		}
	}
	e.mesh.BVH()
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	const block = 256
	for lo := 0; lo < len(sample); lo += block {
		part := sample[lo:min(lo+block, len(sample))]
		g.Go(func() error {
			for _, f := range part {
				e.set(f, e.look(f))
			}
			return ctx.Err()
		})
	}
	if err := g.Wait(); err != nil {
		return err
	}
	if stride > 1 {
		e.spread(faces, sample)
	}
	return nil
}

// spread hands values on from face to face, breadth first.
func (e *Exposure) spread(faces, from []mesh.FaceID) {
	wanted := make(map[mesh.FaceID]bool, len(faces))
	for _, f := range faces {
		wanted[f] = true
	}
	queue := append([]mesh.FaceID(nil), from...)
	for len(queue) > 0 {
		f := queue[0]
		queue = queue[1:]
		lo, hi := e.mesh.Corners(f)
		for h := lo; h < hi; h++ {
			t := e.mesh.Twin(h)
			if t == mesh.None {
				continue
			}
			if g := e.mesh.FaceOf(t); wanted[g] && math.IsNaN(e.known(g)) {
				e.set(g, e.known(f))
				queue = append(queue, g)
			}
		}
	}
}

// Face returns the exposure of a face, computing it if Prepare has not.
func (e *Exposure) Face(f mesh.FaceID) float64 {
	v := e.known(f)
	if math.IsNaN(v) {
		v = e.look(f)
		e.set(f, v)
	}
	return v
}

func (e *Exposure) known(f mesh.FaceID) float64  { return math.Float64frombits(e.face[f].Load()) }
func (e *Exposure) set(f mesh.FaceID, v float64) { e.face[f].Store(math.Float64bits(v)) }

// Edge returns the exposure of an edge: the mean of its faces.
func (e *Exposure) Edge(id mesh.EdgeID) float64 {
	a, b := e.mesh.EdgeFaces(id)
	if b == mesh.None {
		return e.Face(a)
	}
	return (e.Face(a) + e.Face(b)) / 2
}

func (e *Exposure) look(f mesh.FaceID) float64 {
	n := e.mesh.FaceNormals()[f]
	o := r3.Add(e.mesh.FaceCentre(f), r3.Scale(1e-5*e.mesh.Diagonal(), n))
	bvh := e.mesh.BVH()
	var sum float64
	for i, d := range e.dirs {
		if r3.Dot(d, n) > 0 && !bvh.Blocked(o, d, 0) {
			sum += e.weight[i]
		}
	}
	return min(1, sum/e.open) // the best normal is taken from the directions, a real one may do better
}
