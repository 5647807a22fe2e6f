package gltf

import (
	"bytes"
	"crypto/sha256"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

type object = map[string]any

// again writes a file that was read with other maps.
type again struct {
	*out
	*kept
	m         *mesh.Mesh
	list      []format.Map
	accessor  map[int]int // new numbers of what is written as it was
	viewed    map[int]int
	untouched []any // the meshes as they were
}

// written lays out the file a mesh was read from with other maps: vertices are divided where
// the maps ask for it and have all attributes they had, but tangents where the first map is another,
// since they follow from it.
func (k *kept) written(m *mesh.Mesh, list []format.Map) *out {
	a := &again{out: &out{files: k.source.files}, kept: k, m: m, list: list, accessor: map[int]int{}, viewed: map[int]int{}}
	d := json.NewDecoder(bytes.NewReader(k.source.text))
	d.UseNumber() // numbers stay as they are written
	if err := d.Decode(&a.all); err != nil {
		return fresh(m, list) // cannot be: it was read
	}
	a.nodes, a.images, a.untouched = a.array("nodes"), a.array("images"), a.array("meshes")
	if slices.ContainsFunc(k.source.doc.ExtensionsUsed, func(x string) bool { return !known[x] && squeezed[x] == "" }) {
		for i := range k.source.doc.BufferViews { // who knows what such an extension refers to: all numbers stay
			a.oldView(i)
		}
		for i := range k.source.doc.Accessors {
			a.oldAccessor(i)
		}
	}
	a.rebuild()
	each(a.images, func(im object) { renumber(im, "bufferView", a.oldView) })
	each(a.array("skins"), func(s object) { renumber(s, "inverseBindMatrices", a.oldAccessor) })
	each(a.array("animations"), func(s object) {
		samplers, _ := s["samplers"].([]any)
		each(samplers, func(x object) {
			renumber(x, "input", a.oldAccessor)
			renumber(x, "output", a.oldAccessor)
		})
	})
	for _, name := range []string{"extensionsUsed", "extensionsRequired"} {
		list := slices.DeleteFunc(a.array(name), func(x any) bool { s, _ := x.(string); return squeezed[s] != "" })
		if delete(a.all, name); len(list) > 0 {
			a.all[name] = list
		}
	}
	return a.out
}

func (o *out) array(name string) []any {
	list, _ := o.all[name].([]any)
	return list
}

func each(list []any, do func(object)) {
	for _, x := range list {
		if x, ok := x.(object); ok {
			do(x)
		}
	}
}

// renumber changes a reference, where there is one.
func renumber(x object, name string, to func(int) int) {
	if n, ok := whole(x[name]); ok {
		x[name] = to(n)
	}
}

func whole(x any) (int, bool) {
	n, ok := x.(json.Number)
	if !ok {
		return 0, false
	}
	i, err := n.Int64()
	return int(i), err == nil
}

// oldView writes a buffer view as it was.
func (a *again) oldView(i int) int {
	if at, ok := a.viewed[i]; ok {
		return at
	}
	s := a.source
	var data []byte
	if i >= 0 && i < len(s.doc.BufferViews) {
		if v := s.doc.BufferViews[i]; v.Buffer >= 0 && v.Buffer < len(s.buffers) && v.ByteOffset >= 0 && v.ByteLength >= 0 && v.ByteOffset+v.ByteLength <= len(s.buffers[v.Buffer]) {
			data = s.buffers[v.Buffer][v.ByteOffset : v.ByteOffset+v.ByteLength]
		}
	}
	at := a.view(data, 0)
	var was object
	if list := a.array("bufferViews"); i >= 0 && i < len(list) {
		was, _ = list[i].(object)
	}
	for _, name := range []string{"byteStride", "target", "name", "extras"} {
		if v, ok := was[name]; ok {
			a.views[at].(object)[name] = v
		}
	}
	a.viewed[i] = at
	return at
}

// oldAccessor writes an accessor as it was.
func (a *again) oldAccessor(i int) int {
	if at, ok := a.accessor[i]; ok {
		return at
	}
	list := a.array("accessors")
	if i < 0 || i >= len(list) {
		return i
	}
	x, _ := list[i].(object)
	x = maps.Clone(x)
	renumber(x, "bufferView", a.oldView)
	if sparse, ok := x["sparse"].(object); ok {
		sparse = maps.Clone(sparse)
		for _, name := range []string{"indices", "values"} {
			if y, ok := sparse[name].(object); ok {
				y = maps.Clone(y)
				renumber(y, "bufferView", a.oldView)
				sparse[name] = y
			}
		}
		x["sparse"] = sparse
	}
	a.accessors = append(a.accessors, x)
	a.accessor[i] = len(a.accessors) - 1
	return len(a.accessors) - 1
}

// rebuild writes the meshes: those of the scene with their maps, one for all nodes in which they
// are the same, others as they were.
func (a *again) rebuild() {
	uses := map[int][]use{} // of each node
	var nodes []int
	for _, u := range a.uses {
		if uses[u.node] == nil {
			nodes = append(nodes, u.node)
		}
		uses[u.node] = append(uses[u.node], u)
	}
	a.meshes = make([]any, len(a.untouched))
	known := map[string]int{}
	for _, n := range nodes {
		list := uses[n]
		splits := make([]*split, len(list))
		digest := sha256.New()
		fmt.Fprint(digest, list[0].mesh)
		for k, u := range list {
			splits[k] = a.split(u)
			splits[k].hash(digest)
		}
		id := string(digest.Sum(nil))
		at, ok := known[id]
		if !ok {
			if at = list[0].mesh; a.meshes[at] != nil { // another node has it with other maps
				at = len(a.meshes)
				a.meshes = append(a.meshes, nil)
			}
			known[id] = at
			a.meshes[at] = a.mesh(list, splits)
		}
		if node, ok := a.nodes[n].(object); ok {
			node["mesh"] = at
		}
	}
	for i, m := range a.untouched {
		if a.meshes[i] == nil {
			a.meshes[i] = a.asItWas(m)
		}
	}
}

// asItWas is a mesh that no node of the scene uses.
func (a *again) asItWas(m any) any {
	x, ok := m.(object)
	if !ok {
		return m
	}
	x = maps.Clone(x)
	prims, _ := x["primitives"].([]any)
	list := make([]any, len(prims))
	for i, p := range prims {
		list[i] = a.primitiveAsItWas(p)
	}
	x["primitives"] = list
	return x
}

func (a *again) primitiveAsItWas(p any) any {
	x, ok := p.(object)
	if !ok {
		return p
	}
	x = maps.Clone(x)
	renumber(x, "indices", a.oldAccessor)
	refer := func(v any) any {
		attr, ok := v.(object)
		if !ok {
			return v
		}
		attr = maps.Clone(attr)
		for _, name := range slices.Sorted(maps.Keys(attr)) {
			renumber(attr, name, a.oldAccessor)
		}
		return attr
	}
	x["attributes"] = refer(x["attributes"])
	if targets, ok := x["targets"].([]any); ok {
		list := make([]any, len(targets))
		for i, t := range targets {
			list[i] = refer(t)
		}
		x["targets"] = list
	}
	return x
}

// split divides the vertices of a primitive as the maps ask for.
func (a *again) split(u use) *split {
	var corners []mesh.HalfedgeID
	for f := u.face; f < u.face+u.faces; f++ {
		h, _ := a.m.Corners(mesh.FaceID(f))
		if u.mirrored {
			corners = append(corners, h, h+2, h+1)
		} else {
			corners = append(corners, h, h+1, h+2)
		}
	}
	s := newSplit(a.list, corners)
	for _, h := range corners {
		s.corner(h, [3]int32{int32(a.m.CornerPoint[h]) - int32(u.point), 0, 0})
	}
	return s
}

// mesh is one with its primitives as a node has them now.
func (a *again) mesh(list []use, splits []*split) any {
	was, _ := a.untouched[list[0].mesh].(object)
	x := maps.Clone(was)
	prims, _ := x["primitives"].([]any)
	now := make([]any, len(prims))
	for i, p := range prims {
		k := slices.IndexFunc(list, func(u use) bool { return u.primitive == i })
		if k < 0 {
			now[i] = a.primitiveAsItWas(p)
			continue
		}
		now[i] = a.primitive(p, a.source.doc.Meshes[list[k].mesh].Primitives[i], splits[k])
	}
	x["primitives"] = now
	return x
}

func (a *again) primitive(p any, was primitive, s *split) any {
	x, _ := p.(object)
	x = maps.Clone(x)
	attr := object{}
	for _, name := range slices.Sorted(maps.Keys(was.Attributes)) {
		at := was.Attributes[name]
		if strings.HasPrefix(name, "TEXCOORD_") || name == "TANGENT" && !a.unchanged(was, s) {
			continue
		}
		if n, ok := a.divided(at, s, name == "POSITION"); ok {
			attr[name] = n
		}
	}
	s.addMaps(a.out, attr)
	x["attributes"] = attr
	if len(was.Targets) > 0 {
		targets := make([]any, len(was.Targets))
		for i, t := range was.Targets {
			to := object{}
			for _, name := range slices.Sorted(maps.Keys(t)) {
				if n, ok := a.divided(t[name], s, name == "POSITION"); ok && name != "TANGENT" {
					to[name] = n
				}
			}
			targets[i] = to
		}
		x["targets"] = targets
	}
	x["indices"], x["mode"] = a.indices(s.index, len(s.old)), 4
	if ext, ok := x["extensions"].(object); ok {
		ext = maps.Clone(ext)
		for e := range squeezed {
			delete(ext, e)
		}
		if x["extensions"] = ext; len(ext) == 0 {
			delete(x, "extensions")
		}
	}
	return x
}

// unchanged tells whether vertices have the coordinates they had in the first map.
func (a *again) unchanged(was primitive, s *split) bool {
	at, ok := was.Attributes["TEXCOORD_0"]
	r, err := a.source.elements(at)
	if !ok || err != nil || r.n != 2 || len(s.uv) == 0 {
		return false
	}
	for i, v := range s.old {
		if int(v[0]) >= r.count || s.uv[0][i].X != r.number(int(v[0]), 0) || s.uv[0][i].Y != float64(float32(1-(1-r.number(int(v[0]), 1)))) {
			return false
		}
	}
	return true
}

// divided writes the elements of an accessor for vertices as they are now.
func (a *again) divided(at int, s *split, bounds bool) (int, bool) {
	r, err := a.source.elements(at)
	if err != nil {
		return 0, false
	}
	for _, v := range s.old {
		if int(v[0]) >= r.count {
			return 0, false
		}
	}
	size := r.size()
	stride := (size + 3) &^ 3 // vertices lie on multiples of four bytes
	data := make([]byte, 0, stride*len(s.old))
	for _, v := range s.old {
		data = append(data, r.element(int(v[0]))...)
		data = append(data, make([]byte, stride-size)...)
	}
	view := a.view(data, vertexTarget)
	if stride != size {
		a.views[view].(object)["byteStride"] = stride
	}
	x := object{"bufferView": view, "componentType": r.componentType, "count": len(s.old), "type": r.kind}
	if r.normalized {
		x["normalized"] = true
	}
	if bounds {
		plain := r
		plain.normalized = false // bounds are in the numbers as they are stored
		lo, hi := make([]float64, r.n), make([]float64, r.n)
		for c := range lo {
			lo[c], hi[c] = math.Inf(1), math.Inf(-1)
			for _, v := range s.old {
				q := plain.number(int(v[0]), c)
				lo[c], hi[c] = min(lo[c], q), max(hi[c], q) // none of a number is none of both
			}
		}
		if s := slices.Concat(lo, hi); !slices.ContainsFunc(s, func(v float64) bool { return math.IsNaN(v) || math.IsInf(v, 0) }) {
			x["min"], x["max"] = lo, hi
		}
	}
	a.accessors = append(a.accessors, x)
	return len(a.accessors) - 1, true
}

// hash tells splits apart.
func (s *split) hash(to interface{ Write([]byte) (int, error) }) {
	raw := binary.LittleEndian.AppendUint32(nil, uint32(len(s.old)))
	for _, i := range s.index {
		raw = binary.LittleEndian.AppendUint32(raw, uint32(i))
	}
	for _, uv := range s.uv {
		for _, q := range uv {
			raw = binary.LittleEndian.AppendUint64(raw, math.Float64bits(q.X))
			raw = binary.LittleEndian.AppendUint64(raw, math.Float64bits(q.Y))
		}
	}
	_, _ = to.Write(raw)
}
