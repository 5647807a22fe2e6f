package document

import (
	"math"
	"slices"
	"sync"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// PartsOf lists the parts that faces belong to, each once.
func (s *State) PartsOf(faces []mesh.FaceID) []PartID {
	var out []PartID
	last := NoPart
	for _, f := range faces {
		if p := s.partOf[f]; p != last && p != NoPart { // most faces follow one of their part
			last = p
			if !slices.Contains(out, p) {
				out = append(out, p)
			}
		}
	}
	return out
}

// Recognised tells whether shapes were sought, rather than taken from the file.
func (s *State) Recognised() bool {
	return slices.ContainsFunc(s.Parts, func(p *Part) bool { return p.Grain.Mode != "" || p.Fit.Kind != "free" })
}

// State is everything an edit can change. It does not change itself: Begin does. It is seen
// through one of its maps: coordinates, cuts, the sheet, the lay of parts and pins are those
// of that one.
type State struct {
	Settings Settings
	Parts    []*Part
	Map      *atlas.Map
	Shown    MapHead // which map that is
	Wishes   Wishes

	others []*away // the other maps, ascending

	partOf []PartID // per face
	groups *groups  // nil while it is changed
	from   *origin  // nil: nothing is known of what was before
}

// PartOf is the part a face belongs to.
func (s *State) PartOf(f mesh.FaceID) PartID { return s.partOf[f] }

// FaceParts is the part of every face: shared, not to be changed.
func (s *State) FaceParts() []PartID { return s.partOf }

// PartFaces returns the faces of each part, ascending. What belongs to a part is shared, not
// to be changed.
func (s *State) PartFaces() [][]mesh.FaceID {
	var groups [][]mesh.FaceID
	if s.groups != nil {
		groups = s.groups.of(s.partOf)
	} else { // faces are going from part to part
		groups = group(s.partOf)
	}
	out := make([][]mesh.FaceID, len(s.Parts))
	copy(out, groups)
	return out
}

// groups are the faces of each part, found once for all states that have the same.
type groups struct {
	once  sync.Once
	faces [][]mesh.FaceID
}

func (g *groups) of(partOf []PartID) [][]mesh.FaceID {
	g.once.Do(func() { g.faces = group(partOf) })
	return g.faces
}

// group lists the faces of each part that has some, ascending.
func group(partOf []PartID) [][]mesh.FaceID {
	var sizes []int
	for _, p := range partOf {
		if p < 0 {
			continue
		}
		for len(sizes) <= int(p) {
			sizes = append(sizes, 0)
		}
		sizes[p]++
	}
	all, out := make([]mesh.FaceID, len(partOf)), make([][]mesh.FaceID, len(sizes))
	for p, n := range sizes {
		out[p], all = all[:0:n], all[n:] // who appends to it gets another
	}
	for f, p := range partOf {
		if p >= 0 {
			out[p] = append(out[p], mesh.FaceID(f))
		}
	}
	return out
}

// Grain is that of a part, none for no part.
func (s *State) Grain(p int) flow.Grain {
	if p < 0 || p >= len(s.Parts) {
		return flow.Grain{}
	}
	return s.Parts[p].Grain
}

// Fit is the shape of a part, free for no part.
func (s *State) Fit(p PartID) shape.Fit {
	if p < 0 {
		return shape.Fit{Kind: shape.Free}
	}
	return s.Parts[p].Fit
}

// Projection is how people want a part laid, nil where they did not say.
func (s *State) Projection(p PartID) *unroll.Projection {
	if p < 0 {
		return nil
	}
	return s.Parts[p].Projection
}

// RepeatRoot is the part that a part is equal to, itself if it repeats none.
func (s *State) RepeatRoot(p PartID) PartID {
	if of := s.Parts[p].RepeatOf; of != nil {
		return *of
	}
	return p
}

// AreaOf is the area of faces in the model.
func AreaOf(m *mesh.Mesh, faces []mesh.FaceID) (a float64) {
	for _, f := range faces {
		a += m.FaceAreas()[f]
	}
	return a
}

// NameOf is the name of the part of a face.
func (s *State) NameOf(f mesh.FaceID) string {
	if p := s.PartOf(f); p >= 0 {
		return s.Parts[p].Name
	}
	return "this shell"
}

// Finite returns an error if a coordinate on the sheet of the map it is seen through is no
// number, infinite or beyond anything a sheet can show.
func (s *State) Finite() error {
	m := s.Map.Mesh()
	for h := range m.NumCorners() {
		if err := finite(s.Map.At(mesh.HalfedgeID(h))); err != nil {
			return err
		}
	}
	return nil
}

func finite(q r2.Vec) error {
	if !(math.Abs(q.X) < 1e9 && math.Abs(q.Y) < 1e9) {
		return Refuse("this would leave points without a place on the sheet")
	}
	return nil
}

// CheckParts refuses no parts at all, and those that there are not.
func (s *State) CheckParts(list ...PartID) error {
	if len(list) == 0 {
		return Refuse("no part is picked")
	}
	for _, p := range list {
		if p < 0 || int(p) >= len(s.Parts) {
			return Refuse("there is no part %d", p)
		}
	}
	return nil
}

// origin is what a state was made from.
type origin struct {
	base  *State
	moved []mesh.FaceID // between parts, with repeats
}
