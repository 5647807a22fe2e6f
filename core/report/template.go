package report

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/template"
)

// Template returns what the painter's template shows.
func Template(d *document.Document) template.Sheet {
	s := d.State
	m := d.Mesh
	set := s.Settings.Sheet
	out := template.Sheet{Tiles: set.Tiles, Wide: set.Wide, Padding: set.Padding / float64(set.Size)}
	shells, of := s.Map.Shells()
	stacks := s.Stacks()
	for i, sh := range shells {
		t := template.Shell{Up: upOnSheet(d, sh.Faces)}
		if p := s.PartOf(sh.Faces[0]); p >= 0 {
			t.Name = s.Parts[p].Name
		}
		if k := stacks.Of(sh.Faces[0]); k >= 0 {
			t.Copies = len(stacks.Shells(k))
		}
		_, t.Below = stacks.Lying(sh.Faces[0]) // the lowest is named
		for _, f := range sh.Faces {
			part, material := int(s.PartOf(f)), int(m.FaceMaterial[f])
			for _, tri := range s.Map.Triangles([]mesh.FaceID{f}) {
				t.Fill = append(t.Fill, template.Patch{P: tri, Part: part, Material: material})
			}
			lo, hi := m.Corners(f)
			for h := lo; h < hi; h++ {
				l := template.Line{A: s.Map.At(h), B: s.Map.At(m.Next(h))}
				switch tw := m.Twin(h); {
				case tw == mesh.None || of[m.FaceOf(tw)] != int32(i) || s.Map.Ends(m.Edge(h)):
					t.Border = append(t.Border, l)
				case h < tw:
					t.Inner = append(t.Inner, l)
				}
			}
		}
		out.Shells = append(out.Shells, t)
	}
	return out
}

// standing is how much of a shell, by area, must agree on what is up for an arrow to say it.
const standing = 0.3

// upOnSheet is the way on the sheet that leads up on the model for most of a shell, as a unit vector;
// zero where it lies flat or runs round.
func upOnSheet(d *document.Document, faces []mesh.FaceID) r2.Vec {
	m, at := d.Mesh, d.State.Map.At
	up := d.State.Settings.Up.Vec()
	var sum r2.Vec
	area := 0.0
	tris := m.Triangles()
	for _, f := range faces {
		for _, c := range tris.Corner[tris.FaceStart[f]:tris.FaceStart[f+1]] {
			p := m.Points[m.From(c[0])]
			e1, e2 := r3.Sub(m.Points[m.From(c[1])], p), r3.Sub(m.Points[m.From(c[2])], p)
			u1, u2 := r2.Sub(at(c[1]), at(c[0])), r2.Sub(at(c[2]), at(c[0]))
			n2 := r3.Norm2(r3.Cross(e1, e2))
			if n2 == 0 {
				continue
			}
			// Up within the triangle is a e1 + b e2, and on the sheet a u1 + b u2.
			g11, g12, g22 := r3.Norm2(e1), r3.Dot(e1, e2), r3.Norm2(e2)
			r1, r2d := r3.Dot(up, e1), r3.Dot(up, e2)
			way := r2.Add(r2.Scale((g22*r1-g12*r2d)/n2, u1), r2.Scale((g11*r2d-g12*r1)/n2, u2))
			scale := math.Sqrt(math.Abs(r2.Cross(u1, u2)) / math.Sqrt(n2)) // sheet units in one of the model
			if a := math.Sqrt(n2); scale > 0 {
				sum = r2.Add(sum, r2.Scale(a/scale, way))
				area += a
			}
		}
	}
	n := r2.Norm(sum)
	if !(n > standing*area) {
		return r2.Vec{}
	}
	return r2.Scale(1/n, sum)
}
