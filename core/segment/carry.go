package segment

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/words"
)

// Carried is a seam over which a pattern goes on.
type Carried struct {
	From, To mesh.FaceID
	Edges    []mesh.EdgeID
	Length   float64 // of the seam, model units
	Offset   float64 // largest distance of twins that is left, tiles
	Closing  bool    // the pattern came to both shells another way
}

// seamPair is two shells with a run of the seam between them.
type seamPair struct {
	a, b   int32
	edges  []mesh.EdgeID
	length float64
}

// Carrying says over which seams a pattern is carried; see the edit.
type Carrying struct {
	Edges    []mesh.EdgeID
	From     *mesh.FaceID
	Material bool
}

// CarryOver lays shells so that a tiling pattern goes on over seams, and returns what is left
// at each.
func CarryOver(d *document.Document, e Carrying) (*document.State, []Carried, error) {
	m := d.Mesh
	if e.From != nil {
		if err := document.CheckFaces(m, []mesh.FaceID{*e.From}); err != nil {
			return nil, nil, err
		}
	}
	s := d.Begin()
	shells, of := s.Map.Shells()
	edges := e.Edges
	if e.Material {
		if e.From == nil {
			return nil, nil, document.Refuse("pick a face of the material first")
		}
		edges = seamsOfMaterial(s.State, m, m.MaterialName(*e.From))
		if len(edges) == 0 {
			return nil, nil, document.Refuse("no two shells of this material meet")
		}
	}
	if err := document.CheckEdges(m, edges); err != nil {
		return nil, nil, err
	}
	pairs, err := pairsAt(s.State, m, ids.With(nil, edges), of)
	if err != nil {
		return nil, nil, err
	}
	start := largestAt(m, shells, pairs, nil)
	if e.From != nil {
		start = of[*e.From]
	}
	stacked := s.Stacks()
	for _, p := range pairs {
		for _, k := range []int32{p.a, p.b} {
			if err := s.Unstacked(stacked, shells[k].Faces); err != nil {
				return nil, nil, err
			}
		}
	}
	// The longest seams first, outwards from what stays.
	reached := map[int32]bool{start: true}
	crossed := make([]bool, len(pairs))
	var out []Carried
	for {
		best := -1
		for i, p := range pairs {
			if reached[p.a] != reached[p.b] && (best < 0 || p.length > pairs[best].length*(1+1e-9)) {
				best = i
			}
		}
		if best < 0 {
			next := largestAt(m, shells, pairs, reached)
			if next < 0 || !e.Material {
				break
			}
			reached[next] = true
			continue
		}
		crossed[best] = true
		p := pairs[best]
		from, to := p.a, p.b
		if reached[to] {
			from, to = to, from
		}
		r := (&joining{state: s.State, of: of, shells: shells, a: from, b: to, edges: p.edges}).rim(m)
		carry(s, m, r, shells[to].Faces)
		reached[to] = true
	}
	for i, p := range pairs {
		if !reached[p.a] || !reached[p.b] {
			continue
		}
		r := (&joining{state: s.State, of: of, shells: shells, a: p.a, b: p.b, edges: p.edges}).rim(m)
		c := Carried{From: shells[p.a].Faces[0], To: shells[p.b].Faces[0], Edges: p.edges, Length: p.length, Closing: !crossed[i]}
		for i := range r.a {
			q := r2.Sub(r.a[i], r.b[i])
			c.Offset = max(c.Offset, math.Hypot(q.X-math.Round(q.X), q.Y-math.Round(q.Y)))
		}
		out = append(out, c)
	}
	if len(out) == 0 {
		return nil, nil, document.Refuse("the shell that stays does not lie at these seams; pick seams of it")
	}
	return s.Done(), out, nil
}

// largestAt is the largest shell at seams that is not reached yet, or −1.
func largestAt(m *mesh.Mesh, shells []atlas.Shell, pairs []seamPair, reached map[int32]bool) int32 {
	best, most := int32(-1), 0.0
	for _, p := range pairs {
		for _, k := range []int32{p.a, p.b} {
			if a := document.AreaOf(m, shells[k].Faces); !reached[k] && a > most*(1+1e-9) {
				best, most = k, a
			}
		}
	}
	return best
}

// GoesOn is the offset, in tiles, up to which a pattern goes on to the eye.
const GoesOn = 1e-3

// Carry sums up seams that a pattern was carried over.
type Carry struct {
	Over  int     // runs of seams it was carried over
	Left  float64 // largest offset at these, tiles
	Share float64 // of the length of all runs, where it goes on within a thousandth of a tile
}

// Sum sums up carried seams.
func Sum(seams []Carried) (c Carry) {
	var all float64
	for _, x := range seams {
		all += x.Length
		if x.Offset <= GoesOn {
			c.Share += x.Length
		}
		if !x.Closing {
			c.Over, c.Left = c.Over+1, max(c.Left, x.Offset)
		}
	}
	c.Share /= max(all, 1e-300)
	return c
}

// Words say it in thousandths of a tile.
func (c Carry) Words() string {
	words := fmt.Sprintf("the pattern goes on over %s, %.1f thousandths of a tile left at most", words.Count(c.Over, "seam"), 1000*c.Left)
	if c.Share < 0.995 {
		words += fmt.Sprintf("; over %.0f %% of their length in all, the rest closes rings", 100*c.Share)
	}
	return words
}

// seamsOfMaterial returns the seams between mapped faces of one material that lie in no
// stack.
func seamsOfMaterial(s *document.State, m *mesh.Mesh, name string) (out []mesh.EdgeID) {
	stacked := s.Stacks()
	free := func(f mesh.FaceID) bool {
		return s.Map.IsMapped(f) && m.MaterialName(f) == name && stacked.Of(f) < 0
	}
	for i := range m.NumEdges() {
		e := mesh.EdgeID(i)
		if a, b := m.EdgeFaces(e); b != mesh.None && free(a) && free(b) && (s.Map.Ends(e)) {
			out = append(out, e)
		}
	}
	return out
}

// pairsAt returns the seams at edges with the shells on both sides, in order of the first
// edge. A seam that turns a corner counts as several, since a pattern can go on over one
// straight run and not over the next.
func pairsAt(s *document.State, m *mesh.Mesh, edges []mesh.EdgeID, of []int32) (out []seamPair, err error) {
	between := map[[2]int32][]mesh.EdgeID{}
	var order [][2]int32
	for _, e := range edges {
		f, g := m.EdgeFaces(e)
		if g == mesh.None {
			continue
		}
		a, b := of[f], of[g]
		if a == mesh.None || b == mesh.None {
			return nil, document.Refuse("a shell at these edges is not flattened yet; flatten it first")
		}
		if a == b {
			continue
		}
		k := [2]int32{min(a, b), max(a, b)}
		if len(between[k]) == 0 {
			order = append(order, k)
		}
		between[k] = append(between[k], e)
	}
	alike := func(first, e mesh.EdgeID) bool {
		a := mesh.Angle(m.EdgeVec(m.EdgeHalf(first)), m.EdgeVec(m.EdgeHalf(e)))
		return min(a, math.Pi-a) < cornerOfASeam
	}
	for _, k := range order {
		for _, run := range m.ChainsWhere(between[k], alike) {
			out = append(out, seamPair{k[0], k[1], run, m.Length(run)})
		}
	}
	if len(out) == 0 {
		return nil, document.Refuse("no two shells meet at these edges; pick seams between flattened shells")
	}
	return out, nil
}

// cornerOfASeam is how far an edge of a seam may turn from the first to be of the same run.
const cornerOfASeam = 30 * math.Pi / 180

// carry turns and shifts a shell so that its side of a rim lies on the other one but for
// whole tiles, as near to where it was as that allows.
func carry(s *document.Tx, m *mesh.Mesh, r rim, faces []mesh.FaceID) {
	n := 1 / float64(len(r.a))
	best, quarter := math.Inf(1), 0
	var shift r2.Vec
	for k := range 4 {
		var t r2.Vec
		for i := range r.a {
			t = r2.Add(t, r2.Scale(n, r2.Sub(r.a[i], planar.Quarter(r.b[i], k))))
		}
		var off float64
		for i := range r.a {
			off += r2.Norm2(r2.Sub(r.a[i], r2.Add(planar.Quarter(r.b[i], k), t)))
		}
		if off < best*(1-1e-9)-1e-18 {
			best, quarter, shift = off, k, t
		}
	}
	var was, now r2.Vec // middle of the shell
	count := 0.0
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			q := s.Map.At(h)
			was, now = r2.Add(was, q), r2.Add(now, r2.Add(planar.Quarter(q, quarter), shift))
			count++
		}
	}
	d := r2.Scale(1/count, r2.Sub(was, now))
	shift = r2.Add(shift, r2.Vec{X: math.Round(d.X), Y: math.Round(d.Y)})
	s.Map.Transform(faces, func(q r2.Vec) r2.Vec { return r2.Add(planar.Quarter(q, quarter), shift) })
	for _, f := range faces {
		s.MarkHand(f)
	}
}
