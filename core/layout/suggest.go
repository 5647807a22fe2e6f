package layout

import (
	"context"
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parts"
)

// Reason says why a cut is suggested.
type Reason string

// The reasons.
const (
	ForOpening  Reason = "opening"  // a wall that closes on itself
	ForCorner   Reason = "corner"   // a point whose angles do not lie flat
	ForDarts    Reason = "darts"    // a dome
	ForMaterial Reason = "material" // the border of a material
	ForParts    Reason = "parts"    // the border of parts in a shell that stretches
)

// Suggestion is a cut that is not there yet, with what speaks for it.
type Suggestion struct {
	Why      Reason
	Part     PartID
	Edges    []mesh.EdgeID // ascending
	Length   float64       // model units
	BendDeg  float64       // mean by length; negative where most of it is concave
	Exposure float64       // mean by length, 0 hidden to 1 open
}

// stretchWorthACut is the angular stretch (p95) from which cutting a shell along the
// borders of its parts is suggested.
const stretchWorthACut = 1.05

// Suggest lists the cuts that the shapes ask for and the map does not have, the
// missing openings first, then by length. Wishes are respected.
func (d *Document) Suggest(ctx context.Context) ([]Suggestion, error) {
	m, s := d.Mesh, d.State
	var out []Suggestion
	add := func(why Reason, edges []mesh.EdgeID) {
		for _, c := range m.Chains(edges) {
			f, _ := m.EdgeFaces(c[0])
			out = append(out, d.suggestion(why, s.PartOf(f), c))
		}
	}
	plan, err := openWalls(ctx, d, nil, nil)
	if err != nil {
		return nil, err
	}
	corner := set(plan.corners)
	dome := map[mesh.FaceID]bool{} // darts are suggested for disks, openings for the rest
	for _, p := range plan.todo {
		if mesh.NewPatch(m, p.faces, func(e mesh.EdgeID) bool { return corner[e] || s.Map.IsCut(e) }).IsDisk() {
			for _, f := range p.faces {
				dome[f] = true
			}
		}
	}
	byReason := map[Reason][]mesh.EdgeID{}
	for i := range m.NumEdges() {
		e := mesh.EdgeID(i)
		if !plan.state.Map.IsCut(e) || s.Map.IsCut(e) {
			continue
		}
		f, _ := m.EdgeFaces(e)
		switch {
		case corner[e]:
			byReason[ForCorner] = append(byReason[ForCorner], e)
		case dome[f]:
			byReason[ForDarts] = append(byReason[ForDarts], e)
		default:
			byReason[ForOpening] = append(byReason[ForOpening], e)
		}
	}
	spared := s.spared(m)
	bad := map[mesh.FaceID]bool{}
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		if ps := s.partsOf(sh.Faces); len(ps) < 2 {
			continue
		}
		if _, angular := s.shellStretch(m, sh.Faces); angular > stretchWorthACut {
			for _, f := range sh.Faces {
				bad[f] = true
			}
		}
	}
	for i := range m.NumEdges() {
		e := mesh.EdgeID(i)
		f, g := m.EdgeFaces(e)
		if s.Map.IsCut(e) || g == mesh.None || spared(e) {
			continue
		}
		switch {
		case m.MaterialName(f) != m.MaterialName(g):
			byReason[ForMaterial] = append(byReason[ForMaterial], e)
		case bad[f] && s.PartOf(f) != s.PartOf(g):
			byReason[ForParts] = append(byReason[ForParts], e)
		}
	}
	for _, why := range []Reason{ForOpening, ForCorner, ForDarts, ForMaterial, ForParts} {
		from := len(out)
		add(why, byReason[why])
		slices.SortStableFunc(out[from:], func(a, b Suggestion) int {
			if a.Length > b.Length*(1+1e-9) {
				return -1
			} else if b.Length > a.Length*(1+1e-9) {
				return 1
			}
			return 0
		})
	}
	return out, nil
}

func (d *Document) suggestion(why Reason, part PartID, edges []mesh.EdgeID) Suggestion {
	x := d.Exposure()
	out := Suggestion{Why: why, Part: part, Edges: edges}
	for _, e := range edges {
		l := d.Mesh.EdgeLength(e)
		out.Length += l
		out.BendDeg += l * d.Mesh.Dihedral(e) * 180 / math.Pi
		out.Exposure += l * x.Edge(e)
	}
	if out.Length > 0 {
		out.BendDeg /= out.Length
		out.Exposure /= out.Length
	}
	return out
}

// OnRepeats adds to edges those at the same places of the repeats of their parts,
// mirrored ones included: what is done to one can be done to all.
func (d *Document) OnRepeats(edges []mesh.EdgeID) []mesh.EdgeID {
	m, s := d.Mesh, d.State
	faces := s.PartFaces()
	byPart := map[PartID][]mesh.HalfedgeID{}
	for _, e := range edges {
		h := m.EdgeHalf(e)
		for _, side := range []mesh.HalfedgeID{h, m.Twin(h)} {
			if side != mesh.None && s.PartOf(m.FaceOf(side)) >= 0 {
				p := s.PartOf(m.FaceOf(side))
				byPart[p] = append(byPart[p], side)
			}
		}
	}
	out := slices.Clone(edges)
	for p, sides := range byPart {
		root := s.RepeatRoot(p)
		for i := range s.Parts {
			q := PartID(i)
			if q == p || s.RepeatRoot(q) != root {
				continue
			}
			mirrored := s.Parts[p].Mirrored != s.Parts[q].Mirrored
			pair, ok := parts.Correspond(m, faces[p], faces[q], mirrored)
			if !ok {
				continue
			}
			for _, h := range sides {
				if mirrored { // the halfedge between the same two places starts at the other end
					h = m.Next(h)
				}
				out = append(out, m.Edge(pair[h]))
			}
		}
	}
	return with(nil, out)
}
