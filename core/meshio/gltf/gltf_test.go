package gltf

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// scene is a file under way.
type scene struct {
	bin       []byte
	views     []string
	accessors []string
}

func (s *scene) view(data []byte, more string) int {
	for len(s.bin)%4 != 0 {
		s.bin = append(s.bin, 0)
	}
	s.views = append(s.views, fmt.Sprintf(`{"buffer":0,"byteOffset":%d,"byteLength":%d%s}`, len(s.bin), len(data), more))
	s.bin = append(s.bin, data...)
	return len(s.views) - 1
}

func (s *scene) accessor(text string, args ...any) int {
	s.accessors = append(s.accessors, fmt.Sprintf(text, args...))
	return len(s.accessors) - 1
}

func (s *scene) floats(kind string, n int, list ...float32) int {
	var raw []byte
	for _, v := range list {
		raw = binary.LittleEndian.AppendUint32(raw, math.Float32bits(v))
	}
	lo, hi := slices.Clone(list[:n]), slices.Clone(list[:n])
	for i, v := range list {
		lo[i%n], hi[i%n] = min(lo[i%n], v), max(hi[i%n], v)
	}
	a, _ := json.Marshal(lo)
	b, _ := json.Marshal(hi)
	return s.accessor(`{"bufferView":%d,"componentType":5126,"count":%d,"type":%q,"min":%s,"max":%s}`, s.view(raw, ""), len(list)/n, kind, a, b)
}

func (s *scene) shorts(list ...uint16) int {
	var raw []byte
	for _, v := range list {
		raw = binary.LittleEndian.AppendUint16(raw, v)
	}
	return s.accessor(`{"bufferView":%d,"componentType":5123,"count":%d,"type":"SCALAR"}`, s.view(raw, ""), len(list))
}

// text is the description, with more of it.
func (s *scene) text(uri, more string) string {
	return fmt.Sprintf(`{"asset":{"version":"2.0"},"buffers":[{"byteLength":%d%s}],"bufferViews":[%s],"accessors":[%s],%s}`,
		len(s.bin), uri, strings.Join(s.views, ","), strings.Join(s.accessors, ","), more)
}

func (s *scene) glb(more string) []byte {
	text := []byte(s.text("", more))
	for len(text)%4 != 0 {
		text = append(text, ' ')
	}
	for len(s.bin)%4 != 0 {
		s.bin = append(s.bin, 0)
	}
	le := binary.LittleEndian
	b := le.AppendUint32([]byte("glTF"), 2)
	b = le.AppendUint32(b, uint32(28+len(text)+len(s.bin)))
	b = append(le.AppendUint32(le.AppendUint32(b, uint32(len(text))), chunkJSON), text...)
	return append(le.AppendUint32(le.AppendUint32(b, uint32(len(s.bin))), chunkBIN), s.bin...)
}

func read(t testing.TB, data []byte) *mesh.Mesh {
	t.Helper()
	m, err := Read(context.Background(), format.Input{Data: data})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// square is two triangles with coordinates, in a number of sets.
func square(s *scene) (attributes string, indices int) {
	pos := s.floats("VEC3", 3, 0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0)
	nor := s.floats("VEC3", 3, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1)
	uv := s.floats("VEC2", 2, 0, 1, 1, 1, 1, 0, 0, 0)
	return fmt.Sprintf(`"POSITION":%d,"NORMAL":%d,"TEXCOORD_0":%d`, pos, nor, uv), s.shorts(0, 1, 2, 0, 2, 3)
}

// Transforms of nodes in nodes are baked in, mirrored ones turned over, and that is said; normals
// stay across the surface, coordinates are what they were, upwards.
func TestTransformsAreBakedAndSaid(t *testing.T) {
	s := &scene{}
	attr, idx := square(s)
	m := read(t, s.glb(fmt.Sprintf(`"scene":0,"scenes":[{"nodes":[0]}],
		"nodes":[{"name":"rig","scale":[2,2,2],"children":[1,2,3]},{"name":"plate","mesh":0,"scale":[1,3,1],"translation":[0,0,5]},
			{"name":"plate","mesh":0,"scale":[-0.5,0.5,0.5]},{"mesh":0,"matrix":[0,0.5,0,0,-0.5,0,0,0,0,0,0.5,0,7,8,9,1]}],
		"meshes":[{"name":"board","primitives":[{"attributes":{%s},"indices":%d,"material":0}]}],"materials":[{"name":"ash"}]`, attr, idx)))
	if m.NumFaces() != 6 || !slices.Equal(m.Objects, []string{"plate", "plate (2)", "board"}) || m.MaterialName(3) != "ash" {
		t.Fatalf("%d faces of %q", m.NumFaces(), m.Objects)
	}
	for _, c := range []struct {
		corner mesh.HalfedgeID
		want   r3.Vec
	}{{2, r3.Vec{X: 2, Y: 6, Z: 10}}, {12, r3.Vec{X: 14, Y: 16, Z: 18}}, {13, r3.Vec{X: 14, Y: 17, Z: 18}}} {
		if got := m.Points[m.From(c.corner)]; r3.Norm(r3.Sub(got, c.want)) > 1e-12 {
			t.Errorf("corner %d lies at %v, not %v", c.corner, got, c.want)
		}
	}
	for f, n := range m.FaceNormals() {
		h, _ := m.Corners(mesh.FaceID(f))
		if got := m.Normals[m.CornerNormal[h]]; r3.Dot(got, n) < 1-1e-9 {
			t.Errorf("face %d faces %v, its normal is %v", f, n, got)
		}
	}
	said := strings.Join(m.Baked, "; ")
	for _, want := range []string{"node plate: an uneven scale of 2 to 6", "node plate (2): mirrored"} {
		if !strings.Contains(said, want) {
			t.Errorf("said is %q, not %q", said, want)
		}
	}
	if strings.Contains(said, "board") {
		t.Errorf("a node that is only turned is named: %q", said)
	}
	if uv, ok := format.SourceUV(m)(0); !ok || uv != (r2.Vec{}) {
		t.Errorf("the first corner has %v", uv)
	}
}

// Numbers come in every way the format allows.
func TestAllWaysToHoldNumbers(t *testing.T) {
	s := &scene{}
	var inter []byte // position and normal by turns
	le := binary.LittleEndian
	for _, p := range [][3]float32{{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}} {
		for _, v := range append(p[:], 0, 0, 1) {
			inter = le.AppendUint32(inter, math.Float32bits(v))
		}
	}
	view := s.view(inter, `,"byteStride":24`)
	pos := s.accessor(`{"bufferView":%d,"componentType":5126,"count":4,"type":"VEC3"}`, view)
	nor := s.accessor(`{"bufferView":%d,"byteOffset":12,"componentType":5126,"count":4,"type":"VEC3"}`, view)
	uv8 := s.accessor(`{"bufferView":%d,"componentType":5121,"normalized":true,"count":4,"type":"VEC2"}`, s.view([]byte{0, 255, 0, 0, 255, 255, 0, 0, 255, 0, 0, 0, 0, 0, 0, 0}, `,"byteStride":4`))
	var u16 []byte
	for _, v := range []uint16{0, 65535, 0, 0, 65535, 0, 0, 65535} {
		u16 = le.AppendUint16(u16, v)
	}
	uv16 := s.accessor(`{"bufferView":%d,"componentType":5123,"normalized":true,"count":4,"type":"VEC2"}`, s.view(u16, ""))
	col := s.accessor(`{"bufferView":%d,"componentType":5121,"normalized":true,"count":4,"type":"VEC4"}`, s.view([]byte{255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255, 255, 255, 255, 51}, ""))
	sparse := s.accessor(`{"bufferView":%d,"componentType":5126,"count":4,"type":"VEC3","sparse":{"count":1,"indices":{"bufferView":%d,"componentType":5121},"values":{"bufferView":%d}}}`,
		view, s.view([]byte{2}, ""), s.view(floatsOf(9, 8, 7), ""))
	s.accessors[sparse] = strings.Replace(s.accessors[sparse], fmt.Sprintf(`"bufferView":%d,"componentType":5126`, view), fmt.Sprintf(`"bufferView":%d,"componentType":5126`, s.view(floatsOf(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0), "")), 1)
	i8 := s.accessor(`{"bufferView":%d,"componentType":5121,"count":4,"type":"SCALAR"}`, s.view([]byte{0, 1, 3, 2}, ""))
	i32 := s.accessor(`{"bufferView":%d,"componentType":5125,"count":4,"type":"SCALAR"}`, s.view([]byte{0, 0, 0, 0, 1, 0, 0, 0, 2, 0, 0, 0, 3, 0, 0, 0}, ""))
	m := read(t, s.glb(fmt.Sprintf(`"nodes":[{"mesh":0}],"meshes":[{"primitives":[
		{"mode":5,"attributes":{"POSITION":%[1]d,"NORMAL":%[2]d,"TEXCOORD_0":%[3]d,"TEXCOORD_1":%[4]d,"COLOR_0":%[5]d},"indices":%[7]d},
		{"mode":6,"attributes":{"POSITION":%[6]d},"indices":%[8]d},{"mode":1,"attributes":{"POSITION":%[1]d}}]}]`, pos, nor, uv8, uv16, col, sparse, i8, i32)))
	var got [][]mesh.PointID
	for f := range m.NumFaces() {
		got = append(got, m.FacePoints(mesh.FaceID(f)))
	}
	if fmt.Sprint(got) != "[[0 1 3] [3 1 2] [4 5 6] [4 6 7]]" {
		t.Errorf("the triangles are %v", got)
	}
	if m.Points[6] != (r3.Vec{X: 9, Y: 8, Z: 7}) {
		t.Errorf("the sparse point is %v", m.Points[6])
	}
	if uv, ok := format.SourceUV(m)(1); !ok || uv != (r2.Vec{X: 1, Y: 0}) {
		t.Errorf("coordinates of a byte are %v", uv)
	}
	maps := format.SourceMaps(m)
	if len(maps) != 2 {
		t.Fatalf("%d maps came along", len(maps))
	}
	if uv, ok := maps[1].UV(1); !ok || uv != (r2.Vec{X: 0, Y: 1}) {
		t.Errorf("the second map has %v", uv)
	}
	if c := m.Colors[m.CornerColor[5]]; c != [4]float32{0, 0, 1, 1} { // of point 2
		t.Errorf("a colour is %v", c)
	}
	if len(m.Lost) != 1 || !strings.Contains(m.Lost[0], "1 primitive of lines") {
		t.Errorf("lost is said to be %q", m.Lost)
	}
}

func floatsOf(list ...float32) (raw []byte) {
	for _, v := range list {
		raw = binary.LittleEndian.AppendUint32(raw, math.Float32bits(v))
	}
	return raw
}

// What cannot be read is refused by name, with what to do.
func TestRefused(t *testing.T) {
	s := &scene{}
	attr, idx := square(s)
	body := fmt.Sprintf(`"nodes":[{"mesh":0}],"meshes":[{"primitives":[{"attributes":{%s},"indices":%d}]}]`, attr, idx)
	whole := s.glb(body)
	swap := func(old, with string) []byte {
		return []byte(strings.Replace(s.text(`,"uri":"plate.bin"`, body), old, with, 1))
	}
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"empty":              {nil, "no glTF file"},
		"a picture":          {[]byte("\x89PNG\r\n\x1a\n"), "no glTF file"},
		"cut off":            {whole[:len(whole)-9], "cut off"},
		"head only":          {whole[:13], "cut off"},
		"version 1":          {swap(`"version":"2.0"`, `"version":"1.0"`), "glTF 1.0"},
		"Draco":              {[]byte(s.text("", body+`,"extensionsRequired":["KHR_draco_mesh_compression"]`)), "Draco"},
		"meshopt":            {[]byte(s.text("", body+`,"extensionsRequired":["EXT_meshopt_compression"]`)), "meshoptimizer"},
		"unknown extension":  {[]byte(s.text("", body+`,"extensionsRequired":["FENN_warp"]`)), "FENN_warp"},
		"data elsewhere":     {swap("x", "x"), `another file, "plate.bin"`},
		"data up the folder": {swap("plate.bin", "../plate.bin"), "not beside"},
		"no such mesh":       {s.glb(strings.Replace(body, `"mesh":0`, `"mesh":4`, 1)), "no mesh 4"},
		"no such accessor":   {s.glb(strings.Replace(body, `"POSITION":0`, `"POSITION":40`, 1)), "no accessor 40"},
		"mode":               {s.glb(strings.Replace(body, `"indices"`, `"mode":9,"indices"`, 1)), "mode 9"},
		"a ring of nodes":    {s.glb(strings.Replace(body, `{"mesh":0}`, `{"mesh":0,"children":[1]},{"children":[0]}`, 1) + `,"scenes":[{"nodes":[0]}]`), "more than one place"},
		"only points":        {s.glb(strings.Replace(body, `"indices"`, `"mode":0,"indices"`, 1)), "no triangles"},
		"a string as number": {s.glb(strings.Replace(body, `"mesh":0`, `"mesh":"0"`, 1)), "cannot be"},
	} {
		_, err := Read(context.Background(), format.Input{Data: c.data})
		var bad *format.Error
		if !errors.As(err, &bad) || !strings.Contains(err.Error(), c.says) || bad.Hint == "" {
			t.Errorf("%s: %v", name, err)
		}
	}
	short := s.floats("VEC3", 3, 0, 0, 0)
	s.accessors[short] = strings.Replace(s.accessors[short], `"count":1`, `"count":400000000`, 1)
	if _, err := Read(context.Background(), format.Input{Data: s.glb(strings.Replace(body, `"POSITION":0`, fmt.Sprintf(`"POSITION":%d`, short), 1))}); err == nil {
		t.Error("more elements than there are bytes were accepted")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Read(ctx, format.Input{Data: whole}); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled reading gave %v", err)
	}
}

// Data in another file, and in the JSON itself, are read.
func TestDataElsewhere(t *testing.T) {
	s := &scene{}
	attr, idx := square(s)
	body := fmt.Sprintf(`"nodes":[{"mesh":0}],"meshes":[{"primitives":[{"attributes":{%s},"indices":%d}]}]`, attr, idx)
	in := format.Input{Data: []byte(s.text(`,"uri":"the%20plate.bin"`, body)), Beside: func(name string) ([]byte, error) {
		if name != "the plate.bin" {
			return nil, fmt.Errorf("no %s", name)
		}
		return s.bin, nil
	}}
	m, err := Read(context.Background(), in)
	if err != nil || m.NumFaces() != 2 {
		t.Fatalf("%v", err)
	}
	var b bytes.Buffer
	if err := WriteText(&b, m, format.SourceMaps(m)); err != nil {
		t.Fatal(err)
	}
	if again := read(t, b.Bytes()); again.NumFaces() != 2 || again.NumPoints() != 4 {
		t.Errorf("written as text it has %d faces and %d points", again.NumFaces(), again.NumPoints())
	}
}
