package parts

import (
	"cmp"
	"math"
	"slices"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
)

// Kinship tells which corners of a part answer those of another one of the same kind, whose mesh is made
// alike in other sizes.
type Kinship struct {
	Corner   map[mesh.HalfedgeID]mesh.HalfedgeID
	Mirrored bool // faces run the other way round
}

// Edges pairs edges within the first part with those of the other.
func (k Kinship) Edges(m *mesh.Mesh) map[mesh.EdgeID]mesh.EdgeID {
	out := make(map[mesh.EdgeID]mesh.EdgeID, len(k.Corner))
	for h, g := range k.Corner {
		if k.Mirrored { // the halfedge between the same two places starts at the other end
			g = k.Corner[m.Next(h)]
		}
		out[m.Edge(h)] = m.Edge(g)
	}
	return out
}

const (
	kinBend  = 40 * math.Pi / 180 // an edge of kin bends by as much, but for this
	kinSteps = 400_000            // halfedges that are walked to find the best kinship
)

// role is what a halfedge is recognised by whatever its length: the corners of its face and of the one
// beyond, and which of the edges about it are the border.
type role struct {
	size, beyond         int
	border, before, next bool
}

func (w *walker) role(h mesh.HalfedgeID, mirrored bool) role {
	m := w.m
	lo, hi := m.Corners(m.FaceOf(h))
	r := role{size: int(hi - lo), border: !w.inside(h), before: !w.inside(m.Prev(h)), next: !w.inside(m.Next(h))}
	if !r.border {
		lo, hi = m.Corners(m.FaceOf(m.Twin(h)))
		r.beyond = int(hi - lo)
	}
	if mirrored {
		r.before, r.next = r.next, r.before
	}
	return r
}

// roles counts the halfedges of each role.
func (w *walker) roles(mirrored bool) map[role][]mesh.HalfedgeID {
	out := map[role][]mesh.HalfedgeID{}
	for _, f := range w.faces {
		lo, hi := w.m.Corners(f)
		for h := lo; h < hi; h++ {
			r := w.role(h, mirrored)
			out[r] = append(out[r], h)
		}
	}
	return out
}

// Family is a part whose kin is looked for.
type Family struct {
	w     *walker
	roles map[role][]mesh.HalfedgeID
}

// NewFamily prepares a part to be compared with many.
func NewFamily(m *mesh.Mesh, faces []mesh.FaceID) *Family {
	w := newWalker(m, faces)
	return &Family{w, w.roles(false)}
}

// Kin returns the kinship of the part and another one: an isomorphism of their meshes as combinatorial maps (Edmonds 1960)
// under which edges bend alike. Of several, as of round things, it is that under which sizes differ most
// evenly, and of equals that under which the parts stand alike. ok is false if there is none.
func (f *Family) Kin(b []mesh.FaceID) (best Kinship, ok bool) {
	wa, mine := f.w, f.roles
	if len(wa.faces) != len(b) || len(b) == 0 {
		return best, false
	}
	wb := newWalker(wa.m, b)
	if wa.corners != wb.corners {
		return best, false
	}
	least := kinCost{uneven: math.Inf(1)}
	for _, mirrored := range []bool{false, true} {
		theirs := wb.roles(mirrored)
		start, same := rarest(mine, theirs)
		if !same {
			continue
		}
		h := mine[start][0]
		ends := slices.Clone(theirs[start])
		stands := func(g mesh.HalfedgeID) float64 { return wa.stands(h, g, mirrored) }
		slices.SortStableFunc(ends, func(x, y mesh.HalfedgeID) int { return cmp.Compare(stands(y), stands(x)) })
		for _, g := range ends[:min(len(ends), max(4, kinSteps/wa.corners))] {
			pair, c, like := wa.kinWalk(wb, h, g, mirrored)
			if !like || !c.better(least) {
				continue
			}
			least, best, ok = c, Kinship{pair, mirrored}, true
			if c.uneven < 1e-6 && c.alike > 1-1e-6 {
				return best, true
			}
		}
	}
	return best, ok
}

// rarest is the role that fewest halfedges have; same is false if the parts have others.
func rarest(a, b map[role][]mesh.HalfedgeID) (best role, same bool) {
	if len(a) != len(b) {
		return best, false
	}
	n := math.MaxInt
	for r, list := range a {
		if len(b[r]) != len(list) {
			return best, false
		}
		if len(list) < n || len(list) == n && list[0] < a[best][0] {
			best, n = r, len(list)
		}
	}
	return best, true
}

// stands tells how alike two halfedges stand in space, from -2 to 2.
func (w *walker) stands(h, g mesh.HalfedgeID, mirrored bool) float64 {
	m := w.m
	n := m.FaceNormals()
	along := r3.Dot(r3.Unit(m.EdgeVec(h)), r3.Unit(m.EdgeVec(g)))
	if mirrored {
		along = -along
	}
	if math.IsNaN(along) {
		along = 0
	}
	return along + r3.Dot(n[m.FaceOf(h)], n[m.FaceOf(g)])
}

// kinCost is how far a kinship is from being one of equal parts that stand alike.
type kinCost struct {
	uneven float64 // mean difference of bends, radians, and spread of the logarithms of sizes
	alike  float64 // mean cosine between normals, by area
}

// evenEnough is a difference of unevenness that nobody would see.
const evenEnough = 5e-3

func (c kinCost) better(o kinCost) bool {
	if math.Abs(c.uneven-o.uneven) > evenEnough || math.IsInf(o.uneven, 1) {
		return c.uneven < o.uneven
	}
	return c.alike > o.alike+1e-9
}

// kinWalk pairs the halfedges h of w and g of b and all that follow, and tells what that costs.
func (w *walker) kinWalk(b *walker, h, g mesh.HalfedgeID, mirrored bool) (map[mesh.HalfedgeID]mesh.HalfedgeID, kinCost, bool) {
	m := w.m
	var bends, sum, squares, n float64
	pair, ok := walk(w, b, h, g, mirrored, func(h, g mesh.HalfedgeID) bool {
		if la, lb := r3.Norm(m.EdgeVec(h)), r3.Norm(m.EdgeVec(g)); la > 0 && lb > 0 {
			l := math.Log(lb / la)
			sum, squares, n = sum+l, squares+l*l, n+1
		}
		if !w.inside(h) {
			return true
		}
		d := math.Abs(m.Dihedral(m.Edge(h)) - m.Dihedral(m.Edge(g)))
		bends += d
		return d <= kinBend
	})
	if !ok || n == 0 {
		return nil, kinCost{}, false
	}
	normals, areas := m.FaceNormals(), m.FaceAreas()
	alike := 0.0
	for _, f := range w.faces {
		lo, _ := m.Corners(f)
		alike += areas[f] * r3.Dot(normals[f], normals[m.FaceOf(pair[lo])])
	}
	spread := math.Sqrt(max(0, squares/n-(sum/n)*(sum/n)))
	return pair, kinCost{bends/float64(w.corners) + 0.2*spread, alike / max(w.area, 1e-300)}, true
}

// Turned is a direction as it is in the second part where it is v in the first: the turn that brings the
// normals of one onto those of the other, by their covariance (Kabsch 1976), mirrored where they are.
func (k Kinship) Turned(m *mesh.Mesh, v r3.Vec) r3.Vec {
	normals, areas := m.FaceNormals(), m.FaceAreas()
	c := mat.NewDense(3, 3, nil)
	seen := map[mesh.FaceID]bool{}
	for h, g := range k.Corner {
		f := m.FaceOf(h)
		if seen[f] {
			continue
		}
		seen[f] = true
		a, b := normals[f], normals[m.FaceOf(g)]
		for i, x := range [3]float64{b.X, b.Y, b.Z} {
			for j, y := range [3]float64{a.X, a.Y, a.Z} {
				c.Set(i, j, c.At(i, j)+areas[f]*x*y)
			}
		}
	}
	var svd mat.SVD
	if !svd.Factorize(c, mat.SVDFull) {
		return v
	}
	var left, right, turn mat.Dense
	svd.UTo(&left)
	svd.VTo(&right)
	turn.Mul(&left, right.T())
	if (mat.Det(&turn) < 0) != k.Mirrored { // what the normals leave open, as of a flat part
		for i := range 3 {
			left.Set(i, 2, -left.At(i, 2))
		}
		turn.Mul(&left, right.T())
	}
	at := func(i int) float64 { return turn.At(i, 0)*v.X + turn.At(i, 1)*v.Y + turn.At(i, 2)*v.Z }
	return r3.Vec{X: at(0), Y: at(1), Z: at(2)}
}
