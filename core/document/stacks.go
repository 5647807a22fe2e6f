package document

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// Stacks are the shells of a state that lie on each other on purpose.
type Stacks struct {
	of     []int32       // the shell of each face
	in     map[int32]int // stack of a shell
	shells [][]int32     // of each stack, the lowest first
}

// Stacks finds the shells that were stacked and still lie on each other, whole tiles apart
// perhaps: for the state as it is now.
func (s *State) Stacks() Stacks {
	if len(s.Wishes.Stacks) == 0 {
		return Stacks{}
	}
	shells, of := s.Map.Shells()
	k := Stacks{of: of, in: map[int32]int{}}
	for _, seeds := range s.Wishes.Stacks {
		var list []int32
		var box planar.Box
		for _, f := range seeds {
			sh := of[f]
			if sh == mesh.None || slices.Contains(list, sh) {
				continue
			}
			if _, taken := k.in[sh]; taken {
				continue
			}
			b := s.Map.Box(shells[sh].Faces)
			if len(list) == 0 {
				box = b
			} else if _, ok := s.TilesApart(box, b); !ok {
				continue
			}
			list = append(list, sh)
		}
		if len(list) < 2 {
			continue
		}
		for _, sh := range list {
			k.in[sh] = len(k.shells)
		}
		k.shells = append(k.shells, list)
	}
	return k
}

// TilesApart tells whether two boxes are one, but for rounding, when the second is moved by
// whole tiles, and by how many it lies away.
func (s *State) TilesApart(a, b planar.Box) (r2.Vec, bool) {
	return tilesApart(a, b, s.Settings.Sheet.TileWidth())
}

func tilesApart(a, b planar.Box, wide float64) (r2.Vec, bool) {
	by := r2.Sub(b.Min, a.Min)
	by = r2.Vec{X: wide * math.Round(by.X/wide), Y: math.Round(by.Y)}
	off := r2.Norm(r2.Sub(r2.Sub(b.Min, by), a.Min)) + r2.Norm(r2.Sub(r2.Sub(b.Max, by), a.Max))
	return by, off < 1e-5*(1e-2+r2.Norm(a.Size()))
}

// Of is the stack that the shell of a face lies in, -1 for none.
func (k Stacks) Of(f mesh.FaceID) int {
	if k.in == nil || k.of[f] == mesh.None {
		return -1
	}
	if i, ok := k.in[k.of[f]]; ok {
		return i
	}
	return -1
}

// Lying is the stack that the shell of a face lies in, -1 for none, and whether it lies on
// another there.
func (k Stacks) Lying(f mesh.FaceID) (stack int, above bool) {
	if stack = k.Of(f); stack < 0 {
		return stack, false
	}
	return stack, k.shells[stack][0] != k.of[f]
}

// Shells are those of a stack, the lowest first.
func (k Stacks) Shells(i int) []int32 { return k.shells[i] }

// Len is the number of stacks.
func (k Stacks) Len() int { return len(k.shells) }

// Unstacked refuses faces whose shells share their place with others.
func (s *State) Unstacked(k Stacks, faces []mesh.FaceID) error {
	for _, f := range faces {
		if k.Of(f) >= 0 {
			return Refuse("%s lies in a stack; take the stack apart first", s.NameOf(f))
		}
	}
	return nil
}

// Lie says that the shell of one face lies on that of another.
type Lie struct{ On, Shell mesh.FaceID }

// Stack notes that shells lie on others. Those that lay in other stacks do so no longer; what
// lay on the lowest one before stays there.
func (tx *Tx) Stack(list ...Lie) {
	_, of := tx.Map.Shells()
	var seeds [][]mesh.FaceID
	in := map[int32]int{} // the stack of a shell
	for i, s := range tx.Wishes.Stacks {
		seeds = append(seeds, slices.Clone(s))
		for _, f := range s {
			in[of[f]] = i
		}
	}
	for _, l := range list {
		if of[l.On] == of[l.Shell] || of[l.On] == mesh.None || of[l.Shell] == mesh.None {
			continue
		}
		to, ok := in[of[l.On]]
		if !ok {
			to = len(seeds)
			seeds = append(seeds, []mesh.FaceID{l.On})
			in[of[l.On]] = to
		}
		if was, ok := in[of[l.Shell]]; ok {
			if was == to {
				continue
			}
			seeds[was] = slices.DeleteFunc(seeds[was], func(f mesh.FaceID) bool { return of[f] == of[l.Shell] })
		}
		seeds[to] = append(seeds[to], l.Shell)
		in[of[l.Shell]] = to
	}
	tx.Wishes.Stacks = tidyStacks(seeds)
}

// Unstack notes that the shells of some faces lie on no other on purpose.
func (tx *Tx) Unstack(faces []mesh.FaceID) {
	if len(tx.Wishes.Stacks) > 0 {
		tx.unstack(tx.Map.ShellsOf(faces))
	}
}

// unstack takes those away whose mark lies in some faces.
func (tx *Tx) unstack(faces []mesh.FaceID) {
	if len(tx.Wishes.Stacks) == 0 {
		return
	}
	loose := ids.Set(faces)
	var stacks [][]mesh.FaceID
	for _, s := range tx.Wishes.Stacks {
		stacks = append(stacks, slices.DeleteFunc(slices.Clone(s), func(f mesh.FaceID) bool { return loose[f] }))
	}
	tx.Wishes.Stacks = tidyStacks(stacks)
}
