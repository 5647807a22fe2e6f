package gltf

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
	"morvek/core/words"
)

// Read reads the triangles of the scene of a glTF file, text or binary: each node with a mesh is
// an object, with its transform baked in. Errors are *format.Error.
func Read(ctx context.Context, in format.Input) (*mesh.Mesh, error) {
	s, err := open(in)
	if err != nil {
		return nil, err
	}
	r := &reader{source: s, in: in, ctx: ctx, b: mesh.NewBuilder(), seen: make([]bool, len(s.doc.Nodes)), cache: map[int]raw{}, objects: namer{}, baked: map[string][]string{}}
	named := namer{}
	for i, m := range s.doc.Materials {
		name := m.Name
		if name == "" {
			name = fmt.Sprintf("material %d", i+1)
		}
		r.materials = append(r.materials, named.distinct(name))
	}
	roots, err := r.roots()
	if err != nil {
		return nil, err
	}
	for _, n := range roots {
		if err := r.node(n, identity, 0); err != nil {
			return nil, err
		}
	}
	if r.b.NumFaces() == 0 {
		return nil, &format.Error{What: "the scene has no triangles", Hint: reexport + " with its meshes"}
	}
	r.notes()
	r.b.Keep(&kept{source: s, uses: r.uses})
	m, err := r.b.Build()
	if err != nil {
		return nil, fail("%v", err)
	}
	return m, nil
}

// kept is what writing the rest of a file again needs.
type kept struct {
	source *source
	uses   []use
}

// use is a primitive of a mesh as a node of the scene uses it, and where its triangles and
// vertices are in the mesh that was read.
type use struct {
	node, mesh, primitive int
	face, faces, point    int
	mirrored              bool
}

type reader struct {
	*source
	in        format.Input
	ctx       context.Context
	nodes     int // that were read
	b         *mesh.Builder
	seen      []bool
	cache     map[int]raw // accessors, as meshes may be used often
	uses      []use
	materials []string
	objects   namer
	said      []string            // what was baked in, in the order it was found
	baked     map[string][]string // and in which nodes
	wires     int                 // primitives that are no triangles
}

// roots are the nodes the scene begins with.
func (r *reader) roots() ([]int, error) {
	d := &r.doc
	if len(d.Scenes) > 0 {
		at := 0
		if d.Scene != nil {
			at = *d.Scene
		}
		if at < 0 || at >= len(d.Scenes) {
			return nil, fail("there is no scene %d", at)
		}
		if len(d.Scenes) > 1 {
			r.b.Lost(fmt.Sprintf("%s beside the shown one; they are kept when written as glTF", words.Count(len(d.Scenes)-1, "scene")))
		}
		return d.Scenes[at].Nodes, nil
	}
	child := make([]bool, len(d.Nodes))
	for _, n := range d.Nodes {
		for _, c := range n.Children {
			if c >= 0 && c < len(child) {
				child[c] = true
			}
		}
	}
	var out []int
	for i := range d.Nodes {
		if !child[i] {
			out = append(out, i)
		}
	}
	return out, nil
}

// How many different scales are named, and how many nodes with each.
const (
	mostBaked = 12
	mostNamed = 3
)

func (r *reader) node(at int, above affine, depth int) error {
	switch {
	case at < 0 || at >= len(r.doc.Nodes):
		return fail("there is no node %d", at)
	case r.seen[at]:
		return fail("node %d hangs in more than one place", at)
	case depth > mostDepth:
		return fail("nodes lie more than %d deep in each other", mostDepth)
	}
	r.seen[at] = true
	r.nodes++
	n := &r.doc.Nodes[at]
	own, err := n.transform()
	if err != nil {
		return fail("node %d: %v", at, err)
	}
	world := above.of(own)
	if n.Mesh != nil {
		if err := r.mesh(at, n, world); err != nil {
			return err
		}
	}
	for _, c := range n.Children {
		if err := r.node(c, world, depth+1); err != nil {
			return err
		}
	}
	return nil
}

func (r *reader) mesh(at int, n *node, world affine) error {
	if *n.Mesh < 0 || *n.Mesh >= len(r.doc.Meshes) {
		return fail("node %d: there is no mesh %d", at, *n.Mesh)
	}
	m := &r.doc.Meshes[*n.Mesh]
	name := n.Name
	if name == "" {
		name = m.Name
	}
	if name == "" {
		name = fmt.Sprintf("node %d", at)
	}
	name = r.objects.distinct(name)
	if n.Extensions["EXT_mesh_gpu_instancing"] != nil {
		r.b.Lost("instances of EXT_mesh_gpu_instancing: each node is read once; they are kept when written as glTF")
	}
	if n.Skin != nil { // then the pose comes from the joints, not from the node
		world = identity
		r.b.Baked("skinned meshes are read in the pose they were bound in")
	} else if says := world.says(); says != "" {
		if r.baked[says] == nil {
			r.said = append(r.said, says)
		}
		r.baked[says] = append(r.baked[says], name)
	}
	r.b.Object(name)
	for k := range m.Primitives {
		if err := r.primitive(&m.Primitives[k], use{node: at, mesh: *n.Mesh, primitive: k}, world); err != nil {
			return err
		}
	}
	return nil
}

// attribute reads one of a primitive and checks what it is.
func (r *reader) attribute(at int, kinds ...string) (raw, error) {
	a, ok := r.cache[at]
	if !ok {
		var err error
		if a, err = r.elements(at); err != nil {
			return raw{}, err
		}
		r.cache[at] = a
	}
	if !slices.Contains(kinds, a.kind) {
		return raw{}, fmt.Errorf("accessor %d holds %s, not %s", at, a.kind, strings.Join(kinds, " or "))
	}
	return a, nil
}

func (r *reader) primitive(p *primitive, u use, world affine) error {
	bad := func(err error) error {
		return fail("mesh %d, primitive %d: %v", u.mesh, u.primitive, err)
	}
	for x, what := range squeezed {
		if p.Extensions[x] != nil && (p.Indices == nil || *p.Indices < 0 || *p.Indices >= len(r.doc.Accessors) || r.doc.Accessors[*p.Indices].BufferView == nil) {
			return &format.Error{What: fmt.Sprintf("the file holds %s (%s), which is not read", what, x), Hint: "export the model without compression"}
		}
	}
	mode := 4
	if p.Mode != nil {
		mode = *p.Mode
	}
	if mode < 0 || mode > 6 {
		return bad(fmt.Errorf("its mode %d is unknown", mode))
	}
	if mode < 4 {
		r.wires++
		return nil
	}
	at, ok := p.Attributes["POSITION"]
	if !ok {
		return nil // nothing is drawn
	}
	pos, err := r.attribute(at, "VEC3")
	if err != nil {
		return bad(err)
	}
	index, err := r.indices(p, pos.count)
	if err != nil {
		return bad(err)
	}
	corners, err := triangles(index, mode)
	if err != nil {
		return bad(err)
	}
	if r.b.NumFaces()+len(corners)/3 > format.MostFaces || r.b.NumPoints()+pos.count > format.MostFaces {
		return fail("the scene has more than %d million triangles", format.MostFaces/1_000_000)
	}
	u.face, u.faces, u.point, u.mirrored = r.b.NumFaces(), len(corners)/3, r.b.NumPoints(), world.det() < 0
	v, err := r.vertices(p, pos, world)
	if err != nil {
		return bad(err)
	}
	if p.Material == nil {
		r.b.NoMaterial()
	} else if *p.Material < 0 || *p.Material >= len(r.materials) {
		return bad(fmt.Errorf("there is no material %d", *p.Material))
	} else {
		r.b.Material(r.materials[*p.Material])
	}
	for f := 0; f < len(corners); f += 3 {
		if f&0xfff == 0 {
			share := float64(f) / float64(len(corners))
			if err := r.in.At(r.ctx, (float64(r.nodes-1)+share)/float64(len(r.seen))); err != nil {
				return err
			}
		}
		tri := [3]int32{corners[f], corners[f+1], corners[f+2]}
		if u.mirrored {
			tri[1], tri[2] = tri[2], tri[1]
		}
		for _, i := range tri {
			r.b.Corner(mesh.PointID(v.point+i), v.of(v.uv, i), v.of(v.normal, i))
			for k := 1; k < len(v.maps); k++ {
				if v.maps[k] != nil {
					r.b.LayerUV(k-1, v.maps[k][i])
				}
			}
			if v.color != mesh.None {
				r.b.Paint(v.color + i)
			}
		}
		r.b.EndFace()
	}
	r.uses = append(r.uses, u)
	return nil
}

// indices are the vertices of a primitive in their order.
func (r *reader) indices(p *primitive, vertices int) ([]int32, error) {
	if p.Indices == nil {
		out := make([]int32, vertices)
		for i := range out {
			out[i] = int32(i)
		}
		return out, nil
	}
	a, err := r.attribute(*p.Indices, "SCALAR")
	if err != nil {
		return nil, err
	}
	if a.componentType == componentF {
		return nil, fmt.Errorf("its indices are no whole numbers")
	}
	out := make([]int32, a.count)
	for i := range out {
		v := a.number(i, 0)
		if !(v >= 0 && v < float64(vertices)) {
			return nil, fmt.Errorf("index %d names vertex %g of %d", i, v, vertices)
		}
		out[i] = int32(v)
	}
	return out, nil
}

// triangles lists the corners of triangles, strips and fans.
func triangles(index []int32, mode int) ([]int32, error) {
	if mode == 4 {
		if len(index)%3 != 0 {
			return nil, fmt.Errorf("it has %d corners, which are no triangles", len(index))
		}
		return index, nil
	}
	var out []int32
	for k := 2; k < len(index); k++ {
		a, b, c := index[k-2], index[k-1], index[k]
		switch {
		case mode == 6:
			a = index[0]
		case k%2 == 1:
			a, b = b, a
		}
		if a != b && b != c && a != c { // those without area only turn a strip round a corner
			out = append(out, a, b, c)
		}
	}
	return out, nil
}

// vertices are where those of a primitive went.
type vertices struct {
	point, normal, color, uv int32 // the first, None for none
	maps                     [][]r2.Vec
}

func (v vertices) of(first, i int32) int32 {
	if first == mesh.None {
		return mesh.None
	}
	return first + i
}

// mostMaps is how many sets of coordinates are read.
const mostMaps = 16

func (r *reader) vertices(p *primitive, pos raw, world affine) (vertices, error) {
	v := vertices{point: int32(r.b.NumPoints()), normal: mesh.None, color: mesh.None, uv: mesh.None}
	at := func(a raw, i int) r3.Vec { return r3.Vec{X: a.number(i, 0), Y: a.number(i, 1), Z: a.number(i, 2)} }
	for i := range pos.count {
		r.b.Point(world.point(at(pos, i)))
	}
	if k, ok := p.Attributes["NORMAL"]; ok {
		a, err := r.attribute(k, "VEC3")
		if err != nil || a.count != pos.count {
			return v, cmpErr(err, "it has %d normals for %d vertices", a.count, pos.count)
		}
		v.normal = int32(r.b.NumNormals())
		for i := range a.count {
			r.b.Normal(world.normal(at(a, i)))
		}
	}
	if k, ok := p.Attributes["COLOR_0"]; ok {
		a, err := r.attribute(k, "VEC3", "VEC4")
		if err != nil || a.count != pos.count {
			return v, cmpErr(err, "it has %d colours for %d vertices", a.count, pos.count)
		}
		if a.componentType != componentF {
			a.normalized = true
		}
		for i := range a.count {
			c := [4]float32{0, 0, 0, 1}
			for k := range a.n {
				c[k] = float32(a.number(i, k))
			}
			at := r.b.Color(c)
			if i == 0 {
				v.color = at
			}
		}
	}
	for name, k := range p.Attributes {
		n, ok := setOf(name)
		if !ok {
			continue
		}
		if n >= mostMaps {
			return v, fmt.Errorf("it has more than %d sets of coordinates", mostMaps)
		}
		a, err := r.attribute(k, "VEC2")
		if err != nil || a.count != pos.count {
			return v, cmpErr(err, "it has %d coordinates for %d vertices", a.count, pos.count)
		}
		uv := make([]r2.Vec, a.count)
		for i := range uv {
			uv[i] = r2.Vec{X: a.number(i, 0), Y: 1 - a.number(i, 1)} // V goes down in glTF
		}
		for len(v.maps) <= n {
			v.maps = append(v.maps, nil)
		}
		v.maps[n] = uv
	}
	if len(v.maps) > 0 && v.maps[0] != nil {
		v.uv = int32(r.b.NumUVs())
		for _, q := range v.maps[0] {
			r.b.UV(q)
		}
	}
	return v, nil
}

func cmpErr(err error, text string, args ...any) error {
	if err != nil {
		return err
	}
	return fmt.Errorf(text, args...)
}

// setOf is the number of a set of coordinates.
func setOf(attribute string) (int, bool) {
	rest, ok := strings.CutPrefix(attribute, "TEXCOORD_")
	n, err := strconv.Atoi(rest)
	return n, ok && err == nil && n >= 0
}

// notes says what was passed over and what other formats do not hold.
func (r *reader) notes() {
	for i, says := range r.said {
		in := r.baked[says]
		switch {
		case i == mostBaked:
			r.b.Baked(fmt.Sprintf("and %s", words.Count(len(r.said)-i, "other scale")))
		case i > mostBaked:
		case len(in) == 1:
			r.b.Baked(fmt.Sprintf("node %s: %s", in[0], says))
		case len(in) <= mostNamed:
			r.b.Baked(fmt.Sprintf("nodes %s: %s", strings.Join(in, ", "), says))
		default:
			r.b.Baked(fmt.Sprintf("nodes %s and %d more: %s", strings.Join(in[:mostNamed], ", "), len(in)-mostNamed, says))
		}
	}
	if r.wires > 0 {
		r.b.Lost(words.Count(r.wires, "primitive") + " of lines or points; kept when written as glTF")
	}
	for _, x := range []struct {
		n    int
		what string
	}{{len(r.doc.Skins), "skin"}, {len(r.doc.Animations), "animation"}} {
		if x.n > 0 {
			r.b.Lost(words.Count(x.n, x.what) + "; kept when written as glTF")
		}
	}
}

// namer tells things with one name apart: how often each was given.
type namer map[string]int

// distinct is a name, with a number where others have it already.
func (n namer) distinct(name string) string {
	out := name
	for n[out] > 0 {
		n[name]++
		out = fmt.Sprintf("%s (%d)", name, n[name])
	}
	n[out]++
	return out
}
