package report

import (
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/template"
)

// Template returns what the painter's template shows.
func Template(d *document.Document) template.Sheet {
	s := d.State
	m := d.Mesh
	out := template.Sheet{Tiles: s.Settings.Sheet.Tiles, Wide: s.Settings.Sheet.Wide}
	shells, of := s.Map.Shells()
	for i, sh := range shells {
		t := template.Shell{Part: int(s.PartOf(sh.Faces[0]))}
		if t.Part >= 0 {
			t.Name = s.Parts[t.Part].Name
		}
		for _, tri := range s.Map.Triangles(sh.Faces) {
			t.Fill = append(t.Fill, tri)
		}
		for _, f := range sh.Faces {
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
		t.Label, t.Room = labelPlace(t.Fill)
		out.Shells = append(out.Shells, t)
	}
	return out
}

// labelPlace returns the middle of the largest triangle's surroundings: the
// area centre, which lies inside most shells, and the width there.
func labelPlace(tris [][3]r2.Vec) (at r2.Vec, room float64) {
	var pts []r2.Vec
	var area float64
	for _, t := range tris {
		a := planar.Triangle(t).Area()
		if a < 0 {
			a = -a
		}
		at = r2.Add(at, r2.Scale(a/3, r2.Add(t[0], r2.Add(t[1], t[2]))))
		area += a
		pts = append(pts, t[:]...)
	}
	if area > 0 {
		at = r2.Scale(1/area, at)
	}
	size := planar.Bounds(pts...).Size()
	return at, size.X
}
