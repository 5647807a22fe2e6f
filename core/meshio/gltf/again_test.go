package gltf

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// rich is a file with much that is no mesh: a skin, an animation, morph targets, lines, a mesh
// nobody uses, an instanced and a mirrored node, an own picture, extras.
func rich() []byte {
	s := &scene{}
	attr, idx := square(s)
	joints := s.accessor(`{"bufferView":%d,"componentType":5121,"count":4,"type":"VEC4"}`, s.view(make([]byte, 16), ""))
	weights := s.floats("VEC4", 4, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0)
	morph := s.floats("VEC3", 3, 0, 0, 0, 0, 0, 0, 0, 0, 0.5, 0, 0, 0.25)
	bind := s.floats("MAT4", 16, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1)
	times := s.floats("SCALAR", 1, 0, 1)
	moves := s.floats("VEC3", 3, 0, 0, 0, 0, 0, 2)
	picture := s.view([]byte("\x89PNG\r\n\x1a\nnot really"), "")
	return s.glb(fmt.Sprintf(`"scene":0,"scenes":[{"nodes":[0,1,2,3]}],"extras":{"station":"Fennhollow"},"extensionsUsed":["KHR_materials_unlit"],
		"nodes":[{"name":"cloth","mesh":0,"skin":0},{"name":"joint"},{"name":"left","mesh":1,"translation":[0,3,0]},{"name":"right","mesh":1,"scale":[-1,1,1]}],
		"meshes":[{"name":"cloth","weights":[0],"primitives":[{"attributes":{%[1]s,"JOINTS_0":%[3]d,"WEIGHTS_0":%[4]d},"indices":%[2]d,"material":0,"targets":[{"POSITION":%[5]d}]}]},
			{"name":"sign","primitives":[{"attributes":{%[1]s},"indices":%[2]d},{"mode":1,"attributes":{"POSITION":0}}]},
			{"name":"spare","primitives":[{"attributes":{%[1]s},"indices":%[2]d}]}],
		"materials":[{"name":"ash","pbrMetallicRoughness":{"baseColorTexture":{"index":0},"roughnessFactor":0.30000000000000004}}],
		"textures":[{"source":0}],"images":[{"name":"grain","bufferView":%[9]d,"mimeType":"image/png"}],
		"skins":[{"joints":[1],"inverseBindMatrices":%[6]d}],
		"animations":[{"name":"sway","samplers":[{"input":%[7]d,"output":%[8]d}],"channels":[{"sampler":0,"target":{"node":1,"path":"translation"}}]}]`,
		attr, idx, joints, weights, morph, bind, times, moves, picture))
}

func description(t *testing.T, glb []byte) map[string]any {
	t.Helper()
	text, _, err := chunks(glb)
	if err != nil {
		t.Fatal(err)
	}
	var out map[string]any
	if err := json.Unmarshal(text, &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// With other maps everything else of a file stays: what is no mesh word by word, what vertices had
// with each of those they became.
func TestWhatIsNoMapStays(t *testing.T) {
	file := rich()
	m := read(t, file)
	if m.NumFaces() != 6 {
		t.Fatalf("%d faces", m.NumFaces())
	}
	uv := func(h mesh.HalfedgeID) (r2.Vec, bool) { // every corner a place of its own
		return r2.Vec{X: float64(h) / 32, Y: float64(h%7) / 8}, true
	}
	var b bytes.Buffer
	if err := WriteBinary(&b, m, []format.Map{{UV: uv}, {UV: format.SourceUV(m)}}); err != nil {
		t.Fatal(err)
	}
	was, is := description(t, file), description(t, b.Bytes())
	for _, same := range []string{"asset", "scene", "scenes", "extras", "materials", "textures", "extensionsUsed"} {
		if !reflect.DeepEqual(was[same], is[same]) {
			t.Errorf("%s was %v and is %v", same, was[same], is[same])
		}
	}
	if !bytes.Contains(b.Bytes(), []byte("0.30000000000000004")) {
		t.Error("numbers are written otherwise than they came")
	}
	again := read(t, b.Bytes())
	if again.NumFaces() != m.NumFaces() || !slices.Equal(again.Objects, m.Objects) {
		t.Fatalf("read again it has %d faces of %q", again.NumFaces(), again.Objects)
	}
	maps := format.SourceMaps(again)
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		if m.Points[m.From(h)] != again.Points[again.From(h)] || m.Normals[m.CornerNormal[h]] != again.Normals[again.CornerNormal[h]] {
			t.Fatalf("corner %d was moved", h)
		}
		want, _ := uv(h)
		if got, ok := maps[0].UV(h); !ok || r2.Norm(r2.Sub(got, want)) > 1e-7 {
			t.Fatalf("corner %d has %v, not %v", h, got, want)
		}
		before, _ := format.SourceUV(m)(h)
		if got, ok := maps[1].UV(h); !ok || got != before {
			t.Fatalf("corner %d has %v in the second map, not %v", h, got, before)
		}
	}
	// The parts nobody reads are still read by those who do.
	s, err := open(format.Input{Data: b.Bytes()})
	if err != nil {
		t.Fatal(err)
	}
	cloth := s.doc.Meshes[*s.doc.Nodes[0].Mesh].Primitives[0]
	for _, name := range []string{"JOINTS_0", "WEIGHTS_0"} {
		if a, err := s.elements(cloth.Attributes[name]); err != nil || a.count != 6 {
			t.Errorf("%s of six vertices: %d, %v", name, a.count, err)
		}
	}
	if a, err := s.elements(cloth.Targets[0]["POSITION"]); err != nil || a.count != 6 || a.number(2, 2) != 0.5 {
		t.Errorf("the morph target has %d vertices, %v", a.count, err)
	}
	if *s.doc.Nodes[2].Mesh == *s.doc.Nodes[3].Mesh {
		t.Error("two nodes with different maps share a mesh")
	}
	var rest struct {
		Skins      []struct{ InverseBindMatrices int }
		Animations []struct{ Samplers []struct{ Input, Output int } }
		Images     []struct{ BufferView int }
	}
	text, _, _ := chunks(b.Bytes())
	if err := json.Unmarshal(text, &rest); err != nil {
		t.Fatal(err)
	}
	if a, err := s.elements(rest.Animations[0].Samplers[0].Output); err != nil || a.number(1, 2) != 2 {
		t.Errorf("the animation moves otherwise: %v", err)
	}
	if a, err := s.elements(rest.Skins[0].InverseBindMatrices); err != nil || a.number(0, 15) != 1 {
		t.Errorf("the skin is bound otherwise: %v", err)
	}
	v := s.doc.BufferViews[rest.Images[0].BufferView]
	if got := s.buffers[0][v.ByteOffset : v.ByteOffset+v.ByteLength]; !strings.HasPrefix(string(got), "\x89PNG") {
		t.Error("the picture is another")
	}
	if len(s.doc.Meshes) != 4 || len(s.doc.Meshes[1].Primitives) != 2 {
		t.Errorf("%d meshes, %d primitives", len(s.doc.Meshes), len(s.doc.Meshes[1].Primitives))
	}
}

// Twice written it is the same file, whatever order its attributes are gone through in.
func TestWritingIsDeterministic(t *testing.T) {
	var first bytes.Buffer
	for range 12 {
		var b bytes.Buffer
		m := read(t, rich())
		if err := WriteBinary(&b, m, format.SourceMaps(m)); err != nil {
			t.Fatal(err)
		}
		if first.Len() == 0 {
			first = b
		} else if !bytes.Equal(first.Bytes(), b.Bytes()) {
			t.Fatal("it is another file each time")
		}
	}
}

// With the maps it came with, a file that is used in several nodes stays one mesh.
func TestInstancesStayInstances(t *testing.T) {
	m := read(t, rich())
	var b bytes.Buffer
	if err := WriteBinary(&b, m, format.SourceMaps(m)); err != nil {
		t.Fatal(err)
	}
	s, err := open(format.Input{Data: b.Bytes()})
	if err != nil || len(s.doc.Meshes) != 3 || *s.doc.Nodes[2].Mesh != *s.doc.Nodes[3].Mesh {
		t.Errorf("%d meshes, %v", len(s.doc.Meshes), err)
	}
	if again := read(t, b.Bytes()); again.NumPoints() != m.NumPoints() || !slices.Equal(again.CornerPoint, m.CornerPoint) {
		t.Errorf("%d points became %d", m.NumPoints(), again.NumPoints())
	}
}

// An extension nobody knows may refer to anything: then all numbers stay.
func TestUnknownExtensionsKeepTheirNumbers(t *testing.T) {
	file := bytes.Replace(rich(), []byte(`"KHR_materials_unlit"`), []byte(`"FENN_material_wears"`), 1)
	m := read(t, file)
	var b bytes.Buffer
	if err := WriteBinary(&b, m, format.SourceMaps(m)); err != nil {
		t.Fatal(err)
	}
	was, is := description(t, file), description(t, b.Bytes())
	for _, name := range []string{"images", "skins", "animations"} {
		if !reflect.DeepEqual(was[name], is[name]) {
			t.Errorf("%s was %v and is %v", name, was[name], is[name])
		}
	}
	if n, k := len(was["accessors"].([]any)), len(is["accessors"].([]any)); k <= n {
		t.Errorf("%d accessors became %d", n, k)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(rich())
	s := &scene{}
	attr, idx := square(s)
	f.Add(s.glb(fmt.Sprintf(`"nodes":[{"mesh":0,"scale":[1,-2,3]}],"meshes":[{"primitives":[{"mode":5,"attributes":{%s},"indices":%d}]}]`, attr, idx)))
	f.Add([]byte(`{"asset":{"version":"2.0"},"buffers":[{"byteLength":36,"uri":"data:;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}],"bufferViews":[{"buffer":0,"byteLength":36}],"accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"}],"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],"nodes":[{"mesh":0}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		m, err := Read(t.Context(), format.Input{Data: data})
		if err != nil {
			return
		}
		var b bytes.Buffer
		if err := WriteBinary(&b, m, format.SourceMaps(m)); err != nil {
			t.Fatal(err)
		}
		n, err := Read(t.Context(), format.Input{Data: b.Bytes()})
		if err != nil || n.NumFaces() != m.NumFaces() {
			t.Fatalf("what was written cannot be read back: %v", err)
		}
	})
}

// What another format says of its materials is shown: colours, opacity, and the picture, embedded.
func TestMaterialsOfOtherFormats(t *testing.T) {
	b := mesh.NewBuilder()
	for i := range 3 {
		b.Point(r3.Vec{X: float64(i % 2), Y: float64(i / 2)})
	}
	for _, name := range []string{"ash", "tin", "bare"} {
		b.Material(name)
		b.Face(0, 1, 2)
	}
	b.Look("ash", mesh.Look{Color: [4]float32{0.5, 0.25, 0, 0.5}})
	b.Look("tin", mesh.Look{Color: [4]float32{0, 0, 0, 1}, Picture: []byte("\x89PNG\r\n\x1a\nnot really")})
	b.Look("nobody's", mesh.Look{})
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	if err := WriteBinary(&out, m, nil); err != nil {
		t.Fatal(err)
	}
	all := description(t, out.Bytes())
	materials := all["materials"].([]any)
	ash, tin, bare := materials[0].(object), materials[1].(object), materials[2].(object)
	if ash["alphaMode"] != "BLEND" || fmt.Sprint(ash["pbrMetallicRoughness"].(object)["baseColorFactor"]) != "[0.5 0.25 0 0.5]" {
		t.Errorf("ash is %v", ash)
	}
	if tin["pbrMetallicRoughness"].(object)["baseColorTexture"] == nil || len(all["textures"].([]any)) != 1 || len(all["images"].([]any)) != 1 {
		t.Errorf("tin is %v", tin)
	}
	if bare["pbrMetallicRoughness"] != nil {
		t.Errorf("a material nobody described is %v", bare)
	}
	if again := read(t, out.Bytes()); !slices.Equal(again.Materials, m.Materials) {
		t.Errorf("read again its materials are %q", again.Materials)
	}
}
