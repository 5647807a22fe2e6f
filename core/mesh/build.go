package mesh

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/bits"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"
)

// Farthest is the largest coordinate a point may have: fourth powers of lengths must not
// overflow.
const Farthest = 1e30

// ErrEmpty is returned for a mesh without faces.
var ErrEmpty = errors.New("the mesh has no faces")

// Builder collects a mesh face by face; Build checks it and freezes it.
type Builder struct {
	m       Mesh
	object  int32
	group   int32
	mat     int32
	smooth  int32
	names   [4]map[string]int32
	anyNorm bool
	anyUV   bool
}

// NewBuilder returns an empty builder with no object, group or material set.
func NewBuilder() *Builder {
	b := &Builder{object: None, group: None, mat: None, smooth: None}
	b.m.FaceStart = []int32{0}
	for i := range b.names {
		b.names[i] = map[string]int32{}
	}
	return b
}

// Reserve sets memory aside for about so many points, coordinates, normals and faces of four corners.
func (b *Builder) Reserve(points, uvs, normals, faces int) {
	m := &b.m
	m.Points, m.SourceUV, m.Normals = slices.Grow(m.Points, points), slices.Grow(m.SourceUV, uvs), slices.Grow(m.Normals, normals)
	m.FaceStart, m.CornerPoint = slices.Grow(m.FaceStart, faces), slices.Grow(m.CornerPoint, 4*faces)
	m.CornerUV, m.CornerNormal = slices.Grow(m.CornerUV, 4*faces), slices.Grow(m.CornerNormal, 4*faces)
	for _, of := range []*[]int32{&m.FaceObject, &m.FaceGroup, &m.FaceMaterial, &m.FaceSmoothing} {
		*of = slices.Grow(*of, faces)
	}
}

// Point adds a point and returns its number.
func (b *Builder) Point(p r3.Vec) PointID {
	b.m.Points = append(b.m.Points, p)
	return PointID(len(b.m.Points) - 1)
}

// Normal adds a normal and returns its index.
func (b *Builder) Normal(n r3.Vec) int32 {
	b.m.Normals = append(b.m.Normals, n)
	return int32(len(b.m.Normals) - 1)
}

// UV adds a coordinate of the map that came with the model and returns its index.
func (b *Builder) UV(p r2.Vec) int32 {
	b.m.SourceUV = append(b.m.SourceUV, p)
	return int32(len(b.m.SourceUV) - 1)
}

// Color adds a colour and returns its index.
func (b *Builder) Color(c [4]float32) int32 {
	b.m.Colors = append(b.m.Colors, c)
	return int32(len(b.m.Colors) - 1)
}

// Paint gives the corner added last a colour.
func (b *Builder) Paint(color int32) {
	for len(b.m.CornerColor) < len(b.m.CornerPoint)-1 {
		b.m.CornerColor = append(b.m.CornerColor, None)
	}
	b.m.CornerColor = append(b.m.CornerColor, color)
}

// LayerUV gives the corner added last a coordinate in a further map, the first of which is 0; the
// maps are made as they are asked for.
func (b *Builder) LayerUV(layer int, uv r2.Vec) {
	for len(b.m.Layers) <= layer {
		b.m.Layers = append(b.m.Layers, Layer{Name: fmt.Sprintf("Map %d", len(b.m.Layers)+2)})
	}
	l := &b.m.Layers[layer]
	for len(l.Corner) < len(b.m.CornerPoint)-1 {
		l.Corner = append(l.Corner, None)
	}
	l.UV = append(l.UV, uv)
	l.Corner = append(l.Corner, int32(len(l.UV)-1))
}

// Baked notes what reading did to the points, Lost what is not written again; each once.
func (b *Builder) Baked(words string) { b.m.Baked = once(b.m.Baked, words) }

// Lost notes what the file held that is not written again.
func (b *Builder) Lost(words string) { b.m.Lost = once(b.m.Lost, words) }

func once(list []string, words string) []string {
	if slices.Contains(list, words) {
		return list
	}
	return append(list, words)
}

// Keep keeps what the format of the file needs to write the rest of it again.
func (b *Builder) Keep(kept any) { b.m.Kept = kept }

// Tail keeps what stood behind the coordinates of the point added last.
func (b *Builder) Tail(text []byte) {
	if b.m.Tails == nil {
		b.m.Tails = &Tails{}
	}
	b.m.Tails.Add(len(b.m.Points)-1, text)
}

// Aside keeps a line that is no part of the mesh.
func (b *Builder) Aside(text string) {
	b.m.Asides = append(b.m.Asides, Aside{text, int32(b.NumFaces())})
}

// Libraries are the material libraries noted so far.
func (b *Builder) Libraries() []string { return b.m.Libraries }

// Library notes a material library.
func (b *Builder) Library(name string) { b.m.Libraries = append(b.m.Libraries, name) }

// Object, Group, Material and Smoothing name what the following faces belong to.
func (b *Builder) Object(name string) { b.object = b.intern(0, &b.m.Objects, name) }

// Group sets the group of the following faces.
func (b *Builder) Group(name string) { b.group = b.intern(1, &b.m.Groups, name) }

// Material sets the material of the following faces.
func (b *Builder) Material(name string) { b.mat = b.intern(2, &b.m.Materials, name) }

// Look says how a material looks, if there is one of that name; to be called after all faces.
func (b *Builder) Look(material string, l Look) {
	i, ok := b.names[2][material]
	if !ok {
		return
	}
	for len(b.m.Looks) < len(b.m.Materials) {
		b.m.Looks = append(b.m.Looks, Look{})
	}
	l.Known = true
	b.m.Looks[i] = l
}

// NoMaterial says that the following faces have none.
func (b *Builder) NoMaterial() { b.mat = None }

// Smoothing sets the smoothing group of the following faces.
func (b *Builder) Smoothing(name string) { b.smooth = b.intern(3, &b.m.Smoothing, name) }

func (b *Builder) intern(kind int, names *[]string, name string) int32 {
	i, ok := b.names[kind][name]
	if !ok {
		i = int32(len(*names))
		*names = append(*names, name)
		b.names[kind][name] = i
	}
	return i
}

// NumPoints, NumNormals and NumUVs count what was added so far.
func (b *Builder) NumPoints() int { return len(b.m.Points) }

// NumNormals counts the normals added so far.
func (b *Builder) NumNormals() int { return len(b.m.Normals) }

// NumUVs counts the map coordinates added so far.
func (b *Builder) NumUVs() int { return len(b.m.SourceUV) }

// NumFaces counts the faces added so far.
func (b *Builder) NumFaces() int { return len(b.m.FaceStart) - 1 }

// Face adds a polygon by its points.
func (b *Builder) Face(points ...PointID) {
	for _, p := range points {
		b.Corner(p, None, None)
	}
	b.EndFace()
}

// Corner adds a corner to the face under way; uv and normal may be None.
func (b *Builder) Corner(p PointID, uv, normal int32) {
	b.m.CornerPoint = append(b.m.CornerPoint, p)
	b.m.CornerUV = append(b.m.CornerUV, uv)
	b.m.CornerNormal = append(b.m.CornerNormal, normal)
	b.anyUV = b.anyUV || uv != None
	b.anyNorm = b.anyNorm || normal != None
}

// EndFace closes the face under way.
func (b *Builder) EndFace() {
	b.m.FaceStart = append(b.m.FaceStart, int32(len(b.m.CornerPoint)))
	b.m.FaceObject = append(b.m.FaceObject, b.object)
	b.m.FaceGroup = append(b.m.FaceGroup, b.group)
	b.m.FaceMaterial = append(b.m.FaceMaterial, b.mat)
	b.m.FaceSmoothing = append(b.m.FaceSmoothing, b.smooth)
}

// Build checks indices and coordinates, connects the faces and returns the
// mesh. The builder must not be used afterwards. Errors name the first face or
// point at fault, counted from 1.
func (b *Builder) Build() (*Mesh, error) {
	m := &b.m
	if m.NumFaces() == 0 {
		return nil, ErrEmpty
	}
	for i, p := range m.Points {
		for _, x := range [3]float64{p.X, p.Y, p.Z} {
			if math.IsNaN(x) || math.IsInf(x, 0) {
				return nil, fmt.Errorf("point %d has a coordinate that is not a finite number", i+1)
			}
			if math.Abs(x) > Farthest {
				return nil, fmt.Errorf("point %d has the coordinate %.3g; beyond %.0g nothing can be computed", i+1, x, Farthest)
			}
		}
	}
	for f := range m.NumFaces() {
		pts := m.FacePoints(FaceID(f))
		if len(pts) < 3 {
			return nil, fmt.Errorf("face %d has %d corners, it needs at least 3", f+1, len(pts))
		}
		for _, p := range pts {
			if p < 0 || int(p) >= len(m.Points) {
				return nil, fmt.Errorf("face %d uses point %d, but there are only %d points", f+1, p+1, len(m.Points))
			}
		}
	}
	if !b.anyUV {
		m.CornerUV = nil
		if len(m.Layers) > 0 { // the first that has something is the first
			first := m.Layers[0]
			m.SourceUV, m.CornerUV, m.Layers = first.UV, first.Corner, m.Layers[1:]
			for len(m.CornerUV) < len(m.CornerPoint) {
				m.CornerUV = append(m.CornerUV, None)
			}
		}
	}
	if !b.anyNorm {
		m.CornerNormal = nil
	}
	fill := func(of []int32) []int32 {
		for of != nil && len(of) < len(m.CornerPoint) {
			of = append(of, None)
		}
		return of
	}
	m.CornerColor = fill(m.CornerColor)
	for i := range m.Layers {
		m.Layers[i].Corner = fill(m.Layers[i].Corner)
		for _, q := range m.Layers[i].UV {
			if !finite(q) {
				return nil, fmt.Errorf("%s has a coordinate that is not a finite number", m.Layers[i].Name)
			}
		}
	}
	for i, q := range m.SourceUV {
		if !finite(q) {
			return nil, fmt.Errorf("map coordinate %d is not a finite number", i+1)
		}
	}
	m.connect()
	return m, nil
}

func finite(q r2.Vec) bool {
	return math.Abs(q.X) <= math.MaxFloat64 && math.Abs(q.Y) <= math.MaxFloat64
}

// connect pairs halfedges into edges. Points at one place count as one within
// an object, so that meshes with a point per corner still hang together.
func (m *Mesh) connect() {
	n := m.NumCorners()
	m.cornerFace = make([]FaceID, n)
	for f := range m.NumFaces() {
		for c := m.FaceStart[f]; c < m.FaceStart[f+1]; c++ {
			m.cornerFace[c] = FaceID(f)
		}
	}
	place := m.Places()
	m.twin = make([]HalfedgeID, n)
	for i := range m.twin {
		m.twin[i] = None
	}

	// Bucket halfedges by their lower place, then sort each small bucket.
	start := make([]int32, len(m.Points)+1)
	for h := range n {
		a, _ := m.span(place, HalfedgeID(h))
		start[a+1]++
	}
	for i := range m.Points {
		start[i+1] += start[i]
	}
	byLow := make([]HalfedgeID, n)
	fill := slices.Clone(start)
	for h := range n {
		a, _ := m.span(place, HalfedgeID(h))
		byLow[fill[a]] = HalfedgeID(h)
		fill[a]++
	}
	var crowd []HalfedgeID
	for p := range m.Points {
		bucket := byLow[start[p]:start[p+1]]
		slices.SortFunc(bucket, func(x, y HalfedgeID) int {
			_, bx := m.span(place, x)
			_, by := m.span(place, y)
			if bx != by {
				return int(bx) - int(by)
			}
			return int(x) - int(y)
		})
		for i := 0; i < len(bucket); {
			_, b := m.span(place, bucket[i])
			j := i + 1
			for j < len(bucket) {
				if _, bj := m.span(place, bucket[j]); bj != b {
					break
				}
				j++
			}
			if int(b) != p && !m.pair(place, bucket[i:j]) {
				crowd = append(crowd, bucket[i:j]...)
			}
			i = j
		}
	}
	m.edge = make([]EdgeID, n)
	for h := range n {
		if t := m.twin[h]; t == None || HalfedgeID(h) < t {
			m.edge[h] = EdgeID(len(m.edgeHalf))
			m.edgeHalf = append(m.edgeHalf, HalfedgeID(h))
		} else {
			m.edge[h] = m.edge[t]
		}
	}
	for _, h := range crowd {
		if m.twin[h] == None {
			m.crowded = append(m.crowded, m.edge[h])
		}
	}
	slices.Sort(m.crowded)
}

// Places returns for each point the first point at the same position.
func (m *Mesh) Places() []PointID {
	place := make([]PointID, len(m.Points))
	size := 1 << bits.Len(uint(len(m.Points))) // of a table that is half full at most, probed one by one
	size *= 2
	table := make([]PointID, size)
	for i := range table {
		table[i] = None
	}
	for i, p := range m.Points {
		p = plus0(p)
		at := int(hashed(p)) & (size - 1)
		for table[at] != None && plus0(m.Points[table[at]]) != p {
			at = (at + 1) & (size - 1)
		}
		if table[at] == None {
			table[at] = PointID(i)
		}
		place[i] = table[at]
	}
	return place
}

// seed keeps others from knowing which points fall together.
var seed = rand.Uint64() | 1

// hashed is a number that equal points have in common and others hardly ever.
func hashed(p r3.Vec) uint64 {
	h := seed
	for _, x := range [3]float64{p.X, p.Y, p.Z} {
		h ^= math.Float64bits(x)
		h *= 0x9e3779b97f4a7c15
		h ^= h >> 29
	}
	return h * 0xbf58476d1ce4e5b9 >> 16
}

// span returns the places of the ends of a halfedge, lower first.
func (m *Mesh) span(place []PointID, h HalfedgeID) (a, b PointID) {
	a, b = place[m.From(h)], place[m.To(h)]
	if a > b {
		a, b = b, a
	}
	return a, b
}

// pair joins the halfedges of one span if they form clear pairs; it returns
// false when some had to be left apart though others share their span.
func (m *Mesh) pair(place []PointID, hs []HalfedgeID) bool {
	if len(hs) == 1 {
		return true
	}
	opposite := func(x, y HalfedgeID) bool { return place[m.From(x)] == place[m.To(y)] }
	if len(hs) == 2 {
		x, y := hs[0], hs[1]
		if !opposite(x, y) {
			return false
		}
		sameObject := m.FaceObject[m.cornerFace[x]] == m.FaceObject[m.cornerFace[y]]
		if m.From(x) == m.To(y) || sameObject {
			m.twin[x], m.twin[y] = y, x
		}
		return true
	}
	// Several faces at one place. Pairs that share their very points are certain; of the
	// others those belong together that bend least, as a plate goes on under a fin and the
	// two sides of a sheet without thickness go on each for itself.
	type ends struct{ from, to PointID }
	count := map[ends]int{}
	only := map[ends]HalfedgeID{}
	for _, x := range hs {
		k := ends{m.From(x), m.To(x)}
		count[k]++
		only[k] = x
	}
	var fore, back []HalfedgeID
	for _, x := range hs {
		k, o := ends{m.From(x), m.To(x)}, ends{m.To(x), m.From(x)}
		if count[k] == 1 && count[o] == 1 {
			m.twin[x] = only[o]
			continue
		}
		if k.from != o.from && opposite(x, hs[0]) {
			back = append(back, x)
		} else {
			fore = append(fore, x)
		}
	}
	if len(fore) > 0 && len(back) > 0 && len(fore)*len(back) <= crowdLimit {
		m.pairFlattest(fore, back)
	}
	return !slices.ContainsFunc(hs, func(x HalfedgeID) bool { return m.twin[x] == None })
}

// crowdLimit bounds how many pairs of faces on one edge are compared.
const crowdLimit = 4096

// foldedBack is the bend above which two faces on a crowded edge are the sides of a sheet
// rather than neighbours.
const foldedBack = 170 * math.Pi / 180

// pairFlattest joins halfedges that run one way with those that run back, the pair that
// bends least first, of equal ones the convex before the concave.
func (m *Mesh) pairFlattest(fore, back []HalfedgeID) {
	type couple struct {
		x, y    HalfedgeID
		bend    float32
		concave bool
	}
	var list []couple
	for _, x := range fore {
		n := m.newell(m.cornerFace[x])
		for _, y := range back {
			o := m.newell(m.cornerFace[y])
			if bend := Angle(n, o); bend < foldedBack && m.FaceObject[m.cornerFace[x]] == m.FaceObject[m.cornerFace[y]] {
				list = append(list, couple{x, y, float32(math.Round(bend * 1e5)), r3.Dot(r3.Cross(n, o), m.EdgeVec(x)) < 0})
			}
		}
	}
	slices.SortFunc(list, func(a, b couple) int {
		if a.concave != b.concave && a.bend == b.bend {
			if b.concave {
				return -1
			}
			return 1
		}
		return cmp.Or(cmp.Compare(a.bend, b.bend), cmp.Compare(a.x, b.x), cmp.Compare(a.y, b.y))
	})
	for _, c := range list {
		if m.twin[c.x] == None && m.twin[c.y] == None {
			m.twin[c.x], m.twin[c.y] = c.y, c.x
		}
	}
}

// Place returns where a point was added.
func (b *Builder) Place(p PointID) r3.Vec { return b.m.Points[p] }
