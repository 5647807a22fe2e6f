package revise

import (
	"context"
	"fmt"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/mesh"
)

// Carry gives a document of a revised model, on which the whole job was done, the map of the model
// before: what is the same lies where it lay; what is new, and what else changed of its part, lies as the
// job laid it, in the room that is left. The sheet is that of the model before, with as many tiles as the document has if these are more.
func Carry(ctx context.Context, from, to *document.Document, m Match) (*document.State, Carried, error) {
	s := to.Begin()
	tiles := s.Settings.Sheet.Tiles
	asMap(s, from.State)
	keepNames(s, from, m)
	if !s.Settings.Sheet.Wide {
		s.Settings.Sheet.Tiles = max(tiles, s.Settings.Sheet.Tiles)
	}
	now := to.Mesh
	look := Foresee(from, to, m)
	c := look.Carried
	stays := make([]bool, now.NumFaces()) // it is on the map of before
	for f, fate := range look.After {
		stays[f] = fate != Anew
	}
	s.Wishes.Marks = newAdopter(from, to, m).marks(from.State.Wishes.Marks, stays)
	place(s, now, m, all(stays), stays)
	in := &inPlace{from: from, job: to, m: m, stays: stays}
	d, n, err := in.changed(ctx, to.With(s.Done()), changedParts(to, m))
	if err != nil {
		return nil, c, err
	}
	c.InPlace = n
	s = d.Begin()
	var fresh []mesh.FaceID
	for f := range mesh.FaceID(now.NumFaces()) {
		if !stays[f] && s.Map.IsMapped(f) {
			fresh = append(fresh, f)
		}
	}
	if len(fresh) == 0 {
		return s.Done(), c, nil
	}
	shells, of := s.Map.Shells()
	var groups [][]mesh.FaceID
	done := map[int32]bool{}
	for _, f := range fresh {
		if k := of[f]; k != mesh.None && !done[k] {
			done[k] = true
			groups = append(groups, shells[k].Faces)
		}
	}
	s.Map.ToRack(groups...)
	out, filled, err := lay.Fill(ctx, to.With(s.Done()), fresh, lay.Even)
	for _, share := range smaller {
		if err != nil || len(filled.Left) == 0 {
			break
		}
		if out, filled, err = fillSmaller(ctx, to.With(out), filled.Left, share); filled.Laid > 0 {
			c.Smaller = share
		}
	}
	c.Waiting = len(filled.Left)
	return out, c, err
}

// keepNames calls parts as most of their faces were called, each name once.
func keepNames(s *document.Tx, from *document.Document, m Match) {
	names := called(s.State, from, m)
	used := map[string]bool{}
	for _, name := range names {
		used[name] = name != ""
	}
	for p, name := range names {
		switch {
		case name != "" && name != s.Parts[p].Name:
			s.Part(document.PartID(p)).Name = name
		case name == "" && used[s.Parts[p].Name]: // another part has its name now
			s.Part(document.PartID(p)).Name = free(used, s.Parts[p].Name)
		}
		used[s.Parts[p].Name] = true
	}
}

// called is what most of the faces of each part were called before, each name once; "" where that is
// nothing, or another's.
func called(s *document.State, from *document.Document, m Match) []string {
	votes := make([]map[document.PartID]int, len(s.Parts))
	for f, of := range m.Of {
		p := s.PartOf(mesh.FaceID(f))
		if p < 0 || of == mesh.None || from.State.PartOf(of) < 0 {
			continue
		}
		if votes[p] == nil {
			votes[p] = map[document.PartID]int{}
		}
		votes[p][from.State.PartOf(of)]++
	}
	names := make([]string, len(s.Parts))
	used := map[string]bool{}
	for p, v := range votes {
		best, n := document.NoPart, 0
		for q, k := range v {
			if k > n || k == n && q < best {
				best, n = q, k
			}
		}
		if best >= 0 && !used[from.State.Parts[best].Name] {
			names[p] = from.State.Parts[best].Name
			used[names[p]] = true
		}
	}
	return names
}

// free is a name that is not used yet, with a number behind it.
func free(used map[string]bool, name string) string {
	for n := 2; ; n++ {
		if out := fmt.Sprintf("%s %d", name, n); !used[out] {
			return out
		}
	}
}

// smaller are the shares of the density of all others at which new shells are laid that find no room
// at that itself.
var smaller = []float64{0.8, 0.65, 0.5}

// fillSmaller lays shells where there is room, at a share of the density of those that lie on the
// sheet.
func fillSmaller(ctx context.Context, d *document.Document, faces []mesh.FaceID, share float64) (*document.State, lay.Filled, error) {
	s := d.Begin()
	var lying []mesh.FaceID
	for _, u := range lay.Units(s.State) {
		if !u.OnRack() {
			lying = append(lying, u.Faces...)
		}
	}
	common := s.Map.Density(lying)
	shells, of := s.Map.Shells()
	for _, f := range faces {
		shell := shells[of[f]].Faces
		if own := s.Map.Density(shell); own > 0 && common > 0 {
			by := share * common / own
			s.Map.Transform(shell, func(q r2.Vec) r2.Vec { return r2.Scale(by, q) })
		}
	}
	return lay.Fill(ctx, d.With(s.Done()), faces, lay.Fixed)
}
