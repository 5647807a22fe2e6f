package segment

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/unroll"
)

// JoinCost says what a join would do.
type JoinCost struct {
	Stays, Moves  mesh.FaceID // a face of each shell of the last pair
	Length        float64     // of the rim, model units
	RimDifference float64     // share by which the rims differ in length on the sheet
	TurnDeg       [2]float64  // by which the rims bend on the sheet, those that bulge positive
	Opposite      bool        // the rims bend so that they cannot meet without stretch
	Rigid         bool        // the moving shell fits as it is
	Before, After float64     // worst angular stretch (p95 of a shell)
	OnRack        bool        // there is no room; the union waits on the rack
	Joined        int         // shells that are part of another afterwards
}

// joining is two shells with the edges along which they are to be one.
type joining struct {
	state  *document.State
	tx     *document.Tx // nil: nothing is changed
	shells []atlas.Shell
	of     []int32
	a, b   int32 // a stays
	edges  []mesh.EdgeID
}

// nextJoin takes the first pair of shells that meet at some of the edges; rest are
// those of other pairs.
func nextJoin(s *document.Tx, m *mesh.Mesh, edges []mesh.EdgeID, stays *mesh.FaceID) (*joining, []mesh.EdgeID, error) {
	j := &joining{state: s.State, tx: s, a: mesh.None}
	j.shells, j.of = s.Map.Shells()
	var rest []mesh.EdgeID
	for _, e := range edges {
		f, g := m.EdgeFaces(e)
		if g == mesh.None {
			continue
		}
		p, q := j.of[f], j.of[g]
		if p == mesh.None || q == mesh.None {
			return nil, nil, document.Refuse("a shell at these edges is not flattened yet; flatten it first")
		}
		if p == q {
			continue
		}
		if j.a == mesh.None {
			j.a, j.b = min(p, q), max(p, q)
		}
		if min(p, q) == min(j.a, j.b) && max(p, q) == max(j.a, j.b) {
			j.edges = append(j.edges, e)
		} else {
			rest = append(rest, e)
		}
	}
	if j.a == mesh.None {
		return nil, nil, nil
	}
	area := func(k int32) float64 { return document.AreaOf(m, j.shells[k].Faces) }
	swap := area(j.b) > area(j.a)*(1+1e-9)
	if stays != nil && (j.of[*stays] == j.a || j.of[*stays] == j.b) {
		swap = j.of[*stays] == j.b
	}
	if swap {
		j.a, j.b = j.b, j.a
	}
	return j, rest, nil
}

// extend adds the common border of the two shells that hangs together with the
// edges.
func (j *joining) extend(m *mesh.Mesh) {
	var common []mesh.EdgeID
	for _, f := range j.shells[j.b].Faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None && j.of[m.FaceOf(t)] == j.a {
				common = append(common, m.Edge(h))
			}
		}
	}
	picked := ids.Set(j.edges)
	j.edges = nil
	for _, c := range m.Chains(common) {
		if slices.ContainsFunc(c, func(e mesh.EdgeID) bool { return picked[e] }) {
			j.edges = append(j.edges, c...)
		}
	}
}

// rim is the two sides of the joined edges on the sheet.
type rim struct{ a, b []r2.Vec } // ends of each edge, twice as many as edges

func (j *joining) rim(m *mesh.Mesh) (r rim) {
	at := j.state.Map.At
	for _, e := range j.edges {
		h := m.EdgeHalf(e)
		t := m.Twin(h)
		if j.of[m.FaceOf(h)] != j.a {
			h, t = t, h
		}
		r.a = append(r.a, at(h), at(m.Next(h)))
		r.b = append(r.b, at(m.Next(t)), at(t))
	}
	return r
}

func (j *joining) do(ctx context.Context, d *document.Document, s *document.Tx, c *JoinCost) error {
	m := d.Mesh
	a, b := j.shells[j.a].Faces, j.shells[j.b].Faces
	if p, q := s.PartOf(a[0]), s.PartOf(b[0]); s.Weight(p) != s.Weight(q) {
		return document.Refuse("these shells get different room on the sheet (×%g and ×%g); give them one weight first", s.Weight(p), s.Weight(q))
	}
	for _, faces := range [][]mesh.FaceID{a, b} {
		if err := s.Unstacked(s.Stacks(), faces); err != nil {
			return err
		}
	}
	c.Stays, c.Moves = a[0], b[0]
	c.Joined++
	r := j.rim(m)
	j.costOfRims(m, r, c)
	for _, f := range [][]mesh.FaceID{a, b} {
		_, angular := lay.ShellStretch(s.State, m, f)
		c.Before = max(c.Before, angular)
	}
	union := slices.Sorted(slices.Values(slices.Concat(a, b)))
	s.CutByHand(m, j.edges, false)
	fits := j.move(m, r)
	c.Rigid = fits
	if !fits {
		if err := j.flatten(ctx, m, union); err != nil {
			return err
		}
	}
	p := s.Map.Patch(union)
	if uv := s.Map.Get(p); unroll.Tangled(p, uv) {
		return document.Refuse("the joined shell would land on itself; join along fewer edges or leave it cut")
	}
	_, after := lay.ShellStretch(s.State, m, union)
	c.After = max(c.After, after)
	if !lay.HasRoom(s.State, m, union) {
		c.OnRack = true
		s.Map.ToRack(union)
	}
	return nil
}

// costOfRims compares the two sides of the joined edges on the sheet.
func (j *joining) costOfRims(m *mesh.Mesh, r rim, c *JoinCost) {
	var long [2]float64
	for i := 0; i < len(r.a); i += 2 {
		long[0] += r2.Norm(r2.Sub(r.a[i+1], r.a[i]))
		long[1] += r2.Norm(r2.Sub(r.b[i+1], r.b[i]))
	}
	c.Length += m.Length(j.edges)
	if most := max(long[0], long[1]); most > 0 {
		c.RimDifference = max(c.RimDifference, 1-min(long[0], long[1])/most)
	}
	// How much each shell is short of a straight angle at the inner points of the rim.
	times := map[mesh.PointID]int{}
	for _, e := range j.edges {
		h := m.EdgeHalf(e)
		times[m.From(h)]++
		times[m.To(h)]++
	}
	var turn [2]float64
	for k, shell := range []int32{j.a, j.b} {
		for _, f := range j.shells[shell].Faces {
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				if times[m.From(h)] == 2 {
					at := j.state.Map.At
					u, v := r2.Sub(at(m.Next(h)), at(h)), r2.Sub(at(m.Prev(h)), at(h))
					turn[k] -= math.Atan2(math.Abs(r2.Cross(u, v)), r2.Dot(u, v))
				}
			}
		}
		for _, n := range times {
			if n == 2 {
				turn[k] += math.Pi
			}
		}
	}
	const clear = 5 * math.Pi / 180
	c.TurnDeg = [2]float64{turn[0] * 180 / math.Pi, turn[1] * 180 / math.Pi}
	c.Opposite = c.Opposite || math.Abs(turn[0]+turn[1]) > clear
}

// move brings the moving shell to the staying one by a similarity, turn and shift by
// least squares (Procrustes), and tells whether the rims then fit.
func (j *joining) move(m *mesh.Mesh, r rim) bool {
	n := float64(len(r.a))
	var ca, cb r2.Vec
	for i := range r.a {
		ca, cb = r2.Add(ca, r.a[i]), r2.Add(cb, r.b[i])
	}
	ca, cb = r2.Scale(1/n, ca), r2.Scale(1/n, cb)
	var dot, cross, aa, bb float64
	for i := range r.a {
		p, q := r2.Sub(r.a[i], ca), r2.Sub(r.b[i], cb)
		dot += r2.Dot(q, p)
		cross += r2.Cross(q, p)
		aa += r2.Dot(p, p)
		bb += r2.Dot(q, q)
	}
	l := math.Hypot(dot, cross)
	if l == 0 || bb == 0 || aa == 0 {
		return false
	}
	// The scale is that of the densities, but for rounding: who needs more is flattened.
	scale := math.Sqrt(aa / bb)
	if math.Abs(scale*j.density(m, j.b)/j.density(m, j.a)-1) > 5e-3 {
		return false
	}
	cos, sin := dot/l*scale, cross/l*scale
	to := func(q r2.Vec) r2.Vec {
		q = r2.Sub(q, cb)
		return r2.Add(ca, r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y})
	}
	tol := 1e-5 * math.Sqrt(aa/n)
	for i := range r.a {
		if r2.Norm(r2.Sub(to(r.b[i]), r.a[i])) > tol {
			return false
		}
	}
	place := map[r2.Vec]r2.Vec{} // the rim meets exactly
	for i, q := range r.b {
		place[q] = r.a[i]
	}
	j.tx.Map.Transform(j.shells[j.b].Faces, func(q r2.Vec) r2.Vec {
		if exact, ok := place[q]; ok {
			return exact
		}
		return to(q)
	})
	return true
}

// density returns the size of a shell on the sheet per model unit, 1 if it has none.
func (j *joining) density(m *mesh.Mesh, shell int32) float64 {
	return atlas.OrOne(j.state.Map.Density(j.shells[shell].Faces))
}

// flatten lays the union flat as one, at the density, the turn and the place of the
// shell that stays.
func (j *joining) flatten(ctx context.Context, m *mesh.Mesh, union []mesh.FaceID) error {
	s := j.state
	p := s.Map.Patch(union)
	part := s.PartOf(j.shells[j.a].Faces[0])
	r, err := unroll.Unroll(ctx, p, s.Fit(part), flatten.Settings{})
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if err != nil {
		if !p.IsDisk() {
			return document.Refuse("the joined shell would close on itself; join along one chain only, or cut an opening first")
		}
		return err
	}
	if flatten.Flips(p, r.UV) > 0 {
		return document.Refuse("the joined shell does not lie flat: some faces would turn over")
	}
	flatten.TrueScale(p, r.UV)
	lay.Orient(s, p, r.UV, part)
	stays := s.Map.Patch(j.shells[j.a].Faces)
	old := s.Map.Get(stays)
	scale := j.density(m, j.a)
	for i := range r.UV {
		r.UV[i] = r2.Scale(scale, r.UV[i])
	}
	s.Map.Set(p, r.UV)
	// The middle of what stays is where it was.
	var shift r2.Vec
	for i, q := range s.Map.Get(stays) {
		shift = r2.Add(shift, r2.Sub(old[i], q))
	}
	shift = r2.Scale(1/float64(len(old)), shift)
	for i := range r.UV {
		r.UV[i] = r2.Add(r.UV[i], shift)
	}
	s.Map.Set(p, r.UV)
	if part >= 0 {
		j.tx.Part(part).Method = r.Method
	}
	return nil
}

// Joining says which shells are joined; see Join.
type Joining struct {
	Edges []mesh.EdgeID
	Stays *mesh.FaceID // a face of the shell that stays; nil: the larger one stays
	Chain bool         // also along the rest of their common border
}

// Join makes one shell of each two beside some edges, and says what that costs. Where the
// rims fit, the other shell only moves; else the two are flattened as one. A union that has
// no room where it is waits on the rack.
func Join(ctx context.Context, d *document.Document, e Joining, progress func(float64)) (*document.State, JoinCost, error) {
	var c JoinCost
	s := d.Begin()
	left := slices.Clone(e.Edges)
	for {
		j, rest, err := nextJoin(s, d.Mesh, left, e.Stays)
		if err != nil {
			return nil, c, err
		}
		if j == nil {
			break
		}
		if e.Chain {
			j.extend(d.Mesh)
		}
		if err := j.do(ctx, d, s, &c); err != nil {
			return nil, c, err
		}
		left = rest
		parallel.Report(progress, 1-float64(len(left))/float64(len(e.Edges)))
	}
	if c.Joined == 0 {
		return nil, c, document.Refuse("no two shells meet at these edges; pick a seam between two flattened shells")
	}
	return s.Done(), c, nil
}
