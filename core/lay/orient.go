package lay

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// labelOn is the largest label of which a patch has faces, nil for none.
func labelOn(s *document.State, p *mesh.Patch) *flow.Label {
	if len(s.Wishes.Labels) == 0 {
		return nil
	}
	on := ids.Set(p.Faces)
	var best *flow.Label
	var most float64
	for i, l := range s.Wishes.Labels {
		var area float64
		for _, f := range l.Faces {
			if on[f] {
				area += p.Mesh.FaceAreas()[f]
			}
		}
		if area > most*(1+1e-9) {
			best, most = &s.Wishes.Labels[i], area
		}
	}
	return best
}

// fixed returns whether a shell must not be turned by packing: it carries a label, or a
// grain that goes one way only.
func fixed(s *document.State) func([]mesh.FaceID) bool {
	labelled := map[mesh.FaceID]bool{}
	for _, l := range s.Wishes.Labels {
		for _, f := range l.Faces {
			labelled[f] = true
		}
	}
	return func(shell []mesh.FaceID) bool {
		return slices.ContainsFunc(shell, func(f mesh.FaceID) bool {
			return labelled[f] || s.Grain(int(s.PartOf(f))).Sense
		})
	}
}

// OrientOwn orients a shell as the part asks that most of it belongs to, of those with a
// grain.
func OrientOwn(s *document.State, p *mesh.Patch, uv []r2.Vec) { Orient(s, p, uv, document.NoPart) }

// Orient turns the map of a patch as the grain of a part asks or, where that has none, as
// that of most of what has one, up upwards; a label on it stands upright, whatever the grain
// says.
func Orient(s *document.State, p *mesh.Patch, uv []r2.Vec, part document.PartID) {
	g := s.Grain(int(part))
	if g.Mode == flow.None {
		g = s.Grain(int(leading(s, p)))
	}
	flow.Orient(p, uv, g, s.Settings.Flow())
	if l := labelOn(s, p); l != nil {
		l.Upright(p, uv)
	}
}

// leading is the part with a grain that most of a patch belongs to, NoPart if none has one.
func leading(s *document.State, p *mesh.Patch) document.PartID {
	best, area := document.NoPart, map[document.PartID]float64{}
	for _, f := range p.Faces {
		part := s.PartOf(f)
		if s.Grain(int(part)).Mode == flow.None {
			continue
		}
		if area[part] += p.Mesh.FaceAreas()[f]; best == document.NoPart || area[part] > area[best]*(1+1e-9) {
			best = part
		}
	}
	return best
}

// Turner turns shells one by one, each in its place if it has room there, else onto the rack.
type Turner struct {
	tx     *document.Tx
	before *atlas.Map
	place  *atlas.Placing
	rack   *atlas.Rack
}

// NewTurner is for the shells as they are now.
func NewTurner(tx *document.Tx, d *document.Document) *Turner {
	return &Turner{tx, d.State.Map, tx.Map.Placing(tx.Settings.Sheet.Across()), tx.Map.NewRack()}
}

// Turn turns a shell by what f does to its map in model units.
func (t *Turner) Turn(l *atlas.Lifted, f func(*mesh.Patch, []r2.Vec)) {
	f(l.Patch, l.UV)
	atlas.Scale(l.UV, l.Density)
	t.place.Put(t.before, t.rack, l.Patch, l.UV)
}

// ToGrain turns a shell as the part asks that most of it belongs to, of those with a grain.
func (t *Turner) ToGrain(l *atlas.Lifted) {
	t.Turn(l, func(p *mesh.Patch, uv []r2.Vec) { OrientOwn(t.tx.State, p, uv) })
}

// ToGrain turns all shells of a map to the grain of their parts, but those in stacks. Settings of the transaction say what along means.
func ToGrain(tx *document.Tx, d *document.Document) {
	stacked := tx.Stacks()
	turner := NewTurner(tx, d)
	shells, _ := tx.Map.Shells()
	for _, sh := range shells {
		if tx.Unstacked(stacked, sh.Faces) == nil {
			l := tx.Map.Lift(sh)
			turner.ToGrain(&l)
		}
	}
}

// QuarterToGrain turns a map whose lines are straight already by exact quarters, so that
// the grain of its part runs along the sheet and up is up.
func QuarterToGrain(s *document.State, p *mesh.Patch, uv []r2.Vec) {
	turned := slices.Clone(uv)
	OrientOwn(s, p, turned)
	var cos, sin float64
	for i := range uv {
		a, b := r2.Sub(uv[i], uv[0]), r2.Sub(turned[i], turned[0])
		cos, sin = cos+r2.Dot(a, b), sin+r2.Cross(a, b)
	}
	quarters := int(math.Round(math.Atan2(sin, cos) / (math.Pi / 2)))
	for i, q := range uv {
		uv[i] = planar.Quarter(q, quarters)
	}
}
