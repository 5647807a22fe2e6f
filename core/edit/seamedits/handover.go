package seamedits

import (
	"cmp"
	"context"
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/words"
)

// HandOver gives picked faces, a strip along the border, from their shell to the
// neighbour with the longest common border, or the one with the face To. The strip
// becomes part of what the neighbour belongs to; both shells are flattened.
type HandOver struct {
	Faces []mesh.FaceID `json:"faces"`
	To    *mesh.FaceID  `json:"to,omitempty"`
}

// Kind implements Edit.
func (*HandOver) Kind() string { return "hand-over" }

// Describe implements Edit.
func (e *HandOver) Describe() string { return "hand over " + words.Count(len(e.Faces), "face") }

// Apply implements Edit.
func (e *HandOver) Apply(ctx context.Context, d *document.Document, progress func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckPick(m, e.Faces); err != nil {
		return nil, err
	}
	if e.To != nil {
		if err := document.CheckFaces(m, []mesh.FaceID{*e.To}); err != nil {
			return nil, err
		}
	}
	region, _ := m.Regions(d.State.Map.IsCut)
	picked := ids.Set(e.Faces)
	type border struct {
		length float64
		part   document.PartID
	}
	beside := map[int32]*border{}
	for _, f := range e.Faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None {
				continue
			}
			if g := m.FaceOf(t); !picked[g] && region[g] != region[f] {
				if beside[region[g]] == nil {
					beside[region[g]] = &border{part: d.State.PartOf(g)}
				}
				beside[region[g]].length += m.EdgeLength(m.Edge(h))
			}
		}
	}
	to := int32(mesh.None)
	for r, b := range beside {
		if e.To != nil && region[*e.To] == r {
			to = r
			break
		}
		if e.To == nil && (to == mesh.None || cmp.Or(cmp.Compare(b.length, beside[to].length), cmp.Compare(to, r)) > 0) {
			to = r
		}
	}
	if to == mesh.None {
		return nil, document.Refuse("these faces do not lie at the border of the shell they should go to")
	}
	for f, r := range region {
		if picked[mesh.FaceID(f)] && r == to {
			return nil, document.Refuse("some of these faces belong to the neighbour already; pick a strip of one shell")
		}
	}
	s := d.Begin()
	if p := beside[to].part; slices.ContainsFunc(e.Faces, func(f mesh.FaceID) bool { return s.PartOf(f) != p }) && p >= 0 {
		s.Reassign(m, e.Faces, p)
	}
	var cut, closed []mesh.EdgeID
	for _, f := range e.Faces {
		lo, hi := m.Corners(f)
		for h := lo; h < hi; h++ {
			t := m.Twin(h)
			if t == mesh.None || picked[m.FaceOf(t)] {
				continue
			}
			if region[m.FaceOf(t)] == to {
				closed = append(closed, m.Edge(h))
			} else {
				cut = append(cut, m.Edge(h))
			}
		}
	}
	s.CutByHand(m, closed, false)
	s.CutByHand(m, cut, true)
	return lay.FlattenChanged(ctx, d, s.Done(), progress)
}

// ShellOff makes picked faces a shell of their own, as they lie; it waits on the
// rack. What is left of their shell stays.
type ShellOff struct {
	Faces []mesh.FaceID `json:"faces"`
}

// Kind implements Edit.
func (*ShellOff) Kind() string { return "shell-off" }

// Describe implements Edit.
func (e *ShellOff) Describe() string {
	return "part off " + words.Count(len(e.Faces), "face") + " as a shell"
}

// Apply implements Edit.
func (e *ShellOff) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	m := d.Mesh
	if err := document.CheckPick(m, e.Faces); err != nil {
		return nil, err
	}
	var cut []mesh.EdgeID
	for _, id := range m.BorderOf(e.Faces) {
		if _, b := m.EdgeFaces(id); b != mesh.None && !d.State.Map.IsCut(id) {
			cut = append(cut, id)
		}
	}
	if len(cut) == 0 {
		return nil, document.Refuse("these faces are a shell of their own already")
	}
	s := d.Begin()
	s.CutByHand(m, cut, true)
	var mapped []mesh.FaceID
	for _, f := range e.Faces {
		if s.Map.IsMapped(f) {
			mapped = append(mapped, f)
		}
	}
	if len(mapped) > 0 {
		s.Map.ToRack(mapped)
	}
	return s.Done(), nil
}
