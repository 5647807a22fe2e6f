// Package ply reads and writes PLY, the polygon file format of Turk (1994): elements of rows
// with named properties, as text or in either byte order. All of a file is read into columns, of
// which the mesh is made; written again, elements and properties nobody understood are as before.
package ply

import "morvek/core/meshio/format"

// Format is the row of the table of formats.
var Format = format.Format{
	Name:       "PLY",
	Extensions: []string{".ply"},
	Media:      "application/octet-stream",
	Magic:      [][]byte{[]byte("ply\n"), []byte("ply\r")},
	Read:       Read,
	Write:      Write,
	Keeps:      "points, polygons and their order, normals, colours, comments, properties of any name, and all maps (as texcoord of the faces)",
}

// file is all that a PLY file says.
type file struct {
	format   string   // ascii, binary_little_endian or binary_big_endian
	notes    []string // comments and obj_info, with their keyword
	elements []*element
}

type element struct {
	name  string
	count int
	props []*property
}

// property is a column: a value a row, or a list of them.
type property struct {
	name   string
	kind   kind
	length kind // of the number of values of a list; 0 for no list
	values []float64
	start  []int32 // of each row of a list, and the end
}

// kind is a type of numbers.
type kind int

const (
	none kind = iota
	int8s
	uint8s
	int16s
	uint16s
	int32s
	uint32s
	float32s
	float64s
)

// kinds are the names of types, the usual one last.
var kinds = map[string]kind{"char": int8s, "int8": int8s, "uchar": uint8s, "uint8": uint8s, "short": int16s, "int16": int16s,
	"ushort": uint16s, "uint16": uint16s, "int": int32s, "int32": int32s, "uint": uint32s, "uint32": uint32s,
	"float": float32s, "float32": float32s, "double": float64s, "float64": float64s}

var kindNames = [...]string{"", "char", "uchar", "short", "ushort", "int", "uint", "float", "double"}

// size is how many bytes a number takes.
func (k kind) size() int { return [...]int{0, 1, 1, 2, 2, 4, 4, 4, 8}[k] }

// whole tells whether numbers of a type are integers.
func (k kind) whole() bool { return k < float32s }

// full is what stands for 1 in a colour of a type.
func (k kind) full() float64 {
	return [...]float64{1, 127, 255, 32767, 65535, 1<<31 - 1, 1<<32 - 1, 1, 1}[k]
}

func (f *file) element(name string) *element {
	for _, e := range f.elements {
		if e.name == name {
			return e
		}
	}
	return nil
}

// property returns the first there is of some names.
func (e *element) property(names ...string) *property {
	for _, n := range names {
		for _, p := range e.props {
			if p.name == n {
				return p
			}
		}
	}
	return nil
}

// row is what a list has in a row.
func (p *property) row(i int) []float64 { return p.values[p.start[i]:p.start[i+1]] }
