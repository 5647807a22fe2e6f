package demo

import (
	"bytes"
	"context"
	"encoding/json"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/models"
	"morvek/store"
)

// flattened is what the careless modeler left in the nodes: heights are stored at half and drawn at
// twice their size.
const flattened = 2

// How often what goes wrong: a face in so many.
const (
	everyOwn     = 11 // has a corner of its own beside that of its neighbours
	everyTurned  = 43
	everyDoubled = 307
	everyFold    = 401
)

// CarelessFile is the Careless winch as it was brought in, glTF: doubled points, an uneven scale in
// its nodes, faces turned over, faces twice, folds, and a junk map.
func CarelessFile() ([]byte, error) {
	m, err := models.Find("line-winch")
	if err != nil {
		return nil, err
	}
	clean, err := m.Mesh()
	if err != nil {
		return nil, err
	}
	b := mesh.NewBuilder()
	low := func(p r3.Vec) r3.Vec { return r3.Vec{X: p.X, Y: p.Y / flattened, Z: p.Z} }
	for _, p := range clean.Points {
		b.Point(low(p))
	}
	beside := r3.Vec{X: 1e-7 * clean.Diagonal()}
	junk := models.JunkMap(clean)
	for i, t := range clean.Triangles().Corner {
		f := clean.FaceOf(t[0])
		b.Object(clean.ObjectName(f))
		b.Material(clean.MaterialName(f))
		add := func(points []mesh.PointID) {
			for k, p := range points {
				uv := junk.At(t[k%3])
				b.Corner(p, b.UV(uv), mesh.None)
			}
			b.EndFace()
		}
		pts := []mesh.PointID{clean.From(t[0]), clean.From(t[1]), clean.From(t[2])}
		if i%everyOwn == 0 {
			pts[1] = b.Point(low(r3.Add(clean.Points[pts[1]], beside)))
		}
		if i%everyTurned == 0 {
			slices.Reverse(pts)
		}
		add(pts)
		if i%everyDoubled == 0 {
			add(pts)
		}
		if i%everyFold == 0 {
			add([]mesh.PointID{pts[0], pts[1], pts[1]})
		}
	}
	spoilt, err := b.Build()
	if err != nil {
		return nil, err
	}
	var file bytes.Buffer
	if err := meshio.Write(&file, "winch.gltf", spoilt, meshio.SourceMaps(spoilt)); err != nil {
		return nil, err
	}
	var all map[string]any
	if err := json.Unmarshal(file.Bytes(), &all); err != nil {
		return nil, err
	}
	nodes, _ := all["nodes"].([]any)
	for _, n := range nodes {
		if n, ok := n.(map[string]any); ok {
			n["scale"] = [3]float64{1, flattened, 1}
		}
	}
	return json.Marshal(all)
}

// careless is the winch of somebody in a hurry, as it came.
func careless(ctx context.Context) (n store.NewDocument, err error) {
	const name = "careless-winch.gltf"
	data, err := CarelessFile()
	if err != nil {
		return n, err
	}
	m, err := meshio.Read(ctx, name, meshio.Input{Data: data})
	if err != nil {
		return n, err
	}
	state, err := document.New(m, document.DefaultSettings()).State.MarshalBinary()
	if err != nil {
		return n, err
	}
	return store.NewDocument{Title: "Careless winch", About: "The winch as somebody in a hurry exported it: see what came in, and repair it", FileName: name,
		Source: data, Faces: m.NumFaces(), Points: m.NumPoints(), State: state}, nil
}
