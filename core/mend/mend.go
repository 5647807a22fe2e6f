// Package mend repairs meshes that come in: each repair finds what it would change, and changes
// that and nothing else. Nothing is repaired unless somebody asks for it.
package mend

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"morvek/core/mesh"
	"morvek/core/words"
)

// Repair is one thing that can be done.
type Repair struct {
	Kind string // as it is asked for
	Says string // what it does, in words
	find func(m *mesh.Mesh, o Options) plan
}

// Repairs are all of them, in the order in which they are done: points first, what lies double
// before what is turned over.
func Repairs() []Repair {
	return []Repair{
		{"weld", "points of an object that lie within a distance become one", weld},
		{"folded", "faces that repeat corners lose these, or go where nothing is left", folded},
		{"doubled", "faces that lie on another one go", doubled},
		{"slivers", "pieces of next to no area go", slivers},
		{"winding", "faces that are wound against their neighbours are turned over, closed pieces face outward", winding},
		{"holes", "borders where the mesh ends are closed by a polygon each", holes},
		{"flat", "polygons that are not flat or cross themselves become triangles", flat},
		{"unused", "points no face uses go", unused},
	}
}

// Options of repairs.
type Options struct {
	Weld float64 // distance, in model units; 0 means DefaultWeld of the diagonal
}

// DefaultWeld is the distance within which points are welded, as a share of the diagonal.
const DefaultWeld = 1e-6

// Change is what a repair does or would do to a mesh.
type Change struct {
	Kind  string
	Says  string
	Count int           // faces, or points where it is about these
	Faces []mesh.FaceID // that it changes, of the mesh before
}

// plan is what a repair would do: the faces it concerns, and the mesh it makes.
type plan struct {
	count int
	faces []mesh.FaceID
	make  func() (*mesh.Mesh, error)
}

// meant tells whether a repair is among those that are asked for; all asks for every one but holes, since
// the rims of walls without thickness are meant to be.
func meant(kind string, kinds []string) bool {
	return slices.Contains(kinds, kind) || kind != "holes" && slices.Contains(kinds, "all")
}

// Find tells what repairs would change in a mesh, those that are asked for or, without any, all; those
// that would change nothing are left out.
func Find(m *mesh.Mesh, o Options, kinds ...string) (out []Change) {
	if len(kinds) == 0 {
		kinds = []string{"all"}
	}
	for _, r := range Repairs() {
		if !meant(r.Kind, kinds) {
			continue
		}
		if p := r.find(m, o.of(m)); p.count > 0 {
			out = append(out, Change{r.Kind, r.Says, p.count, p.faces})
		}
	}
	return out
}

// Do makes the repairs that are asked for, in their order; unknown ones are refused. all asks for
// every one but holes, since the rims of walls without thickness are meant to be. The mesh is returned as it is where there is nothing to do.
func Do(ctx context.Context, m *mesh.Mesh, kinds []string, o Options) (*mesh.Mesh, []Change, error) {
	if err := Check(kinds); err != nil {
		return nil, nil, err
	}
	var done []Change
	for _, r := range Repairs() {
		if ctx.Err() != nil {
			return nil, nil, ctx.Err()
		}
		if !meant(r.Kind, kinds) {
			continue
		}
		p := r.find(m, o.of(m))
		if p.count == 0 {
			continue
		}
		w, err := p.make()
		if err != nil {
			return nil, nil, fmt.Errorf("repairing %s: %w", r.Kind, err)
		}
		done = append(done, Change{r.Kind, r.Says, p.count, p.faces})
		m = w
	}
	return m, done, nil
}

// Check refuses repairs that there are not.
func Check(kinds []string) error {
	var names []string
	for _, r := range Repairs() {
		names = append(names, r.Kind)
	}
	for _, k := range kinds {
		if k != "all" && !slices.Contains(names, k) {
			return fmt.Errorf("the repair %q is unknown; choose %s or all", k, strings.Join(names, ", "))
		}
	}
	return nil
}

func (o Options) of(m *mesh.Mesh) Options {
	if !(o.Weld > 0) {
		o.Weld = DefaultWeld * m.Diagonal()
	}
	return o
}

// Words is a change in a sentence.
func (c Change) Words() string {
	of := "face"
	switch c.Kind {
	case "weld", "unused":
		of = "point"
	case "holes":
		of = "border"
	}
	return fmt.Sprintf("%s: %s", c.Kind, words.Count(c.Count, of))
}

// changing is a plan by which some faces become what cut says, none or several, and others stay.
func changing(m *mesh.Mesh, some []mesh.FaceID, cut func(f mesh.FaceID) []mesh.Recut) plan {
	return plan{len(some), some, func() (*mesh.Mesh, error) {
		changed := make([]bool, m.NumFaces())
		for _, f := range some {
			changed[f] = true
		}
		var faces []mesh.Recut
		for f := range mesh.FaceID(m.NumFaces()) {
			if changed[f] {
				faces = append(faces, cut(f)...)
			} else {
				faces = append(faces, m.Whole(f))
			}
		}
		return m.Recut(faces)
	}}
}

// without is a plan by which some faces go.
func without(m *mesh.Mesh, gone []mesh.FaceID) plan {
	if len(gone) == m.NumFaces() { // then there is nothing left, and nothing to do
		return plan{}
	}
	return changing(m, gone, func(mesh.FaceID) []mesh.Recut { return nil })
}

// Health lists what repairs would change that the mesh does not tell itself.
func Health(m *mesh.Mesh) (out []mesh.Ailment) {
	for _, x := range []struct {
		kind, repair, note string
		find               func(*mesh.Mesh, Options) plan
	}{
		{"flipped", "winding", "faces that are wound against their neighbours, or closed pieces that face inward; such edges are treated as cuts", winding},
		{"bent-polygons", "flat", "polygons that are not flat or cross themselves", flat},
		{"slivers", "slivers", "faces of pieces of next to no area", slivers},
	} {
		if p := x.find(m, Options{}); p.count > 0 {
			out = append(out, mesh.Ailment{Kind: x.kind, Count: p.count, Faces: p.faces, Note: x.note, Repair: x.repair})
		}
	}
	return out
}
