package sheetedits

import (
	"context"
	"fmt"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Stack lays shells onto one that they are like: turned, turned over where they are its mirror
// image, and stretched a little where they are nearly like it.
type Stack struct {
	Faces []mesh.FaceID `json:"faces"` // a face of each shell; the first is the one on which the others come to lie

	most lay.Likeness // of the shell that is least like it
	over int
}

// Kind implements Edit.
func (*Stack) Kind() string { return "stack" }

// Describe implements Edit.
func (e *Stack) Describe() string { return "stack " + words.Count(len(e.Faces), "shell") }

// Apply implements Edit.
func (e *Stack) Apply(ctx context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	if len(list) < 2 {
		return nil, document.Refuse("pick two shells at least: the first is the one on which the others come to lie")
	}
	base := list[0]
	s := d.Begin()
	var lies []document.Lie
	e.most, e.over = lay.Likeness{Stretch: 1}, 0
	for _, u := range list[1:] {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		like, ok := lay.Liken(d.State, u, base)
		if !ok {
			return nil, document.Refuse("a shell of %s is not like the one of %s that it should lie on", d.State.NameOf(u.Faces[0]), d.State.NameOf(base.Faces[0]))
		}
		if like.Stretch > e.most.Stretch {
			e.most = like
		}
		if like.Over {
			e.over++
		}
		put(s, u, like.To)
		shells, of := d.State.Map.Shells()
		seen := map[int32]bool{}
		for _, f := range u.Faces {
			if k := of[f]; !seen[k] {
				seen[k] = true
				lies = append(lies, document.Lie{On: base.Faces[0], Shell: shells[k].Faces[0]})
			}
		}
	}
	s.Stack(lies...)
	return s.Done(), nil
}

// Preview says what lying on each other costs.
func (e *Stack) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	if err != nil {
		return preview.Preview{}, err
	}
	n := len(e.Faces) - 1
	said := fmt.Sprintf("%s on one", words.Count(n, "shell"))
	if e.over > 0 {
		said += fmt.Sprintf(", %d turned over", e.over)
	}
	if e.most.Stretch > 1.0005 {
		said += ", stretched up to " + words.Times(e.most.Stretch, 3)
	}
	return preview.Preview{State: s, Said: said}, nil
}

// Unstack takes shells out of their stacks: they come to the rack, or where there is room.
type Unstack struct {
	Faces  []mesh.FaceID `json:"faces"`            // of shells that lie in stacks
	All    bool          `json:"all,omitempty"`    // all that lie on the lowest ones of these stacks
	Spread bool          `json:"spread,omitempty"` // each is laid into free room, if there is any
}

// Kind implements Edit.
func (*Unstack) Kind() string { return "unstack" }

// Describe implements Edit.
func (e *Unstack) Describe() string {
	if e.Spread {
		return "spread a stack"
	}
	return "take shells out of a stack"
}

// Apply implements Edit.
func (e *Unstack) Apply(ctx context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	shells, of := d.State.Map.Shells()
	stacks := d.State.Stacks()
	var loose [][]mesh.FaceID
	var firsts []mesh.FaceID
	seen := map[int32]bool{}
	take := func(k int32) {
		if !seen[k] {
			seen[k] = true
			loose = append(loose, shells[k].Faces)
			firsts = append(firsts, shells[k].Faces[0])
		}
	}
	for _, f := range e.Faces {
		i := stacks.Of(f)
		switch {
		case i < 0:
		case e.All || e.Spread:
			for _, k := range stacks.Shells(i)[1:] {
				take(k)
			}
		default:
			take(of[f])
		}
	}
	if len(loose) == 0 {
		return nil, document.Refuse("these shells lie in no stack")
	}
	s := d.Begin()
	unstack(s, firsts)
	s.Map.ToRack(loose...)
	out := s.Done()
	if !e.Spread {
		return out, nil
	}
	out, _, err := lay.Fill(ctx, d.With(out), firsts, lay.Fixed)
	return out, err
}

// unstack takes the shells of some faces out of their stacks, and turns those back that were
// turned over to lie there.
func unstack(s *document.Tx, faces []mesh.FaceID) {
	stacks := s.Stacks()
	shells, of := s.Map.Shells()
	seen := map[int32]bool{}
	var over [][]mesh.FaceID
	for _, f := range faces {
		if _, above := stacks.Lying(f); above && !seen[of[f]] && mirrored(s.State, shells[of[f]].Faces) {
			seen[of[f]] = true
			over = append(over, shells[of[f]].Faces)
		}
	}
	s.Unstack(faces)
	for _, shell := range over {
		s.Map.Transform(shell, func(q r2.Vec) r2.Vec { return r2.Vec{X: -q.X, Y: q.Y} })
	}
}

// mirrored tells whether most of a shell lies face down.
func mirrored(s *document.State, faces []mesh.FaceID) bool {
	var area float64
	for _, t := range s.Map.Triangles(faces) {
		area += t.Area()
	}
	return area < 0
}

// OffsetStack moves the shells that lie on others by whole tiles, so that each place is baked
// once: 0 brings them back.
type OffsetStack struct {
	Faces []mesh.FaceID `json:"faces"` // of shells that lie in stacks
	Tiles int           `json:"tiles"` // to the right
}

// Kind implements Edit.
func (*OffsetStack) Kind() string { return "offset-stack" }

// Describe implements Edit.
func (e *OffsetStack) Describe() string {
	if e.Tiles == 0 {
		return "bring a stack back together"
	}
	return "offset a stack by " + words.Count(e.Tiles, "tile")
}

// Apply implements Edit.
func (e *OffsetStack) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	if err := document.CheckFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if e.Tiles < 0 || e.Tiles > document.MostTiles {
		return nil, document.Refuse("%d tiles are out of reach; choose 0 to %d", e.Tiles, document.MostTiles)
	}
	shells, _ := d.State.Map.Shells()
	stacks := d.State.Stacks()
	s := d.Begin()
	seen := map[int]bool{}
	for _, f := range e.Faces {
		i := stacks.Of(f)
		if i < 0 || seen[i] {
			continue
		}
		seen[i] = true
		list := stacks.Shells(i)
		low := d.State.Map.Box(shells[list[0]].Faces)
		for _, k := range list[1:] {
			by, _ := d.State.TilesApart(low, d.State.Map.Box(shells[k].Faces))
			by = r2.Vec{X: float64(e.Tiles)*d.State.Settings.Sheet.TileWidth() - by.X, Y: -by.Y}
			s.Map.Transform(shells[k].Faces, func(q r2.Vec) r2.Vec { return r2.Add(q, by) })
		}
	}
	if len(seen) == 0 {
		return nil, document.Refuse("these shells lie in no stack")
	}
	return s.Done(), nil
}
