package gltf

import (
	"encoding/base64"
	"encoding/binary"
	"encoding/json"
	"io"
	"maps"
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// WriteBinary writes a mesh with its maps as one .glb.
func WriteBinary(w io.Writer, m *mesh.Mesh, list []format.Map) error {
	o := written(m, list)
	text, err := o.json(nil)
	if err != nil {
		return err
	}
	for len(text)%4 != 0 {
		text = append(text, ' ')
	}
	for len(o.bin)%4 != 0 {
		o.bin = append(o.bin, 0)
	}
	le := binary.LittleEndian
	total := uint64(12+8+len(text)) + uint64(8+len(o.bin))
	if total > math.MaxUint32 {
		return &format.Error{What: "the model is larger than a .glb can be, 4 GB", Hint: "write it as .obj"}
	}
	head := le.AppendUint32(nil, magicGLB)
	head = le.AppendUint32(head, 2)
	head = le.AppendUint32(head, uint32(total))
	head = le.AppendUint32(head, uint32(len(text)))
	head = le.AppendUint32(head, chunkJSON)
	middle := le.AppendUint32(nil, uint32(len(o.bin)))
	middle = le.AppendUint32(middle, chunkBIN)
	for _, part := range [][]byte{head, text, middle, o.bin} {
		if _, err := w.Write(part); err != nil {
			return err
		}
	}
	return nil
}

// WriteText writes a mesh with its maps as one .gltf that holds its data.
func WriteText(w io.Writer, m *mesh.Mesh, list []format.Map) error {
	o := written(m, list)
	uri := "data:application/octet-stream;base64," + base64.StdEncoding.EncodeToString(o.bin)
	text, err := o.json(&uri)
	if err != nil {
		return err
	}
	_, err = w.Write(text)
	return err
}

// out is a file under way: its JSON and its one buffer.
type out struct {
	all       map[string]any    // the description of the scene, but for what follows
	files     map[string][]byte // pictures that lay beside the file that was read
	nodes     []any
	meshes    []any
	accessors []any
	views     []any
	images    []any
	bin       []byte
}

// written lays out a file: as it came, where it came from one, else a node for each object.
func written(m *mesh.Mesh, list []format.Map) *out {
	k, ok := m.Kept.(*kept)
	if !ok || len(k.uses) == 0 || k.uses[len(k.uses)-1].face+k.uses[len(k.uses)-1].faces != m.NumFaces() {
		return fresh(m, list)
	}
	o := k.written(m, list)
	o.embed()
	return o
}

// view adds data to the buffer. target is that of vertices or indices, 0 for others.
func (o *out) view(data []byte, target int) int {
	for len(o.bin)%4 != 0 {
		o.bin = append(o.bin, 0)
	}
	v := map[string]any{"buffer": 0, "byteOffset": len(o.bin), "byteLength": len(data)}
	if target != 0 {
		v["target"] = target
	}
	o.bin = append(o.bin, data...)
	o.views = append(o.views, v)
	return len(o.views) - 1
}

const (
	vertexTarget = 34962
	indexTarget  = 34963
)

// floats adds an accessor of float32, with bounds if they are asked for.
func (o *out) floats(data []float32, n int, kind string, bounds bool) int {
	raw := make([]byte, 0, 4*len(data))
	lo, hi := make([]float32, n), make([]float32, n)
	for i, v := range data {
		raw = binary.LittleEndian.AppendUint32(raw, math.Float32bits(v))
		if c := i % n; i < n {
			lo[c], hi[c] = v, v
		} else {
			lo[c], hi[c] = min(lo[c], v), max(hi[c], v)
		}
	}
	a := map[string]any{"bufferView": o.view(raw, vertexTarget), "componentType": componentF, "count": len(data) / n, "type": kind}
	if bounds {
		a["min"], a["max"] = lo, hi
	}
	o.accessors = append(o.accessors, a)
	return len(o.accessors) - 1
}

// indices adds an accessor of indices, in as few bytes as they take.
func (o *out) indices(list []int32, vertices int) int {
	var raw []byte
	kind := 5125
	if vertices <= 65535 {
		kind = 5123
	}
	for _, i := range list {
		if kind == 5123 {
			raw = binary.LittleEndian.AppendUint16(raw, uint16(i))
		} else {
			raw = binary.LittleEndian.AppendUint32(raw, uint32(i))
		}
	}
	o.accessors = append(o.accessors, map[string]any{"bufferView": o.view(raw, indexTarget), "componentType": kind, "count": len(list), "type": "SCALAR"})
	return len(o.accessors) - 1
}

// embed takes pictures that lay beside the file that was read into this one.
func (o *out) embed() {
	for i, m := range o.images {
		im, ok := m.(map[string]any)
		if !ok {
			continue
		}
		uri, _ := im["uri"].(string)
		if data := o.files[uri]; len(data) > 0 {
			if kind := pictureKind(data); kind != "" {
				c := maps.Clone(im)
				delete(c, "uri")
				c["bufferView"], c["mimeType"] = o.view(data, 0), kind
				o.images[i] = c
			}
		}
	}
}

func pictureKind(data []byte) string {
	switch {
	case len(data) > 8 && string(data[:8]) == "\x89PNG\r\n\x1a\n":
		return "image/png"
	case len(data) > 3 && data[0] == 0xff && data[1] == 0xd8:
		return "image/jpeg"
	}
	return ""
}

// json is the description of the scene; uri is where the buffer lies, nil for the chunk of a .glb.
func (o *out) json(uri *string) ([]byte, error) {
	set := func(name string, list []any) {
		if len(list) > 0 {
			o.all[name] = list
		} else {
			delete(o.all, name)
		}
	}
	set("nodes", o.nodes)
	set("meshes", o.meshes)
	set("accessors", o.accessors)
	set("bufferViews", o.views)
	set("images", o.images)
	b := map[string]any{"byteLength": len(o.bin)}
	if uri != nil {
		b["uri"] = *uri
	}
	if len(o.bin) > 0 {
		o.all["buffers"] = []any{b}
	} else {
		delete(o.all, "buffers")
	}
	return json.Marshal(o.all)
}

// fresh lays out a mesh that came from elsewhere: a node and a mesh for each object, a primitive
// for each of its materials, polygons in triangles.
func fresh(m *mesh.Mesh, list []format.Map) *out {
	o := &out{all: object{"asset": object{"version": "2.0", "generator": "Morvek"}}}
	names := make([]any, len(m.Materials))
	for i, n := range m.Materials {
		x := object{"name": n}
		if i < len(m.Looks) && m.Looks[i].Known {
			x["pbrMetallicRoughness"] = o.look(m.Looks[i])
			if m.Looks[i].Color[3] < 1 {
				x["alphaMode"] = "BLEND"
			}
		}
		names[i] = x
	}
	if len(names) > 0 {
		o.all["materials"] = names
	}
	type key struct{ object, material int32 }
	faces := map[key][]mesh.FaceID{}
	for f := range m.NumFaces() {
		k := key{m.FaceObject[f], m.FaceMaterial[f]}
		faces[k] = append(faces[k], mesh.FaceID(f))
	}
	keys := slices.SortedFunc(maps.Keys(faces), func(a, b key) int {
		if a.object != b.object {
			return int(a.object) - int(b.object)
		}
		return int(a.material) - int(b.material)
	})
	var roots []int
	for i := 0; i < len(keys); {
		var prims []any
		object := keys[i].object
		for ; i < len(keys) && keys[i].object == object; i++ {
			p := o.freshPrimitive(m, list, faces[keys[i]])
			if keys[i].material != mesh.None {
				p["material"] = keys[i].material
			}
			prims = append(prims, p)
		}
		name := "model"
		if object != mesh.None {
			name = m.Objects[object]
		}
		roots = append(roots, len(o.nodes))
		o.nodes = append(o.nodes, map[string]any{"name": name, "mesh": len(o.meshes)})
		o.meshes = append(o.meshes, map[string]any{"name": name, "primitives": prims})
	}
	o.all["scene"], o.all["scenes"] = 0, []any{object{"nodes": roots}}
	return o
}

// look is how a material looks, of no metal; pictures that several have are embedded for each.
func (o *out) look(l mesh.Look) object {
	out := object{"baseColorFactor": l.Color, "metallicFactor": 0}
	if kind := pictureKind(l.Picture); kind != "" {
		o.images = append(o.images, object{"bufferView": o.view(l.Picture, 0), "mimeType": kind})
		textures, _ := o.all["textures"].([]any)
		o.all["textures"] = append(textures, object{"source": len(o.images) - 1})
		out["baseColorTexture"] = object{"index": len(textures)}
		out["baseColorFactor"] = [4]float32{1, 1, 1, l.Color[3]} // the picture says the colour
	}
	return out
}

func (o *out) freshPrimitive(m *mesh.Mesh, list []format.Map, faces []mesh.FaceID) map[string]any {
	var corners []mesh.HalfedgeID
	tris := m.Triangles()
	for _, f := range faces {
		for _, t := range tris.Corner[tris.FaceStart[f]:tris.FaceStart[f+1]] {
			corners = append(corners, t[:]...)
		}
	}
	normals := m.CornerNormal != nil && !slices.ContainsFunc(corners, func(h mesh.HalfedgeID) bool { return m.CornerNormal[h] == mesh.None })
	colors := m.CornerColor != nil && slices.ContainsFunc(corners, func(h mesh.HalfedgeID) bool { return m.CornerColor[h] != mesh.None })
	at := func(of []int32, has bool, h mesh.HalfedgeID) int32 {
		if !has {
			return mesh.None
		}
		return of[h]
	}
	s := newSplit(list, corners)
	for _, h := range corners {
		s.corner(h, [3]int32{int32(m.CornerPoint[h]), at(m.CornerNormal, normals, h), at(m.CornerColor, colors, h)})
	}
	n := len(s.old)
	pos, nor, col := make([]float32, 0, 3*n), make([]float32, 0, 3*n), make([]float32, 0, 4*n)
	for _, v := range s.old {
		p := m.Points[v[0]]
		pos = append(pos, float32(p.X), float32(p.Y), float32(p.Z))
		if normals {
			q := unit(m.Normals[v[1]])
			nor = append(nor, float32(q.X), float32(q.Y), float32(q.Z))
		}
		if colors {
			c := [4]float32{1, 1, 1, 1}
			if v[2] != mesh.None {
				c = m.Colors[v[2]]
			}
			col = append(col, c[:]...)
		}
	}
	attr := map[string]any{"POSITION": o.floats(pos, 3, "VEC3", true)}
	if normals {
		attr["NORMAL"] = o.floats(nor, 3, "VEC3", false)
	}
	if colors {
		attr["COLOR_0"] = o.floats(col, 4, "VEC4", false)
	}
	s.addMaps(o, attr)
	return map[string]any{"attributes": attr, "indices": o.indices(s.index, n), "mode": 4}
}
