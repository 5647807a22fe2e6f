package layout

import (
	"container/heap"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// laid is a shell as it lies on the sheet, in the units of the model.
type laid struct {
	patch   *mesh.Patch
	uv      []r2.Vec // per vertex, model units at the density of the shell
	density float64  // sheet units per model unit
	border  []bool
}

// shellsAsked returns which shells are meant by a face of each, all by none; of is the
// shell of each face.
func shellsAsked(of []int32, faces []mesh.FaceID) (func(shell int) bool, error) {
	asked := map[int32]bool{}
	for _, f := range faces {
		if of[f] == mesh.None {
			return nil, refuse("face %d does not lie on the sheet; flatten it first", f)
		}
		asked[of[f]] = true
	}
	return func(shell int) bool { return len(asked) == 0 || asked[int32(shell)] }, nil
}

// patchOf takes a shell out of the mesh, apart where it is apart on the sheet.
func (s *State) patchOf(m *mesh.Mesh, shell atlas.Shell) *mesh.Patch {
	return mesh.NewPatch(m, shell.Faces, func(e mesh.EdgeID) bool { return s.Map.Ends(m, e) })
}

// lift takes a shell off the sheet.
func (s *State) lift(m *mesh.Mesh, shell atlas.Shell) laid {
	l := laid{patch: s.patchOf(m, shell), density: orOne(s.density(m, shell.Faces))}
	l.uv = s.Map.Get(l.patch)
	scaleAll(l.uv, 1/l.density)
	_, l.border = l.patch.Defects()
	return l
}

// vertices returns the vertices that corners belong to, and whether all of them lie on
// this shell.
func (l *laid) vertices(corners []mesh.HalfedgeID) (out []int32, all bool) {
	wanted := set(corners)
	found := 0
	for i, h := range l.patch.Corner {
		if wanted[h] {
			found++
			out = with(out, []int32{l.patch.CornerVert[i]})
		}
	}
	return out, found == len(wanted)
}

// falloff is how much vertices follow some of them: 1 for these, falling smoothly to 0
// at a distance along the edges of the surface.
func (l *laid) falloff(from []int32, reach float64) []float64 {
	out := make([]float64, len(l.uv))
	if !(reach > 0) {
		for _, v := range from {
			out[v] = 1
		}
		return out
	}
	near := make([][]int32, len(l.uv))
	for _, t := range l.patch.Tris {
		for k := range 3 {
			a, b := t[k], t[(k+1)%3]
			near[a], near[b] = append(near[a], b), append(near[b], a)
		}
	}
	dist := make([]float64, len(l.uv))
	for v := range dist {
		dist[v] = math.Inf(1)
	}
	var q byDistance
	for _, v := range from {
		dist[v] = 0
		heap.Push(&q, reached{0, v})
	}
	for q.Len() > 0 {
		r := heap.Pop(&q).(reached)
		if r.d > dist[r.v] {
			continue
		}
		x := 1 - (r.d/reach)*(r.d/reach)
		out[r.v] = x * x
		for _, w := range near[r.v] {
			if d := r.d + r3.Norm(r3.Sub(l.patch.Pos[w], l.patch.Pos[r.v])); d < dist[w] && d < reach {
				dist[w] = d
				heap.Push(&q, reached{d, w})
			}
		}
	}
	return out
}

type reached struct {
	d float64
	v int32
}

type byDistance []reached

func (q byDistance) Len() int { return len(q) }
func (q byDistance) Less(i, j int) bool {
	if q[i].d != q[j].d {
		return q[i].d < q[j].d
	}
	return q[i].v < q[j].v
}
func (q byDistance) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *byDistance) Push(x any)   { *q = append(*q, x.(reached)) }
func (q *byDistance) Pop() any {
	last := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return last
}

// unstacked refuses faces whose parts share their place with others.
func (s *State) unstacked(stacked func(PartID) bool, faces []mesh.FaceID) error {
	for _, p := range s.partsOf(faces) {
		if stacked(p) {
			return refuse("%s lies in a stack; take the stack apart first", s.Parts[p].Name)
		}
	}
	return nil
}

func scaled(uv []r2.Vec, by float64) []r2.Vec {
	out := slices.Clone(uv)
	scaleAll(out, by)
	return out
}
