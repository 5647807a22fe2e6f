// Package layout is the document: a mesh and the state of its map, and the
// edits that change it. Every change is an Edit, a small value with a JSON form
// that gives the same result each time it is applied; the bench, the command
// line and the pipeline all work through edits, and Delta says what one did.
package layout

import (
	"math"
	"sync"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/proof"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/sheet"
	"morvek/core/unroll"
)

// PartID numbers the parts of a document.
type PartID int32

// NoPart is the part of faces that belong to none.
const NoPart PartID = -1

// Part is a set of faces treated as one thing.
type Part struct {
	Name   string     `json:"name"`
	Fit    shape.Fit  `json:"fit"`
	Grain  flow.Grain `json:"grain"`
	Method string     `json:"method,omitempty"`  // how it was laid flat
	ByHand bool       `json:"by_hand,omitempty"` // somebody changed its seams or place
	Note   string     `json:"note,omitempty"`    // what could not be done, in plain words
	Pieces []Piece    `json:"pieces,omitempty"`  // the parts it unites, as they were read

	Projection *unroll.Projection `json:"projection,omitempty"` // how people want it laid; replaced, never changed

	GrainOwn bool `json:"grain_own,omitempty"` // somebody chose its grain

	RepeatOf  *PartID `json:"repeat_of,omitempty"`  // the first part it is equal to
	Mirrored  bool    `json:"mirrored,omitempty"`   // it is its mirror image
	StackedOn *PartID `json:"stacked_on,omitempty"` // the part whose place on the sheet it shares
	Locked    bool    `json:"locked,omitempty"`     // recognition leaves it as it is
	Weight    float64 `json:"weight,omitempty"`     // density relative to the common one, 0 means 1
}

// Piece is what was read within a part: a primitive, or something that has pieces itself.
type Piece struct {
	Fit    shape.Fit     `json:"fit"`
	Faces  []mesh.FaceID `json:"faces"`
	Pieces []Piece       `json:"pieces,omitempty"`
}

// Settings are what the whole document agrees on.
type Settings struct {
	Sheet     proof.Sheet `json:"sheet"`
	Turns     sheet.Turns `json:"turns"`
	GrainOnV  bool        `json:"grain_on_v"`
	Up        seam.Up     `json:"up"`
	Unit      string      `json:"unit"`
	Sides     seam.Sides  `json:"sides,omitzero"` // all zero: the default
	CreaseDeg float64     `json:"crease_deg"`
	Dial      float64     `json:"dial"`                // 0 fewer pieces … 1 less stretch
	Finer     float64     `json:"finer,omitempty"`     // than usual parts are read: −0.5 few … 0.5 primitives
	Repeats   string      `json:"repeats"`             // spread or stack; "" means spread
	Undivided bool        `json:"undivided,omitempty"` // no shell is divided for the sheet's sake
}

// DefaultSettings are those of the command line.
func DefaultSettings() Settings {
	return Settings{
		Sheet: proof.Sheet{Size: 2048, Padding: 8, Margin: 8, Tiles: 1},
		Turns: sheet.HalfTurns, Up: seam.UpY, Unit: "m", CreaseDeg: 30, Dial: 0.5,
	}
}

// Flow returns what along and up mean in this document.
func (s Settings) Flow() flow.Settings {
	return flow.Settings{GrainOnV: s.GrainOnV, Up: s.Up.Vec(), Back: r3.Scale(-1, s.Up.Front())}
}

// State is everything an edit can change. It does not change itself: Begin does.
type State struct {
	Settings Settings
	Parts    []*Part
	Map      *atlas.Map
	Wishes   Wishes

	partOf []PartID // per face
	from   *origin  // nil: nothing is known of what was before
}

// PartOf is the part a face belongs to.
func (s *State) PartOf(f mesh.FaceID) PartID { return s.partOf[f] }

// FaceParts is the part of every face: shared, not to be changed.
func (s *State) FaceParts() []PartID { return s.partOf }

// Document is a mesh with the state of its map. A document is not changed by
// edits: they give a new state.
type Document struct {
	Mesh  *mesh.Mesh // what is worked on
	State *State

	Source  *mesh.Mesh    // what came in; the same as Mesh unless some of it is carried along
	reduced *mesh.Reduced // how the two belong together

	shared *shared
}

// viewing is what exposure depends on besides the mesh.
type viewing struct {
	up    seam.Up
	sides seam.Sides
}

// Viewed returns the sides the piece is looked at from.
func (s Settings) Viewed() seam.Sides {
	if s.Sides == (seam.Sides{}) {
		return seam.DefaultSides()
	}
	return s.Sides
}

// shared is what all states of one mesh have in common.
type shared struct {
	mu       sync.Mutex
	exposure map[viewing]*seam.Exposure

	readings readings

	carriedOnce sync.Once
	carried     map[mesh.FaceID][]mesh.FaceID

	mirrorOnce sync.Once
	mirror     parts.Mirror
	mirrored   bool
}

// New returns the document of a mesh as it was brought in: one part for each
// connected piece, cut where the map that came along is torn. Faces that only stand in
// the way of connection are carried along (see mesh.Reduce).
func New(source *mesh.Mesh, s Settings) *Document {
	r := mesh.Reduce(source)
	return newDocument(source, r, asItCame(r.Mesh, s))
}

// Restore returns the document of a mesh in a state that was stored, or ErrCorrupt if they do
// not belong together.
func Restore(source *mesh.Mesh, state []byte) (*Document, error) {
	stored, err := decodeState(state)
	if err != nil {
		return nil, err
	}
	r := mesh.Reduce(source)
	s, err := stored.on(r.Mesh)
	if err != nil {
		r = &mesh.Reduced{Mesh: source} // stored before faces were carried along
		if s, err = stored.on(source); err != nil {
			return nil, err
		}
	}
	return newDocument(source, r, s), nil
}

func newDocument(source *mesh.Mesh, r *mesh.Reduced, s *State) *Document {
	return &Document{Mesh: r.Mesh, Source: source, reduced: r, State: s, shared: &shared{exposure: map[viewing]*seam.Exposure{}}}
}

// asItCame is the state of a mesh as it was brought in.
func asItCame(m *mesh.Mesh, s Settings) *State {
	st := &State{Settings: s, partOf: make([]PartID, m.NumFaces()), Map: atlas.FromSource(m).Freeze()}
	piece, n := m.Components()
	for f, p := range piece {
		st.partOf[f] = PartID(p)
		if int(p) == len(st.Parts) { // pieces are numbered by their first face
			st.Parts = append(st.Parts, &Part{Name: pieceName(m, mesh.FaceID(f), int(p), n), Fit: shape.Fit{Kind: shape.Free}})
		}
	}
	return st
}

// With returns the document of the same mesh in another state.
func (d *Document) With(s *State) *Document {
	return &Document{Mesh: d.Mesh, Source: d.Source, reduced: d.reduced, State: s, shared: d.shared}
}

// Exposure returns the exposure of the mesh, shared by all states.
func (d *Document) Exposure() *seam.Exposure {
	d.shared.mu.Lock()
	defer d.shared.mu.Unlock()
	v := viewing{d.State.Settings.Up, d.State.Settings.Viewed()}
	x, ok := d.shared.exposure[v]
	if !ok {
		x = seam.NewExposure(d.Mesh, v.up, v.sides)
		d.shared.exposure[v] = x
	}
	return x
}

// IsCut tells whether shells end at an edge.
func (s *State) IsCut(e mesh.EdgeID) bool { return s.Map.IsCut(e) }

// PartFaces returns the faces of each part, ascending.
func (s *State) PartFaces() [][]mesh.FaceID {
	out := make([][]mesh.FaceID, len(s.Parts))
	for f, p := range s.partOf {
		if p >= 0 {
			out[p] = append(out[p], mesh.FaceID(f))
		}
	}
	return out
}

// ProofInput returns what proof measures of this document.
func (d *Document) ProofInput() proof.Input {
	s := d.State
	in := proof.Input{
		Mesh: d.Mesh, Map: s.Map,
		Part:  func(f mesh.FaceID) int { return int(s.PartOf(f)) },
		Grain: func(p int) flow.Grain { return s.grain(p) },
		Flow:  s.Settings.Flow(), Sheet: s.Settings.Sheet,
		Stack:    func(p int) int { return int(s.stackRoot(PartID(p))) },
		Weight:   func(p int) float64 { return s.Weight(PartID(p)) },
		Exposure: d.Exposure(), Labels: s.Wishes.Labels,
	}
	return in
}

// grain is that of a part, none for no part.
func (s *State) grain(p int) flow.Grain {
	if p < 0 || p >= len(s.Parts) {
		return flow.Grain{}
	}
	return s.Parts[p].Grain
}

// Density returns the scale new shells get, sheet units per model unit: that of
// the map as it is, or one at which everything would fill about half the sheet.
func (d *Document) Density() float64 {
	var area, mapped, onSheet float64
	t := d.Mesh.Triangles()
	for f, a := range d.Mesh.FaceAreas() {
		area += a
		if !d.State.Map.IsMapped(mesh.FaceID(f)) {
			continue
		}
		mapped += a
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			c := t.Corner[k]
			a, b, c2 := d.State.Map.At(c[0]), d.State.Map.At(c[1]), d.State.Map.At(c[2])
			onSheet += math.Abs((b.X-a.X)*(c2.Y-a.Y)-(c2.X-a.X)*(b.Y-a.Y)) / 2
		}
	}
	switch {
	case mapped > 0 && onSheet > 0:
		return math.Sqrt(onSheet / mapped)
	case area > 0:
		return math.Sqrt(0.5 / area)
	}
	return 1
}
