package document

import (
	"math"
	"reflect"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// samePieces tells whether two lists of pieces are one, or alike.
func samePieces(a, b []Piece) bool {
	if len(a) != len(b) {
		return false
	}
	return len(a) == 0 || &a[0] == &b[0] || reflect.DeepEqual(a, b)
}

// PartID numbers the parts of a document.
type PartID int32

// NoPart is the part of faces that belong to none.
const NoPart PartID = -1

// Part is a set of faces treated as one thing, with its lay in the map that its state is seen
// through.
type Part struct {
	Name   string     `json:"name"`
	Fit    shape.Fit  `json:"fit"`
	Grain  flow.Grain `json:"grain"`
	Pieces []Piece    `json:"pieces,omitempty"` // the parts it unites, as they were read

	GrainOwn bool `json:"grain_own,omitempty"` // somebody chose its grain

	RepeatOf *PartID `json:"repeat_of,omitempty"` // the first part it is equal to
	Mirrored bool    `json:"mirrored,omitempty"`  // it is its mirror image
	Locked   bool    `json:"locked,omitempty"`    // recognition leaves it as it is

	Lay
}

// Lay is what one map says of a part.
type Lay struct {
	Method string `json:"method,omitempty"`  // how it was laid flat
	ByHand bool   `json:"by_hand,omitempty"` // somebody changed its seams or place
	Note   string `json:"note,omitempty"`    // what could not be done, in plain words

	Projection *unroll.Projection `json:"projection,omitempty"` // how people want it laid; replaced, never changed

	Weight float64 `json:"weight,omitempty"` // density relative to the common one, 0 means 1

	Signed []Signature `json:"signed,omitempty"` // cells of the card that people accepted; replaced, never changed
}

// Signature is a cell of the route card that a person accepted, as it was then: it counts no
// longer when what it is about became another thing, or worse.
type Signature struct {
	Station  int        `json:"station"` // by number, of the columns of the card
	Shape    shape.Kind `json:"shape"`
	Faces    int        `json:"faces"`
	Shells   int        `json:"shells,omitempty"`
	Stretch  float64    `json:"stretch,omitempty"` // worst angular stretch of its shells, 95 % of their area
	Grain    float64    `json:"grain,omitempty"`   // worst error of the grain, degrees
	Findings int        `json:"findings,omitempty"`
}

// same tells whether two maps say the same of a part.
func (l Lay) same(k Lay) bool { return reflect.DeepEqual(l, k) }

// Piece is what was read within a part: a primitive, or something that has pieces itself.
type Piece struct {
	Fit    shape.Fit     `json:"fit"`
	Faces  []mesh.FaceID `json:"faces"`
	Pieces []Piece       `json:"pieces,omitempty"`
}

// runsAlong is 1 for parts that run along an axis as bars do, -1 for those whose grain
// goes around it, 0 for others.
func (p *Part) runsAlong(axis r3.Vec) float64 {
	switch {
	case p.Fit.Bent(), p.Fit.Kind.Traits().Axis == shape.Ring && math.Abs(r3.Dot(p.Fit.Axis, axis)) < 0.5: // an elbow
		return 1
	case math.Abs(r3.Dot(p.Fit.Axis, axis)) < math.Cos(math.Pi/180):
		return 0
	case p.Grain.Mode == flow.Along:
		return 1
	case p.Grain.Mode == flow.Around:
		return -1
	}
	return 0
}

// PieceBorder is where some faces of different pieces meet uncut, and which piece each is of, from 1; 0 for
// those of none.
func PieceBorder(m *mesh.Mesh, faces []mesh.FaceID, list []Piece, isCut func(mesh.EdgeID) bool) (border []mesh.EdgeID, of map[mesh.FaceID]int) {
	of = map[mesh.FaceID]int{}
	for k, q := range list {
		for _, f := range q.Faces {
			of[f] = k + 1
		}
	}
	for _, e := range m.EdgesWithin(faces) {
		if f, g := m.EdgeFaces(e); of[f] != of[g] && !isCut(e) {
			border = append(border, e)
		}
	}
	return border, of
}

// PiecesOf is what was read within a part, as it is kept with it; AsParts the other way round.
func PiecesOf(list []parts.Part) (out []Piece) {
	for _, p := range list {
		out = append(out, Piece{p.Fit, p.Faces, PiecesOf(p.Pieces)})
	}
	return out
}

// AsParts is the other way round.
func AsParts(list []Piece) (out []parts.Part) {
	for _, q := range list {
		out = append(out, parts.Part{Faces: q.Faces, Fit: q.Fit, Pieces: AsParts(q.Pieces)})
	}
	return out
}
