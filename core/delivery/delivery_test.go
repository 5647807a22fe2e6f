package delivery_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"errors"
	"image/png"
	"io"
	"math"
	"path"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/mapedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/core/pipeline"
)

const dot = "\x89PNG\r\n\x1a\nmade up"

// can is a finished can of two maps whose materials have a colour and a picture.
func can(t *testing.T) (*document.Document, []byte) {
	t.Helper()
	file := append([]byte("mtllib shed.mtl\nusemtl tin\n"), meshtest.CanFile(12)...)
	m, err := meshio.Read(context.Background(), "can.obj", meshio.Input{Data: file, Beside: func(name string) ([]byte, error) {
		switch name {
		case "shed.mtl":
			return []byte("newmtl tin\nKd 0.25 0.5 0.75\nmap_Kd dot.png\n"), nil
		case "dot.png":
			return []byte(dot), nil
		}
		return nil, errors.New("not there")
	}})
	if err != nil {
		t.Fatal(err)
	}
	res, err := pipeline.Run(context.Background(), document.New(m, document.DefaultSettings()), nil)
	if err != nil {
		t.Fatal(err)
	}
	d := edittest.Apply(t, res.Doc, &mapedits.Make{Name: "Board & rope", Purpose: document.Tiling, Faces: []mesh.FaceID{0}})
	s, ok := d.State.Through(1)
	if !ok {
		t.Fatal("the first map is gone")
	}
	return d.With(s), file
}

func everything() (all []string) {
	for _, i := range delivery.Items() {
		all = append(all, i.Name)
	}
	return all
}

// made is a delivery, unpacked.
func made(t *testing.T, d *document.Document, from delivery.Source, o delivery.Order) (data []byte, files map[string][]byte) {
	t.Helper()
	var b bytes.Buffer
	list, err := delivery.Write(context.Background(), &b, d, from, o, nil)
	if err != nil {
		t.Fatal(err)
	}
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	files = map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		if files[f.Name] != nil {
			t.Errorf("%s is there twice", f.Name)
		}
		if files[f.Name], err = io.ReadAll(r); err != nil {
			t.Fatal(err)
		}
	}
	var said struct{ Files []delivery.File }
	if err := json.Unmarshal(files["delivery.json"], &said); err != nil {
		t.Fatal(err)
	}
	if len(said.Files) != len(files)-1 || len(list) != len(files) {
		t.Errorf("%d files, the list has %d", len(files), len(said.Files))
	}
	for _, f := range said.Files {
		if sum := sha256.Sum256(files[f.Name]); hex.EncodeToString(sum[:]) != f.SHA256 || f.Bytes != len(files[f.Name]) {
			t.Errorf("%s is not what the list says", f.Name)
		}
	}
	return b.Bytes(), files
}

// sameMap tells whether a map that was read is one of a document.
func sameMap(d *document.Document, s *document.State, m *mesh.Mesh, uv meshio.UV) bool {
	want := d.With(s).Written(meshioFormat)[0].UV
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		a, there := want(h)
		b, got := uv(h)
		if there != got || there && r2.Norm(r2.Sub(a, b)) > 1e-6 {
			return false
		}
	}
	return true
}

var meshioFormat, _ = meshio.Of("x.obj")

// All that can be delivered is, of both maps, the same each time; what is read back is what went out.
func TestEverythingIsDelivered(t *testing.T) {
	d, _ := can(t)
	o := delivery.Order{Items: everything(), Size: 128}
	from := delivery.Source{Name: "can.obj"}
	once, files := made(t, d, from, o)
	if twice, _ := made(t, d, from, o); !bytes.Equal(once, twice) {
		t.Error("the same delivery has other bytes")
	}
	second, _ := d.State.Through(2)
	for _, name := range []string{"can.glb", "can.gltf", "can.ply"} {
		m, err := meshio.Read(context.Background(), name, meshio.Input{Data: files[name]})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if maps := meshio.SourceMaps(m); len(maps) != 2 {
			t.Errorf("%s has %d maps", name, len(maps))
		} else if name == "can.ply" && !(sameMap(d, d.State, m, maps[0].UV) && sameMap(d, second, m, maps[1].UV)) {
			t.Errorf("%s has other maps", name)
		}
	}
	pictures := 0
	for name, data := range files {
		switch path.Ext(name) {
		case ".png":
			if name == "can-01.png" { // of a material
				break
			}
			pictures++
			if img, err := png.Decode(bytes.NewReader(data)); err != nil || img.Bounds().Dy() != 128 {
				t.Errorf("%s: %v", name, err)
			}
		case ".csv":
			if rows, err := csv.NewReader(bytes.NewReader(data)).ReadAll(); err != nil || len(rows) == 0 {
				t.Errorf("%s: %v", name, err)
			}
		case ".json", ".gltf":
			if !json.Valid(data) {
				t.Errorf("%s is no JSON", name)
			}
		}
	}
	for _, want := range []string{"can.obj", "can.map2.obj", "shed.mtl", "can-map-1-template.svg", "can-board-rope-template.ora", "masks-map-1/part.png", "masks-map-1/part/001-wall.png", "masks-board-rope/material/001-tin.png",
		"can-map-1-normals.png", "can-board-rope-exposure.png", "can-map-1-report.json", "can-map-1-parts.csv"} {
		if files[want] == nil {
			var all []string
			for n := range files {
				all = append(all, n)
			}
			slices.Sort(all)
			t.Errorf("there is no %s among %s", want, strings.Join(all, ", "))
		}
	}
	if pictures < 16 {
		t.Errorf("%d pictures", pictures)
	}
}

// An OBJ goes out with its materials and, where a file holds one map, the others beside it; what
// went out comes in again as it was.
func TestAnOBJComesBackWithItsMaterialsAndMaps(t *testing.T) {
	d, file := can(t)
	data, files := made(t, d, delivery.Source{Name: "can.obj", Data: file}, delivery.Order{Items: []string{"obj", "report.csv"}})
	m, err := meshio.Read(context.Background(), "can.zip", meshio.Input{Data: data})
	if err != nil {
		t.Fatal(err)
	}
	second, _ := d.State.Through(2)
	maps := meshio.SourceMaps(m)
	if len(maps) != 2 || !sameMap(d, d.State, m, maps[0].UV) || !sameMap(d, second, m, maps[1].UV) {
		t.Errorf("%d maps came back, or others", len(maps))
	}
	if len(m.Looks) != 1 || m.Looks[0].Color != d.Source.Looks[0].Color || string(m.Looks[0].Picture) != dot {
		t.Errorf("materials look like %+v\n%s", m.Looks, files["shed.mtl"])
	}
	if bytes.Equal(files["can.obj"], file) {
		t.Error("the file with a map is the one without")
	}
	plain := document.New(d.Source, document.DefaultSettings())
	if _, files = made(t, plain, delivery.Source{Name: "can.obj", Data: file}, delivery.Order{Items: []string{"obj"}}); !bytes.Equal(files["can.obj"], file) {
		t.Error("where nothing was changed the file is not as it came")
	}
}

func TestOrdersThatCannotBe(t *testing.T) {
	d, _ := can(t)
	for name, o := range map[string]delivery.Order{
		"nothing": {}, "a drawing of something else": {Items: []string{"template.pdf"}}, "another map": {Items: []string{"obj"}, Maps: []document.MapID{7}},
		"tiny": {Items: []string{"obj"}, Size: 3}, "huge": {Items: []string{"obj"}, Size: 1 << 20}, "wide lines": {Items: []string{"obj"}, Line: 1e9}, "no number": {Items: []string{"obj"}, Line: math.NaN()},
	} {
		var b bytes.Buffer
		if _, err := delivery.Write(context.Background(), &b, d, delivery.Source{Name: "can.obj"}, o, nil); !errors.Is(err, document.ErrRefused) || b.Len() > 0 {
			t.Errorf("%s: %v", name, err)
		}
	}
	for _, item := range everything() {
		ctx, cancel := context.WithCancel(context.Background())
		_, err := delivery.Write(ctx, io.Discard, d, delivery.Source{Name: "can.obj"}, delivery.Order{Items: []string{item, "report.csv"}, Size: 64}, func(string, float64) { cancel() })
		if item != "report.csv" && !errors.Is(err, context.Canceled) {
			t.Errorf("%s, cancelled: %v", item, err)
		}
	}
}

// A sheet of several tiles has a picture for each, by its number.
func TestTilesHavePicturesOfTheirOwn(t *testing.T) {
	d, _ := can(t)
	set := d.State.Settings
	set.Sheet.Tiles = 2
	x := d.State.Begin()
	x.Settings = set
	d = d.With(x.Done())
	_, files := made(t, d, delivery.Source{Name: "can.obj"}, delivery.Order{Items: []string{"mask.part", "bake.normals"}, Maps: []document.MapID{1}, Size: 64})
	for _, want := range []string{"can-map-1.1001-normals.png", "can-map-1.1002-normals.png", "masks-map-1.1002/part.png"} {
		if files[want] == nil {
			t.Errorf("there is no %s", want)
		}
	}
}
