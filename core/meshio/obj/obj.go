// Package obj reads and writes Wavefront OBJ, the text format in which most programs
// exchange polygon meshes.
package obj

import "morvek/core/meshio/format"

// Format is the row of the table of formats.
var Format = format.Format{
	Name:       "Wavefront OBJ",
	Extensions: []string{".obj"},
	Media:      "text/plain; charset=utf-8",
	Read:       Read,
	Write:      Write,
	Maps:       1,
	Keeps:      "points, polygons and their order, objects, groups, materials, smoothing, normals, comments, wires, and one map; further ones in files beside it, lamp.map2.obj",
}
