package sheetedits

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/words"
)

// SetApart mends shells that lie on each other or closer than the padding, or outside the sheet:
// of those in each other's way the larger stay, the others are laid where there is room.
type SetApart struct {
	Faces []mesh.FaceID `json:"faces"` // of the shells

	filled lay.Filled
}

// Kind implements Edit.
func (*SetApart) Kind() string { return "set-apart" }

// Describe implements Edit.
func (e *SetApart) Describe() string {
	if n := e.filled.Laid + len(e.filled.Left); n > 0 {
		return "set " + words.Count(n, "shell") + " apart"
	}
	return "set shells apart"
}

// Apply implements Edit.
func (e *SetApart) Apply(ctx context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	list, err := lay.UnitsOf(d.State, e.Faces)
	if err != nil {
		return nil, err
	}
	away := inTheWay(d.State, list)
	if len(away) == 0 {
		return nil, document.Refuse("these shells lie on the sheet, and far enough from each other")
	}
	s, filled, err := lay.Fill(ctx, d, away, lay.Fixed)
	e.filled = filled
	return s, err
}

// Preview says how many are laid elsewhere.
func (e *SetApart) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	s, err := e.Apply(ctx, d, nil)
	if err != nil {
		return preview.Preview{}, err
	}
	said := fmt.Sprintf("%s laid elsewhere", words.Count(e.filled.Laid, "shell"))
	if n := len(e.filled.Left); n > 0 {
		said += fmt.Sprintf(", %s for want of room", wait(n))
	}
	return preview.Preview{State: s, Said: said}, nil
}

// inTheWay is a face of each unit that must go elsewhere: those outside, and of those too close
// to each other the smaller ones, as few as can be told one by one.
func inTheWay(s *document.State, list []lay.Unit) (away []mesh.FaceID) {
	pad := s.Settings.Sheet.Padding / float64(s.Settings.Sheet.Size)
	order := slices.Clone(list)
	slices.SortStableFunc(order, func(a, b lay.Unit) int {
		return cmp.Compare(document.AreaOf(s.Map.Mesh(), b.Lowest()), document.AreaOf(s.Map.Mesh(), a.Lowest()))
	})
	var segs []planar.Segment
	var tris []planar.Triangle
	var of []int
	for i, u := range order {
		segs = append(segs, s.Map.Border(u.Lowest(), int32(i))...)
		t := s.Map.Triangles(u.Lowest())
		tris = append(tris, t...)
		of = append(of, slices.Repeat([]int{i}, len(t))...)
	}
	close := map[[2]int]bool{}
	note := func(a, b int) { close[[2]int{min(a, b), max(a, b)}] = true }
	_, gaps := planar.GapsWithin(segs, pad*(1-1e-9))
	for _, g := range gaps {
		note(int(segs[g.A].Group), int(segs[g.B].Group))
	}
	for _, o := range planar.Overlaps(tris, 1e-4) {
		note(of[o.A], of[o.B])
	}
	gone := make([]bool, len(order))
	for i, u := range order {
		room := usable(s, u.Box)
		const slack = 1e-9
		gone[i] = u.Box.Min.X < room.Min.X-slack || u.Box.Min.Y < room.Min.Y-slack || u.Box.Max.X > room.Max.X+slack || u.Box.Max.Y > room.Max.Y+slack
		for k := range i {
			gone[i] = gone[i] || !gone[k] && close[[2]int{k, i}]
		}
		if gone[i] {
			away = append(away, u.Faces[0])
		}
	}
	return away
}
