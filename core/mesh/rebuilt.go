package mesh

import (
	"bytes"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Recut is a face made of corners of another mesh, with the names of a face of it.
type Recut struct {
	Of      FaceID
	Corners []HalfedgeID
	Bare    bool // without the normals, colours and maps of its corners
}

// Recut returns a mesh of other faces on the same points; see Rebuilt.
func (m *Mesh) Recut(faces []Recut) (*Mesh, error) {
	points := make([]PointID, m.NumPoints())
	for i := range points {
		points[i] = PointID(i)
	}
	return m.Rebuilt(points, points, faces)
}

// Whole is a face as it is.
func (m *Mesh) Whole(f FaceID) Recut {
	lo, hi := m.Corners(f)
	r := Recut{Of: f}
	for h := lo; h < hi; h++ {
		r.Corners = append(r.Corners, h)
	}
	return r
}

// Rebuilt returns a mesh of some faces and points of this one, with all they had: names, normals,
// colours, maps. points are those that stay, by their numbers here; to tells for each point of
// this mesh which of them, counted anew, takes its place. What only its own format keeps is lost,
// and that is noted.
func (m *Mesh) Rebuilt(points []PointID, to []PointID, faces []Recut) (*Mesh, error) {
	if len(faces) == 0 {
		return nil, ErrEmpty
	}
	w := &Mesh{Objects: m.Objects, Groups: m.Groups, Materials: m.Materials, Looks: m.Looks, Smoothing: m.Smoothing, Libraries: m.Libraries,
		Normals: m.Normals, SourceUV: m.SourceUV, Colors: m.Colors, Baked: m.Baked, Lost: m.Lost, FaceStart: []int32{0}}
	if m.Kept != nil {
		w.Lost = append(slices.Clone(w.Lost), "what the file held beside its mesh, since the mesh was repaired")
	}
	for i, p := range points {
		w.Points = append(w.Points, m.Points[p])
		if tail := m.Tails.Of(p); len(tail) > 0 {
			if w.Tails == nil {
				w.Tails = &Tails{}
			}
			w.Tails.Add(i, bytes.Clone(tail))
		}
	}
	for _, l := range m.Layers {
		w.Layers = append(w.Layers, Layer{Name: l.Name, UV: l.UV})
	}
	bare := false
	pick := func(into *[]int32, from []int32, h HalfedgeID) {
		switch {
		case from == nil:
		case bare:
			*into = append(*into, None)
		default:
			*into = append(*into, from[h])
		}
	}
	before := make([]int32, m.NumFaces()+1) // new faces before a face of this mesh
	for _, f := range faces {
		if len(f.Corners) < 3 {
			return nil, fmt.Errorf("face %d would have %d corners", f.Of+1, len(f.Corners))
		}
		bare = f.Bare
		for _, h := range f.Corners {
			p := to[m.CornerPoint[h]]
			if p < 0 || int(p) >= len(points) {
				return nil, fmt.Errorf("face %d would lose a point", f.Of+1)
			}
			w.CornerPoint = append(w.CornerPoint, p)
			pick(&w.CornerUV, m.CornerUV, h)
			pick(&w.CornerNormal, m.CornerNormal, h)
			pick(&w.CornerColor, m.CornerColor, h)
			for i, l := range m.Layers {
				pick(&w.Layers[i].Corner, l.Corner, h)
			}
		}
		w.FaceStart = append(w.FaceStart, int32(len(w.CornerPoint)))
		w.FaceObject = append(w.FaceObject, m.FaceObject[f.Of])
		w.FaceGroup = append(w.FaceGroup, m.FaceGroup[f.Of])
		w.FaceMaterial = append(w.FaceMaterial, m.FaceMaterial[f.Of])
		w.FaceSmoothing = append(w.FaceSmoothing, m.FaceSmoothing[f.Of])
		before[f.Of+1]++
	}
	for i := range m.NumFaces() {
		before[i+1] += before[i]
	}
	for _, a := range m.Asides {
		a.Faces = before[min(int(a.Faces), m.NumFaces())]
		if text, ok := renumbered(a.Text, to); ok {
			w.Asides = append(w.Asides, Aside{text, a.Faces})
		}
	}
	w.connect()
	return w, nil
}

// renumbered is a line that is no part of the mesh, with the points that a wire names as they are
// numbered now; false for a wire whose points are gone.
func renumbered(text string, to []PointID) (string, bool) {
	if strings.HasPrefix(text, "#") {
		return text, true
	}
	words := strings.Fields(text)
	for i := 1; i < len(words); i++ {
		n, err := strconv.Atoi(words[i])
		if err != nil || n < 1 || n > len(to) || to[n-1] == None {
			return "", false
		}
		words[i] = strconv.Itoa(int(to[n-1]) + 1)
	}
	return strings.Join(words, " "), true
}
