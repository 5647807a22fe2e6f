// Package revise brings a map over to the next revision of a model. Faces are told by where they are,
// whatever their numbers: those that are the same keep their coordinates to the bit; of what moved
// rigidly, and of what was cut into other faces on the same surface, every place keeps its own; the
// rest is new. What is new is laid where there is room.
package revise

import (
	"context"
	"encoding/binary"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/mesh"
)

// Kind is what became of a face.
type Kind uint8

// What a face of a revised model can be.
const (
	New      Kind = iota
	Kept          // the same face in the same place
	Moved         // the same face, moved rigidly with what hangs together with it
	Remeshed      // it lies on faces of the model before
	Mirrored      // the same face, mirrored with what hangs together with it: it is laid anew, as was said of it
)

// Lies tells whether a face lies where one lay.
func (k Kind) Lies() bool { return k == Kept || k == Moved || k == Remeshed }

// Match tells what each face of a revised model is of the model before.
type Match struct {
	Kind []Kind
	Of   []mesh.FaceID // the face it is, or that its middle lies on; None where it is new
	UV   []r2.Vec      // of each corner, where its face lies where one lay

	Corner []mesh.HalfedgeID // of before that each corner is, None where its face is not the same one
}

// Count is how many faces are of a kind.
func (m Match) Count(k Kind) (n int) {
	for _, x := range m.Kind {
		if x == k {
			n++
		}
	}
	return n
}

// leastCommon is the share of its area that a revision has in common with the model before, at least.
const leastCommon = 0.02

// Check refuses a model that has next to nothing in common with the one before, of that name.
func (m Match) Check(now *mesh.Mesh, before string) error {
	if m.common(now) < leastCommon {
		return document.Refuse("this has nothing in common with %s; is it another model, or in another unit?", before)
	}
	return nil
}

// common is the share of the area of the revised mesh that was there before.
func (m Match) common(now *mesh.Mesh) float64 {
	there, all := 0.0, 0.0
	for f, a := range now.FaceAreas() {
		if all += a; m.Kind[f] != New {
			there += a
		}
	}
	if all == 0 {
		return 0
	}
	return there / all
}

// same is how far places may lie apart and be one, as a share of the diagonal.
const same = 1e-7

// matcher compares two meshes.
type matcher struct {
	old, now *mesh.Mesh
	on       *atlas.Map // of the old one
	shell    []int32    // of each face of the old one
	tol      float64
	was, is  []int32  // number of the place of each point, of both meshes
	taken    []bool   // faces of the old one that were found again
	motions  []motion // that were found
	out      Match
}

// Compare finds what a revised mesh is of the one before, on a map of that.
func Compare(ctx context.Context, on *atlas.Map, now *mesh.Mesh) (Match, error) {
	old := on.Mesh()
	_, shell := on.Shells()
	m := &matcher{old: old, now: now, on: on, shell: shell, tol: same * old.Diagonal(), taken: make([]bool, old.NumFaces())}
	m.out = Match{Kind: make([]Kind, now.NumFaces()), Of: make([]mesh.FaceID, now.NumFaces()), UV: make([]r2.Vec, now.NumCorners())}
	for f := range m.out.Of {
		m.out.Of[f] = mesh.None
	}
	m.out.Corner = slices.Repeat([]mesh.HalfedgeID{mesh.None}, now.NumCorners())
	m.places()
	m.kept()
	for _, step := range []func(context.Context) error{m.moved, m.remeshed, m.mirrored} {
		if err := step(ctx); err != nil {
			return Match{}, err
		}
	}
	return m.out, nil
}

// places numbers the places of all points: points of both meshes that lie within the tolerance are
// one.
func (m *matcher) places() {
	cell := 4 * m.tol
	at := map[[3]int64][]int32{}
	var all []r3.Vec
	key := func(p r3.Vec) [3]int64 {
		return [3]int64{int64(math.Floor(p.X / cell)), int64(math.Floor(p.Y / cell)), int64(math.Floor(p.Z / cell))}
	}
	number := func(p r3.Vec) int32 {
		k := key(p)
		for dx := int64(-1); dx <= 1; dx++ {
			for dy := int64(-1); dy <= 1; dy++ {
				for dz := int64(-1); dz <= 1; dz++ {
					for _, i := range at[[3]int64{k[0] + dx, k[1] + dy, k[2] + dz}] {
						if r3.Norm(r3.Sub(all[i], p)) <= m.tol {
							return i
						}
					}
				}
			}
		}
		n := int32(len(all))
		all = append(all, p)
		at[k] = append(at[k], n)
		return n
	}
	for _, p := range m.old.Points {
		m.was = append(m.was, number(p))
	}
	for _, p := range m.now.Points {
		m.is = append(m.is, number(p))
	}
}

// ring is a face as the numbers of its places from the least on, and which corner that is; faces that
// are turned are the same, those that are turned over are not.
func ring(m *mesh.Mesh, f mesh.FaceID, place []int32) (key string, first int) {
	pts := m.FacePoints(f)
	n := len(pts)
	at := func(start, k int) int32 { return place[pts[(start+k)%n]] }
	for s := 1; s < n; s++ {
		for k := range n {
			if a, b := at(s, k), at(first, k); a != b {
				if a < b {
					first = s
				}
				break
			}
		}
	}
	b := make([]byte, 0, 4*n)
	for k := range n {
		b = binary.LittleEndian.AppendUint32(b, uint32(at(first, k)))
	}
	return string(b), first
}

// take notes that a face is one of before, the corner from of which is the corner first.
func (m *matcher) take(f, of mesh.FaceID, first, from int, k Kind) {
	lo, hi := m.now.Corners(f)
	was, _ := m.old.Corners(of)
	n := int(hi - lo)
	if k == Mirrored { // round the other way
		for i := range n {
			m.out.Corner[int(lo)+(first-i+n)%n] = was + mesh.HalfedgeID((from+i)%n)
		}
		n = 0
	}
	for i := range n {
		is, of := int(lo)+(first+i)%n, was+mesh.HalfedgeID((from+i)%n)
		m.out.UV[is], m.out.Corner[is] = m.on.At(of), of
	}
	m.out.Kind[f], m.out.Of[f] = k, of
	m.taken[of] = true
}

// kept finds the faces that are where they were.
func (m *matcher) kept() {
	type seat struct {
		f     mesh.FaceID
		first int
	}
	there := map[string][]seat{}
	for f := range mesh.FaceID(m.old.NumFaces()) {
		k, first := ring(m.old, f, m.was)
		there[k] = append(there[k], seat{f, first})
	}
	for f := range mesh.FaceID(m.now.NumFaces()) {
		k, first := ring(m.now, f, m.is)
		if list := there[k]; len(list) > 0 {
			m.take(f, list[0].f, first, list[0].first, Kept)
			there[k] = list[1:]
		}
	}
}

// sides is a face as the lengths of its sides and its area, from any corner on: equal faces have
// equal ones.
func (m *matcher) sides(of *mesh.Mesh, f mesh.FaceID) string {
	lo, hi := of.Corners(f)
	var all []uint64
	step := 100 * m.tol
	for h := lo; h < hi; h++ {
		all = append(all, uint64(math.Round(r3.Norm(of.EdgeVec(h))/step)))
	}
	slices.Sort(all)
	var b []byte
	for _, v := range all {
		b = binary.LittleEndian.AppendUint64(b, v)
	}
	return string(b)
}
