// Package seam decides where to cut: how visible a place is, which chains make
// a closed wall lie flat, and how a shell that lands on itself is divided.
// Chains are shortest paths (Dijkstra 1959) under a cost that prefers hidden
// places; closed surfaces are opened by tree-cotree cut graphs (Eppstein 2003).
package seam

import (
	"context"
	"math"
	"runtime"
	"sync"
	"sync/atomic"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parallel"
)

// Exposure tells how visible faces are, 0 hidden to 1 open: the weighted share
// of viewing directions that reach a face without meeting the mesh. Directions
// come from all above the horizon, the front stronger; from below hardly any.
type Exposure struct {
	mesh   *mesh.Mesh
	dirs   []r3.Vec
	weight []float64
	open   float64         // weight of the best placed normal
	face   []atomic.Uint64 // bits of the value, NaN where not computed yet; several may look at once

	standOnce sync.Once
	stands    []mesh.FaceID // the face looked at in place of each
}

const (
	viewDirections = 96
	sampleBudget   = 12000 // faces looked at, on large meshes
)

// NewExposure prepares the viewing directions for a mesh, seen from its sides.
func NewExposure(m *mesh.Mesh, up Up, sides Sides) *Exposure {
	e := &Exposure{mesh: m, face: make([]atomic.Uint64, m.NumFaces())}
	for i := range e.face {
		e.face[i].Store(math.Float64bits(math.NaN()))
	}
	u, f := up.Vec(), up.Front()
	right := r3.Cross(u, f)
	golden := math.Pi * (3 - math.Sqrt(5))
	for i := range viewDirections { // spiral of even spacing over the sphere
		y := 1 - 2*(float64(i)+0.5)/viewDirections
		s, c := math.Sincos(golden * float64(i))
		r := math.Sqrt(1 - y*y)
		x, z := r*c, r*s
		d := r3.Add(r3.Add(r3.Scale(x, right), r3.Scale(z, f)), r3.Scale(y, u))
		e.dirs = append(e.dirs, d)
		e.weight = append(e.weight, sides.weight(x, y, z))
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

// Prepare computes the exposure of faces, in parallel. progress, if not nil, is
// told the share done.
func (e *Exposure) Prepare(ctx context.Context, faces []mesh.FaceID, progress func(float64)) error {
	var ask []mesh.FaceID
	seen := map[mesh.FaceID]bool{}
	for _, f := range faces {
		if r := e.stand(f); !seen[r] && math.IsNaN(e.known(r)) {
			seen[r] = true
			ask = append(ask, r)
		}
	}
	e.mesh.BVH()
	g, ctx := parallel.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	const block = 256
	var done atomic.Int64
	for lo := 0; lo < len(ask); lo += block {
		part := ask[lo:min(lo+block, len(ask))]
		g.Go(func() error {
			var blocks blockers
			for _, f := range part {
				e.set(f, e.look(f, &blocks))
			}
			if progress != nil {
				progress(float64(done.Add(int64(len(part)))) / float64(len(ask)))
			}
			return ctx.Err()
		})
	}
	return g.Wait()
}

// PrepareAll computes the exposure of every face.
func (e *Exposure) PrepareAll(ctx context.Context, progress func(float64)) error {
	all := make([]mesh.FaceID, e.mesh.NumFaces())
	for i := range all {
		all[i] = mesh.FaceID(i)
	}
	return e.Prepare(ctx, all, progress)
}

// stand returns the face that is looked at in place of f. It depends on the mesh alone, so
// values do not depend on what was asked before.
func (e *Exposure) stand(f mesh.FaceID) mesh.FaceID {
	e.standOnce.Do(func() {
		reach, turn := nearby, alike
		for n := 0; ; reach, turn = 1.15*reach, 1.15*turn {
			e.stands, n = standing(e.mesh, reach*e.mesh.Diagonal(), math.Cos(turn))
			if n <= sampleBudget || turn > unlikeTurn {
				break
			}
		}
	})
	return e.stands[f]
}

// Faces nearer than a share of the diagonal that turn less away see about the same; on large
// meshes both grow, up to faces that see something else.
const (
	nearby     = 0.01
	alike      = 15 * math.Pi / 180
	unlikeTurn = 60 * math.Pi / 180
)

// standing lets faces stand for those that hang together with them within reach and whose
// normals have this cosine with theirs at least, and counts them.
func standing(m *mesh.Mesh, reach, cos float64) (of []mesh.FaceID, n int) {
	of = make([]mesh.FaceID, m.NumFaces())
	for f := range of {
		of[f] = mesh.None
	}
	normals := m.FaceNormals()
	var queue []mesh.FaceID
	for f := range of {
		if of[f] != mesh.None {
			continue
		}
		first := mesh.FaceID(f)
		centre := m.FaceCentre(first)
		of[f], queue, n = first, append(queue[:0], first), n+1
		for k := 0; k < len(queue); k++ {
			lo, hi := m.Corners(queue[k])
			for h := lo; h < hi; h++ {
				t := m.Twin(h)
				if t == mesh.None {
					continue
				}
				g := m.FaceOf(t)
				if of[g] == mesh.None && r3.Dot(normals[g], normals[f]) > cos && r3.Norm2(r3.Sub(m.FaceCentre(g), centre)) < reach*reach {
					of[g] = first
					queue = append(queue, g)
				}
			}
		}
	}
	return of, n
}

// Values returns the exposure of every face, and false if some are not known yet.
func (e *Exposure) Values() ([]float32, bool) {
	out := make([]float32, len(e.face))
	for f := range out {
		v := e.known(e.stand(mesh.FaceID(f)))
		if math.IsNaN(v) {
			return nil, false
		}
		out[f] = float32(v)
	}
	return out, true
}

// Take takes over values that were computed before, one a face.
func (e *Exposure) Take(values []float32) {
	for f, v := range values[:min(len(values), len(e.face))] {
		e.set(mesh.FaceID(f), float64(v))
	}
}

// Face returns the exposure of a face, computing it if Prepare has not.
func (e *Exposure) Face(f mesh.FaceID) float64 {
	f = e.stand(f)
	v := e.known(f)
	if math.IsNaN(v) {
		v = e.look(f, &blockers{})
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

// blockers is what blocked each direction last, plus one, 0 for nothing: it often does so beside as well.
type blockers [viewDirections]int32

func (e *Exposure) look(f mesh.FaceID, last *blockers) float64 {
	n := e.mesh.FaceNormals()[f]
	o := r3.Add(e.mesh.FaceCentre(f), r3.Scale(1e-5*e.mesh.Diagonal(), n))
	bvh := e.mesh.BVH()
	var sum float64
	for i, d := range e.dirs {
		if r3.Dot(d, n) <= 0 {
			continue
		}
		by := bvh.Blocker(o, d, 0, last[i]-1)
		if last[i] = by + 1; by == mesh.None {
			sum += e.weight[i]
		}
	}
	// The best normal is taken from the directions, a real one may do better. Values
	// are as precise as they are stored.
	return float64(float32(min(1, sum/e.open)))
}
