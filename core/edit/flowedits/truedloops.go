package flowedits

import (
	"cmp"
	"fmt"
	"slices"

	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/words"
)

// TruedLoop is a loop of a shell, or a stretch of one between bends, with what truing up
// made of it.
type TruedLoop struct {
	Edges         []mesh.EdgeID // without those that only halves of quads have
	AlongU        bool
	Before, After float64 // worst stretch of the triangles at it
	Shortened     bool    // its bent ends were let go
	Released      bool    // it is not straight: it would have cost too much
}

// loops returns the lines of a shell as edges of the mesh, those first that stretch most.
func (t *TruedShell) loops(edgeOf map[[2]int32]mesh.EdgeID) []TruedLoop {
	out := make([]TruedLoop, 0, len(t.Lines))
	for _, x := range t.Lines {
		l := TruedLoop{AlongU: x.AlongU, Before: x.Before, After: x.After, Shortened: x.Shortened, Released: x.Released}
		for k := 1; k < len(x.Verts); k++ {
			a, b := x.Verts[k-1], x.Verts[k]
			if e, ok := edgeOf[[2]int32{min(a, b), max(a, b)}]; ok {
				l.Edges = append(l.Edges, e)
			}
		}
		out = append(out, l)
	}
	worstFirst(out)
	return out
}

func worstFirst(loops []TruedLoop) {
	slices.SortStableFunc(loops, func(a, b TruedLoop) int { return cmp.Compare(float32(b.After), float32(a.After)) })
}

// TruedLoops are the loops of all shells that were changed, those first that stretch most.
func TruedLoops(shells []TruedShell) (out []TruedLoop) {
	for _, t := range shells {
		if !t.LeftAsIs {
			out = append(out, t.Loops...)
		}
	}
	worstFirst(out)
	return out
}

// Kept is how many lines are straight.
func (t *TruedShell) Kept() (n int) {
	for _, l := range t.Loops {
		if !l.Released {
			n++
		}
	}
	return n
}

// Gave is how many lines are shortened or released.
func (t *TruedShell) Gave() (n int) {
	for _, l := range t.Loops {
		if l.Released || l.Shortened {
			n++
		}
	}
	return n
}

// LetGo are the edges of lines that were released.
func (t *TruedShell) LetGo() (out []mesh.EdgeID) {
	for _, l := range t.Loops {
		if l.Released {
			out = append(out, l.Edges...)
		}
	}
	return out
}

// Words sum up what truing up did to a shell.
func (t *TruedShell) Words() string {
	kind := fmt.Sprintf("%s straight", words.Count(t.Kept(), "line"))
	if t.Grid {
		kind = "a grid, all of it straight"
	}
	if gave := t.Gave(); gave > 0 {
		kind += fmt.Sprintf(", %d shortened or let go", gave)
		if len(t.LetGo()) > 0 {
			kind += " (these are dashed)"
		}
	}
	return kind
}

// TruedWords sum up what truing up did to shells.
func TruedWords(shells []TruedShell) string {
	if len(shells) == 1 {
		return shells[0].Words()
	}
	changed, straight := 0, 0
	for _, t := range shells {
		switch {
		case !t.LeftAsIs:
			changed++
		case t.Was > alreadyStraight:
			straight++
		}
	}
	words := fmt.Sprintf("%d of %d shells straightened", changed, len(shells))
	if straight > 0 {
		words += fmt.Sprintf(", %d straight before", straight)
	}
	if stay := len(shells) - changed - straight; stay > 0 {
		words += fmt.Sprintf(", %d left bent: they would stretch too much or gain little", stay)
	}
	return words
}

// TruedShell is what truing up did to a shell.
type TruedShell struct {
	flow.Trued
	Face             mesh.FaceID // of the shell
	Straight, Was    float64     // share of edge length on the axes, after and before
	Loops            []TruedLoop // its lines, those first that stretch most
	OnRack, LeftAsIs bool
}

// alreadyStraight is the share of straight edges from which there is nothing to gain.
const alreadyStraight = 0.995
