package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// BVH is a bounding-volume tree over the triangles of a mesh for ray queries.
type BVH struct {
	nodes []bvhNode
	tris  [][3]r3.Vec // in leaf order: corner, edge, edge
	face  []FaceID    // face of each triangle in leaf order
}

type bvhNode struct {
	lo, hi r3.Vec
	first  int32 // leaf: first triangle; inner: index of the right child
	count  int32 // 0 for inner nodes, whose left child follows directly
}

const bvhLeaf = 4

// BVH returns the bounding-volume tree, built at first use.
func (m *Mesh) BVH() *BVH {
	m.bvhOnce.Do(func() { m.bvh = newBVH(m) })
	return m.bvh
}

func newBVH(m *Mesh) *BVH {
	t := m.Triangles()
	n := len(t.Corner)
	centre := make([]r3.Vec, n)
	order := make([]int32, n)
	for i, c := range t.Corner {
		order[i] = int32(i)
		centre[i] = r3.Scale(1./3, r3.Add(m.cornerPos(c[0]), r3.Add(m.cornerPos(c[1]), m.cornerPos(c[2]))))
	}
	b := &BVH{tris: make([][3]r3.Vec, 0, n), face: make([]FaceID, 0, n)}
	b.split(m, t, centre, order)
	return b
}

// bins is how many places a split is tried at along an axis.
const bins = 12

// split builds the subtree over order: cut where the surface area heuristic is
// least, tried at even steps along the longest side of the centres (Wald 2007).
func (b *BVH) split(m *Mesh, t *Triangulation, centre []r3.Vec, order []int32) {
	lo, hi := emptyBox()
	clo, chi := emptyBox()
	for _, i := range order {
		for _, c := range t.Corner[i] {
			lo, hi = extend(lo, hi, m.cornerPos(c))
		}
		clo, chi = extend(clo, chi, centre[i])
	}
	at := len(b.nodes)
	b.nodes = append(b.nodes, bvhNode{lo: lo, hi: hi})
	if len(order) <= bvhLeaf {
		b.nodes[at].first, b.nodes[at].count = int32(len(b.tris)), int32(len(order))
		for _, i := range order {
			p, q, r := m.cornerPos(t.Corner[i][0]), m.cornerPos(t.Corner[i][1]), m.cornerPos(t.Corner[i][2])
			b.tris = append(b.tris, [3]r3.Vec{p, r3.Sub(q, p), r3.Sub(r, p)})
			b.face = append(b.face, t.Face[i])
		}
		return
	}
	half := b.partition(m, t, centre, order, clo, chi)
	b.split(m, t, centre, order[:half])
	b.nodes[at].first = int32(len(b.nodes))
	b.split(m, t, centre, order[half:])
}

// partition reorders triangles into two halves and returns the size of the first.
func (b *BVH) partition(m *Mesh, t *Triangulation, centre []r3.Vec, order []int32, clo, chi r3.Vec) int {
	d := r3.Sub(chi, clo)
	key := func(i int32) float64 { return centre[i].X }
	from, width := clo.X, d.X
	if d.Y >= d.X && d.Y >= d.Z {
		key, from, width = func(i int32) float64 { return centre[i].Y }, clo.Y, d.Y
	} else if d.Z >= d.X {
		key, from, width = func(i int32) float64 { return centre[i].Z }, clo.Z, d.Z
	}
	if width <= 0 {
		return len(order) / 2
	}
	bin := func(i int32) int { return min(bins-1, int((key(i)-from)/width*bins)) }
	var count [bins]int
	var blo, bhi [bins]r3.Vec
	for k := range bins {
		blo[k], bhi[k] = emptyBox()
	}
	for _, i := range order {
		k := bin(i)
		count[k]++
		for _, c := range t.Corner[i] {
			blo[k], bhi[k] = extend(blo[k], bhi[k], m.cornerPos(c))
		}
	}
	var left [bins]float64 // cost of all bins up to k on one side
	lo, hi := emptyBox()
	n := 0
	for k := range bins {
		lo, hi = unite(lo, hi, blo[k], bhi[k])
		n += count[k]
		left[k] = float64(n) * boxArea(lo, hi)
	}
	lo, hi = emptyBox()
	n = 0
	best, least := bins/2, math.Inf(1)
	for k := bins - 1; k > 0; k-- {
		lo, hi = unite(lo, hi, blo[k], bhi[k])
		if n += count[k]; n == 0 || n == len(order) {
			continue
		}
		if c := left[k-1] + float64(n)*boxArea(lo, hi); c < least {
			best, least = k, c
		}
	}
	half := 0
	for j, i := range order {
		if bin(i) < best {
			order[half], order[j] = order[j], order[half]
			half++
		}
	}
	if half == 0 || half == len(order) {
		return len(order) / 2
	}
	return half
}

func emptyBox() (lo, hi r3.Vec) {
	inf := math.Inf(1)
	return r3.Vec{X: inf, Y: inf, Z: inf}, r3.Vec{X: -inf, Y: -inf, Z: -inf}
}

func unite(alo, ahi, blo, bhi r3.Vec) (lo, hi r3.Vec) {
	if blo.X > bhi.X {
		return alo, ahi
	}
	lo, hi = extend(alo, ahi, blo)
	return extend(lo, hi, bhi)
}

func boxArea(lo, hi r3.Vec) float64 {
	d := r3.Sub(hi, lo)
	if d.X < 0 {
		return 0
	}
	return d.X*d.Y + d.Y*d.Z + d.Z*d.X
}

func extend(lo, hi, p r3.Vec) (r3.Vec, r3.Vec) {
	if p.X < lo.X {
		lo.X = p.X
	}
	if p.Y < lo.Y {
		lo.Y = p.Y
	}
	if p.Z < lo.Z {
		lo.Z = p.Z
	}
	if p.X > hi.X {
		hi.X = p.X
	}
	if p.Y > hi.Y {
		hi.Y = p.Y
	}
	if p.Z > hi.Z {
		hi.Z = p.Z
	}
	return lo, hi
}

// Hit returns the first face a ray from o along d meets at a distance (in
// lengths of d) above tmin, by Möller & Trumbore 1997.
func (b *BVH) Hit(o, d r3.Vec, tmin float64) (face FaceID, t float64, ok bool) {
	best := math.Inf(1)
	b.walk(o, d, &best, func(i int32) bool {
		if s, hit := b.meet(i, o, d); hit && s > tmin && s < best {
			best, face, ok = s, b.face[i], true
		}
		return true
	})
	return face, best, ok
}

// Blocked tells whether a ray from o along d meets anything further than tmin.
func (b *BVH) Blocked(o, d r3.Vec, tmin float64) bool { return b.Blocker(o, d, tmin, None) != None }

// Blocker returns a triangle, by its place in the tree, that a ray from o along d meets further than tmin, or
// None. One that is likely, such as what blocked a ray beside it, is tried first.
func (b *BVH) Blocker(o, d r3.Vec, tmin float64, likely int32) int32 {
	if likely != None {
		if s, hit := b.meet(likely, o, d); hit && s > tmin {
			return likely
		}
	}
	far, by := math.Inf(1), int32(None)
	b.walk(o, d, &far, func(i int32) bool {
		if s, hit := b.meet(i, o, d); hit && s > tmin {
			by = i
		}
		return by == None
	})
	return by
}

// walk visits the triangles in boxes the ray enters before *far until visit returns false.
func (b *BVH) walk(o, d r3.Vec, far *float64, visit func(int32) bool) {
	inv := r3.Vec{X: 1 / d.X, Y: 1 / d.Y, Z: 1 / d.Z}
	var stack [64]int32
	top := 0
	at := int32(0)
	if !b.nodes[0].entered(o, inv, *far) {
		return
	}
	for {
		n := &b.nodes[at]
		if n.count == 0 { // only children that are entered are kept for later
			left, right := at+1, n.first
			in := b.nodes[right].entered(o, inv, *far)
			if b.nodes[left].entered(o, inv, *far) {
				if at = left; in {
					stack[top] = right
					top++
				}
				continue
			}
			if at = right; in {
				continue
			}
		} else {
			for i := n.first; i < n.first+n.count; i++ {
				if !visit(i) {
					return
				}
			}
		}
		if top == 0 {
			return
		}
		top--
		at = stack[top]
	}
}

func (n *bvhNode) entered(o, inv r3.Vec, far float64) bool {
	t0, t1 := 0.0, far
	if t0, t1 = slab(n.lo.X, n.hi.X, o.X, inv.X, t0, t1); t0 > t1 {
		return false
	}
	if t0, t1 = slab(n.lo.Y, n.hi.Y, o.Y, inv.Y, t0, t1); t0 > t1 {
		return false
	}
	t0, t1 = slab(n.lo.Z, n.hi.Z, o.Z, inv.Z, t0, t1)
	return t0 <= t1
}

// slab clips the range of a ray to one axis; NaN from 0·∞ leaves it as it was.
func slab(lo, hi, o, inv, t0, t1 float64) (float64, float64) {
	a, b := (lo-o)*inv, (hi-o)*inv
	if a > b {
		a, b = b, a
	}
	if a > t0 {
		t0 = a
	}
	if b < t1 {
		t1 = b
	}
	return t0, t1
}

func (b *BVH) meet(i int32, o, d r3.Vec) (float64, bool) {
	t := &b.tris[i]
	p := r3.Cross(d, t[2])
	det := r3.Dot(t[1], p)
	if det == 0 {
		return 0, false
	}
	inv := 1 / det
	s := r3.Sub(o, t[0])
	u := r3.Dot(s, p) * inv
	if u < 0 || u > 1 {
		return 0, false
	}
	q := r3.Cross(s, t[1])
	v := r3.Dot(d, q) * inv
	if v < 0 || u+v > 1 {
		return 0, false
	}
	return r3.Dot(t[2], q) * inv, true
}
