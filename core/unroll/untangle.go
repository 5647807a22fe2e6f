package unroll

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// Untangle returns those edges of a chain along which a patch has to come apart so that nothing of its map
// lies on the other; the whole chain where that does not help. What the chain separates is put together again
// along the longest and least bent borders first, unless two that overlap would be one: a multicut by greedy
// joining (after Keuper et al. 2015, with borders that must not be joined).
func Untangle(p *mesh.Patch, uv []r2.Vec, chain []mesh.EdgeID, isCut func(mesh.EdgeID) bool) []mesh.EdgeID {
	m := p.Mesh
	node := map[mesh.FaceID]int32{}
	n := 0
	for _, group := range m.Connected(p.Faces, mesh.AlsoCut(isCut, chain)) {
		for _, f := range group {
			node[f] = int32(n)
		}
		n++
	}
	apart := make([]map[int32]bool, n) // who must not come together with whom
	for i := range apart {
		apart[i] = map[int32]bool{}
	}
	at := func(tri int32) int32 { return node[p.Faces[p.TriFace[tri]]] }
	for _, o := range Overlaps(p, uv) {
		if a, b := at(o.A), at(o.B); a != b {
			apart[a][b], apart[b][a] = true, true
		}
	}
	joints := map[[2]int32]float64{}
	for _, e := range chain {
		f, g := m.EdgeFaces(e)
		if a, b := node[f], node[g]; a != b {
			joints[[2]int32{min(a, b), max(a, b)}] += m.EdgeLength(e) * math.Max(0.1, math.Cos(m.Dihedral(e)))
		}
	}
	order := make([][2]int32, 0, len(joints))
	for j := range joints {
		order = append(order, j)
	}
	slices.SortFunc(order, func(a, b [2]int32) int {
		return cmp.Or(cmp.Compare(joints[b], joints[a]), cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1]))
	})
	with := ids.NewForest(n)
	for _, j := range order {
		a, b := with.Root(j[0]), with.Root(j[1])
		if a == b || apart[a][b] {
			continue
		}
		with.Join(a, b)
		a, b = min(a, b), max(a, b)
		for c := range apart[b] {
			apart[a][c], apart[c][a] = true, true
			delete(apart[c], b)
		}
		apart[b] = nil
	}
	rest := slices.DeleteFunc(slices.Clone(chain), func(e mesh.EdgeID) bool {
		f, g := m.EdgeFaces(e)
		return with.Root(node[f]) == with.Root(node[g])
	})
	if len(rest) == 0 {
		return chain
	}
	return rest
}
