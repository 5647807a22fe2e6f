package layout

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
)

// CarryOver lays shells so that a tiling pattern goes on over the picked seams without
// joining them: from the shell with the face From outwards, each is turned by quarters
// and shifted, by less than a tile, until twins agree but for whole tiles. They may lie
// on others, as shells of a tiling texture do.
type CarryOver struct {
	Edges []mesh.EdgeID `json:"edges,omitempty"`
	From  *mesh.FaceID  `json:"from,omitempty"` // a face of the shell that stays; none: the largest
	// Material: all seams between shells of the material of From, in place of Edges.
	Material bool `json:"material,omitempty"`
}

// Kind implements Edit.
func (*CarryOver) Kind() string { return "carry-over" }

// Describe implements Edit.
func (e *CarryOver) Describe() string {
	if e.Material {
		return "carry the pattern over a material"
	}
	return "carry the pattern over " + edgeCount(len(e.Edges))
}

// Carried is a seam over which a pattern goes on.
type Carried struct {
	From, To mesh.FaceID
	Length   float64 // of the seam, model units
	Offset   float64 // largest distance of twins that is left, tiles
}

// Apply implements Edit.
func (e *CarryOver) Apply(ctx context.Context, d *Document, _ func(float64)) (*State, error) {
	s, _, err := e.Plan(ctx, d)
	return s, err
}

// seamPair is two shells with the seam between them.
type seamPair struct {
	a, b   int32
	edges  []mesh.EdgeID
	length float64
}

// Plan returns the state after carrying over and what is left at each seam.
func (e *CarryOver) Plan(_ context.Context, d *Document) (*State, []Carried, error) {
	m := d.Mesh
	if e.From != nil {
		if err := checkFaces(m, []mesh.FaceID{*e.From}); err != nil {
			return nil, nil, err
		}
	}
	s := d.State.Clone()
	shells, of := s.Map.Shells(m, s.IsCut)
	edges := e.Edges
	if e.Material {
		if e.From == nil {
			return nil, nil, refuse("pick a face of the material first")
		}
		edges = s.seamsOfMaterial(m, m.MaterialName(*e.From))
		if len(edges) == 0 {
			return nil, nil, refuse("no two shells of this material meet")
		}
	}
	if err := checkEdges(m, edges); err != nil {
		return nil, nil, err
	}
	pairs, err := s.pairsAt(m, with(nil, edges), of)
	if err != nil {
		return nil, nil, err
	}
	start := pairs[0].a
	switch {
	case e.From != nil:
		start = of[*e.From]
	default:
		most := 0.0
		for _, p := range pairs {
			for _, k := range []int32{p.a, p.b} {
				if a := faceArea(m, shells[k].Faces); a > most*(1+1e-9) {
					most, start = a, k
				}
			}
		}
	}
	for _, p := range pairs {
		for _, k := range []int32{p.a, p.b} {
			if err := s.unstacked(shells[k].Faces); err != nil {
				return nil, nil, err
			}
		}
	}
	// The longest seams first, outwards from what stays.
	reached := map[int32]bool{start: true}
	var out []Carried
	for {
		best := -1
		for i, p := range pairs {
			if reached[p.a] != reached[p.b] && (best < 0 || p.length > pairs[best].length*(1+1e-9)) {
				best = i
			}
		}
		if best < 0 {
			break
		}
		p := pairs[best]
		from, to := p.a, p.b
		if reached[to] {
			from, to = to, from
		}
		r := (&joining{state: s, of: of, shells: shells, a: from, b: to, edges: p.edges}).rim(m)
		s.carry(m, r, shells[to].Faces)
		reached[to] = true
	}
	for _, p := range pairs {
		if !reached[p.a] || !reached[p.b] {
			continue
		}
		r := (&joining{state: s, of: of, shells: shells, a: p.a, b: p.b, edges: p.edges}).rim(m)
		c := Carried{From: shells[p.a].Faces[0], To: shells[p.b].Faces[0], Length: p.length}
		for i := range r.a {
			q := r2.Sub(r.a[i], r.b[i])
			c.Offset = max(c.Offset, math.Hypot(q.X-math.Round(q.X), q.Y-math.Round(q.Y)))
		}
		out = append(out, c)
	}
	if len(out) == 0 {
		return nil, nil, refuse("the shell that stays does not lie at these seams; pick seams of it")
	}
	return s, out, nil
}

// seamsOfMaterial returns the seams between mapped faces of one material that lie in no
// stack.
func (s *State) seamsOfMaterial(m *mesh.Mesh, name string) (out []mesh.EdgeID) {
	free := func(f mesh.FaceID) bool {
		return s.Map.Mapped[f] && m.MaterialName(f) == name && !s.inStack(s.FacePart[f])
	}
	for i := range m.NumEdges() {
		e := mesh.EdgeID(i)
		if a, b := m.EdgeFaces(e); b != mesh.None && free(a) && free(b) && (s.Cut[e] || s.Map.Torn(m, e)) {
			out = append(out, e)
		}
	}
	return out
}

// pairsAt returns the pairs of shells that meet at edges, in order of the first edge.
func (s *State) pairsAt(m *mesh.Mesh, edges []mesh.EdgeID, of []int32) (out []seamPair, err error) {
	index := map[[2]int32]int{}
	for _, e := range edges {
		f, g := m.EdgeFaces(e)
		if g == mesh.None {
			continue
		}
		a, b := of[f], of[g]
		if a == mesh.None || b == mesh.None {
			return nil, refuse("a shell at these edges is not flattened yet; flatten it first")
		}
		if a == b {
			continue
		}
		k := [2]int32{min(a, b), max(a, b)}
		i, ok := index[k]
		if !ok {
			i = len(out)
			index[k] = i
			out = append(out, seamPair{a: k[0], b: k[1]})
		}
		out[i].edges = append(out[i].edges, e)
		out[i].length += m.EdgeLength(e)
	}
	if len(out) == 0 {
		return nil, refuse("no two shells meet at these edges; pick seams between flattened shells")
	}
	return out, nil
}

// carry turns and shifts a shell so that its side of a rim lies on the other one but for
// whole tiles, as near to where it was as that allows.
func (s *State) carry(m *mesh.Mesh, r rim, faces []mesh.FaceID) {
	n := 1 / float64(len(r.a))
	best, quarter := math.Inf(1), 0
	var shift r2.Vec
	for k := range 4 {
		var t r2.Vec
		for i := range r.a {
			t = r2.Add(t, r2.Scale(n, r2.Sub(r.a[i], quarterTurn(r.b[i], k))))
		}
		var off float64
		for i := range r.a {
			off += r2.Norm2(r2.Sub(r.a[i], r2.Add(quarterTurn(r.b[i], k), t)))
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
			q := s.Map.UV[h]
			was, now = r2.Add(was, q), r2.Add(now, r2.Add(quarterTurn(q, quarter), shift))
			count++
		}
	}
	d := r2.Scale(1/count, r2.Sub(was, now))
	shift = r2.Add(shift, r2.Vec{X: math.Round(d.X), Y: math.Round(d.Y)})
	for _, f := range faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			s.Map.UV[h] = r2.Add(quarterTurn(s.Map.UV[h], quarter), shift)
		}
		s.markHand(f)
	}
}

func quarterTurn(q r2.Vec, k int) r2.Vec {
	for range k {
		q = r2.Vec{X: -q.Y, Y: q.X}
	}
	return q
}
