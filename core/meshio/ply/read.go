package ply

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// Read reads the polygons of a PLY file: faces by vertex_indices or vertex_index, or strips of
// triangles; normals and colours of vertices; maps as texcoord lists of faces (texcoord1 and on:
// further ones) or, where there is none, as s and t, u and v or texture_u and texture_v of vertices.
// Errors are *format.Error.
func Read(ctx context.Context, in format.Input) (*mesh.Mesh, error) {
	f, err := parse(ctx, in)
	if err != nil {
		return nil, err
	}
	r := reader{b: mesh.NewBuilder(), vertex: f.element("vertex")}
	if r.vertex == nil {
		return nil, fail("the file has no vertices")
	}
	if err := r.vertices(); err != nil {
		return nil, err
	}
	switch face, strips := f.element("face"), f.element("tristrips"); {
	case face != nil && face.count > 0:
		err = r.faces(ctx, face)
	case strips != nil && strips.count > 0:
		err = r.strips(strips)
	default:
		return nil, fail("the file has points but no faces")
	}
	if err != nil {
		return nil, err
	}
	r.b.Keep(f)
	m, err := r.b.Build()
	if err != nil {
		return nil, fail("%v", err)
	}
	return m, nil
}

type reader struct {
	b      *mesh.Builder
	vertex *element
	normal bool
	uv     *[2]*property // of vertices
	colour []*property
}

// column returns a property that is no list.
func (e *element) column(names ...string) *property {
	if p := e.property(names...); p != nil && p.length == none {
		return p
	}
	return nil
}

// pairs are the names of coordinates of vertices.
var pairs = [][2]string{{"s", "t"}, {"u", "v"}, {"texture_u", "texture_v"}, {"texture_s", "texture_t"}}

func (r *reader) vertices() error {
	v := r.vertex
	x, y, z := v.column("x"), v.column("y"), v.column("z")
	if x == nil || y == nil || z == nil {
		return fail("the vertices lack x, y or z")
	}
	nx, ny, nz := v.column("nx"), v.column("ny"), v.column("nz")
	r.normal = nx != nil && ny != nil && nz != nil
	for _, p := range pairs {
		if a, b := v.column(p[0]), v.column(p[1]); a != nil && b != nil && r.uv == nil {
			r.uv = &[2]*property{a, b}
		}
	}
	r.colour = colours(v)
	for i := range v.count {
		r.b.Point(r3.Vec{X: x.values[i], Y: y.values[i], Z: z.values[i]})
		if r.normal {
			r.b.Normal(r3.Vec{X: nx.values[i], Y: ny.values[i], Z: nz.values[i]})
		}
		if r.uv != nil {
			r.b.UV(r2.Vec{X: r.uv[0].values[i], Y: r.uv[1].values[i]})
		}
		if r.colour != nil {
			r.b.Color(rgba(r.colour, i))
		}
	}
	return nil
}

// colours are the columns of red, green, blue and perhaps opacity.
func colours(e *element) []*property {
	out := []*property{e.column("red", "r", "diffuse_red"), e.column("green", "g", "diffuse_green"), e.column("blue", "b", "diffuse_blue")}
	if out[0] == nil || out[1] == nil || out[2] == nil {
		return nil
	}
	if a := e.column("alpha", "a"); a != nil {
		out = append(out, a)
	}
	return out
}

func rgba(cols []*property, row int) [4]float32 {
	c := [4]float32{0, 0, 0, 1}
	for k, p := range cols {
		c[k] = float32(p.values[row] / p.kind.full())
	}
	return c
}

// corner adds a corner of a face.
func (r *reader) corner(at float64, uv int32) error {
	if !(at >= 0 && at < float64(r.vertex.count)) {
		return fmt.Errorf("it uses vertex %g, but there are only %d (counted from 0)", at, r.vertex.count)
	}
	i := int32(at)
	n := int32(mesh.None)
	if r.normal {
		n = i
	}
	if uv == mesh.None && r.uv != nil {
		uv = i
	}
	r.b.Corner(mesh.PointID(i), uv, n)
	return nil
}

func (r *reader) faces(ctx context.Context, e *element) error {
	index := e.property("vertex_indices", "vertex_index")
	if index == nil || index.length == none {
		return fail("the faces lack vertex_indices")
	}
	var maps []*property
	for _, p := range e.props {
		if p.length != none && strings.HasPrefix(p.name, "texcoord") {
			maps = append(maps, p)
		}
	}
	if len(maps) > 0 {
		r.uv = nil // that of faces says more
	}
	own := colours(e)
	for i := range e.count {
		if i&0xfff == 0 && ctx.Err() != nil {
			return ctx.Err()
		}
		row := index.row(i)
		if len(row) < 3 {
			return fail("face %d has %d corners, it needs at least 3", i+1, len(row))
		}
		paint := int32(mesh.None)
		if own != nil && r.colour == nil {
			paint = r.b.Color(rgba(own, i))
		}
		for k, at := range row {
			uv := int32(mesh.None)
			if len(maps) > 0 {
				if list := maps[0].row(i); len(list) == 2*len(row) {
					uv = r.b.UV(r2.Vec{X: list[2*k], Y: list[2*k+1]})
				}
			}
			if err := r.corner(at, uv); err != nil {
				return fail("face %d: %v", i+1, err)
			}
			for l := 1; l < len(maps); l++ {
				if list := maps[l].row(i); len(list) == 2*len(row) {
					r.b.LayerUV(l-1, r2.Vec{X: list[2*k], Y: list[2*k+1]})
				}
			}
			switch {
			case r.colour != nil:
				r.b.Paint(int32(at))
			case paint != mesh.None:
				r.b.Paint(paint)
			}
		}
		r.b.EndFace()
	}
	return nil
}

// strips reads strips of triangles, ended by -1.
func (r *reader) strips(e *element) error {
	index := e.property("vertex_indices", "vertex_index")
	if index == nil || index.length == none {
		return fail("the strips lack vertex_indices")
	}
	for i := range e.count {
		var strip []float64
		for _, at := range slices.Concat(index.row(i), []float64{-1}) {
			if at >= 0 {
				strip = append(strip, at)
				continue
			}
			for k := 2; k < len(strip); k++ {
				tri := [3]float64{strip[k-2], strip[k-1], strip[k]}
				if k%2 == 1 {
					tri[0], tri[1] = tri[1], tri[0]
				}
				if tri[0] == tri[1] || tri[1] == tri[2] || tri[0] == tri[2] {
					continue // turns the strip round a corner
				}
				for _, at := range tri {
					if err := r.corner(at, mesh.None); err != nil {
						return fail("strip %d: %v", i+1, err)
					}
					if r.colour != nil {
						r.b.Paint(int32(at))
					}
				}
				r.b.EndFace()
			}
			strip = strip[:0]
		}
	}
	return nil
}
