package segment

import (
	"context"
	"math"
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
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
	Part     document.PartID
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
func Suggest(ctx context.Context, d *document.Document) ([]Suggestion, error) {
	m, s := d.Mesh, d.State
	var out []Suggestion
	add := func(why Reason, edges []mesh.EdgeID) {
		for _, c := range m.Chains(edges) {
			f, _ := m.EdgeFaces(c[0])
			out = append(out, suggestion(d, why, s.PartOf(f), c))
		}
	}
	plan, err := openings(ctx, d, nil, nil)
	if err != nil {
		return nil, err
	}
	corner := ids.Set(plan.corners)
	dome := map[mesh.FaceID]bool{} // darts are suggested for disks, openings for the rest
	for _, p := range plan.todo {
		if mesh.NewPatch(m, p.Faces, func(e mesh.EdgeID) bool { return corner[e] || s.Map.IsCut(e) }).IsDisk() {
			for _, f := range p.Faces {
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
	spared := s.Spared(m)
	bad := map[mesh.FaceID]bool{}
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		if ps := s.PartsOf(sh.Faces); len(ps) < 2 {
			continue
		}
		if _, angular := lay.ShellStretch(s, m, sh.Faces); angular > stretchWorthACut {
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

func suggestion(d *document.Document, why Reason, part document.PartID, edges []mesh.EdgeID) Suggestion {
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
