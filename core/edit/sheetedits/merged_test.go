package sheetedits_test

import (
	"bytes"
	"context"
	"math"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/meshio"
)

// A box of triangles is worked on as the six sides it was: it is stored and opened so, and what is
// written has the triangles, each with the places of its side.
func TestTrianglesAreWorkedOnAsPolygons(t *testing.T) {
	quads := edittest.Cuboid(t, 3, 1, 2)
	b := mesh.NewBuilder()
	for _, p := range quads.Points {
		b.Point(p)
	}
	for _, c := range quads.Triangles().Corner {
		b.Face(quads.From(c[0]), quads.From(c[1]), quads.From(c[2]))
	}
	source, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	set := document.DefaultSettings()
	set.Merged = true
	d := document.New(source, set)
	if d.Mesh.NumFaces() != quads.NumFaces() || d.Source.NumFaces() != 2*quads.NumFaces() || len(d.Health()) != 0 {
		t.Fatalf("%d faces of %d, %v", d.Mesh.NumFaces(), d.Source.NumFaces(), d.Health())
	}
	whole := edittest.Attached(t, d.Mesh, 0.5)
	d = d.With(whole.State)
	d.State.Settings.Merged = true
	d = edittest.Restored(t, edittest.Apply(t, d, &sheetedits.Set{Settings: document.DefaultSettings()}, &sheetedits.Pack{}))
	if !d.State.Settings.Merged || d.Mesh.NumFaces() != quads.NumFaces() {
		t.Fatalf("opened again it has %d faces", d.Mesh.NumFaces())
	}
	var file bytes.Buffer
	f, _ := meshio.Of("box.obj")
	if err := f.Write(&file, d.Source, d.Written(f)); err != nil {
		t.Fatal(err)
	}
	m, err := meshio.Read(context.Background(), "box.obj", meshio.Input{Data: file.Bytes()})
	if err != nil {
		t.Fatal(err)
	}
	was, is := edittest.Measure(d).Totals, edittest.Measure(document.New(m, document.DefaultSettings())).Totals
	if m.NumFaces() != source.NumFaces() || is.Unmapped != 0 || math.Abs(is.Coverage-was.Coverage) > 1e-9 || is.OverlapShare != 0 || is.L2 > 1+1e-9 {
		t.Errorf("written it measures %+v, it was %+v", is, was)
	}
}
