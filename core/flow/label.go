package flow

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// Label is an area of the model with a word that is to read upright: what is painted
// upright on the sheet must come out upright there, and not mirrored.
type Label struct {
	Word  string        `json:"word"`
	Faces []mesh.FaceID `json:"faces"`
	Up    r3.Vec        `json:"up"` // unit, where the tops of its letters point

	Quarters int `json:"quarters,omitempty"` // turns from how it would stand by itself
}

// nearLoops is how far the up of the model may be from the edges of a label for it to
// stand along them, as on a plate that is screwed on a little askew.
const nearLoops = 15 * math.Pi / 180

// NewLabel makes a label of faces, by quarter turns from how it would stand by itself,
// counter-clockwise as seen from outside: along its edges, as near to up as they allow;
// what lies flat has its top away from the reader, toward back. ok is false where the
// faces look all ways.
func NewLabel(m *mesh.Mesh, word string, faces []mesh.FaceID, s Settings, quarters int) (l Label, ok bool) {
	var n r3.Vec
	var area float64
	for _, f := range faces {
		n, area = r3.Add(n, r3.Scale(m.FaceAreas()[f], m.FaceNormals()[f])), area+m.FaceAreas()[f]
	}
	if r3.Norm(n) < 0.3*area || area == 0 {
		return l, false
	}
	n = unit(n)
	v := r3.Sub(s.Up, r3.Scale(r3.Dot(s.Up, n), n))
	if r3.Norm(v) < 0.1 {
		v = r3.Sub(s.Back, r3.Scale(r3.Dot(s.Back, n), n))
	}
	v = unit(v)
	if d, found := prevailing(m, faces, n); found {
		d = unit(r3.Sub(d, r3.Scale(r3.Dot(d, n), n)))
		for range 4 {
			if d = r3.Cross(n, d); mesh.Angle(d, v) < nearLoops {
				v = d
				break
			}
		}
	}
	for range (quarters%4 + 4) % 4 {
		v = r3.Cross(n, v)
	}
	return Label{Word: word, Faces: faces, Up: v, Quarters: quarters}, true
}

// Upright turns the map of a patch in place so that the label stands exactly upright on
// the sheet; nothing happens where the patch has none of it.
func (l Label) Upright(p *mesh.Patch, uv []r2.Vec) {
	own := ids.Set(l.Faces)
	d, has := p.Differentials(uv)
	var up r2.Vec
	for i := range d {
		if has[i] && own[p.Faces[p.TriFace[i]]] {
			up = r2.Add(up, r2.Scale(d[i].Area, d[i].Push(l.Up)))
		}
	}
	if r2.Norm(up) > 0 {
		Turn(uv, math.Pi/2-math.Atan2(up.Y, up.X))
	}
}
