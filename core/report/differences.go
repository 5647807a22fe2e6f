package report

import (
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
)

// Seen is a map of a document with what was measured of it.
type Seen struct {
	Doc   *document.Document
	Proof proof.Report
}

// Change is what became of a face between two states of a map.
type Change uint8

// What can become of a face.
const (
	Stays     Change = iota // it lies where it lay
	Elsewhere               // it lies otherwise
	Added                   // it lies on the map now
	Removed                 // it does not lie on the map any more
)

// Difference is a number before and after.
type Difference struct {
	Words, Before, After string
	Trend                int // 1 for the better, -1 for the worse, 0 where neither
}

// PartDifference is a part that is not what it was; nil where there was none of its name, or is none.
type PartDifference struct {
	Before, After *PartRow
	Elsewhere     int // faces of it that lie otherwise, after
}

// Differences are what two states of a map differ by.
type Differences struct {
	Measures []Difference
	Findings []Difference // by kind, without those that were accepted
	Parts    []PartDifference
	Faces    []Change // of the mesh that both have; nil if they have not the same
	Counts   [4]int   // of the faces, by what became of them
}

// same is how far coordinates may lie apart and be equal: what is written has fewer digits.
const same = 1e-9

// Compare finds what two states differ by. They may be of different meshes.
func Compare(before, after Seen) Differences {
	out := Differences{Measures: measured(before, after), Findings: found(before, after)}
	out.Faces = Changes(before.Doc, after.Doc)
	for _, c := range out.Faces {
		out.Counts[c]++
	}
	out.Parts = partsThatDiffer(before, after, out.Faces)
	return out
}

// Changes tells what became of each face of a mesh that both states have; nil if they have not the same.
func Changes(before, after *document.Document) []Change {
	if !sameMesh(before.Mesh, after.Mesh) {
		return nil
	}
	out := make([]Change, after.Mesh.NumFaces())
	for f := range mesh.FaceID(len(out)) {
		out[f] = changeOf(before, after, f)
	}
	return out
}

func sameMesh(a, b *mesh.Mesh) bool {
	return a == b || slices.Equal(a.FaceStart, b.FaceStart) && slices.Equal(a.CornerPoint, b.CornerPoint) && slices.Equal(a.Points, b.Points)
}

func changeOf(before, after *document.Document, f mesh.FaceID) Change {
	switch was, is := before.State.Map.IsMapped(f), after.State.Map.IsMapped(f); {
	case !was && is:
		return Added
	case was && !is:
		return Removed
	case !is:
		return Stays
	}
	lo, hi := after.Mesh.Corners(f)
	for h := lo; h < hi; h++ {
		if d := r2.Sub(before.State.Map.At(h), after.State.Map.At(h)); math.Abs(d.X) > same || math.Abs(d.Y) > same {
			return Elsewhere
		}
	}
	return Stays
}

// measured are the numbers of both; what reads the same says it twice.
func measured(before, after Seen) []Difference {
	was := Measures(before.Proof.Totals, before.Doc.State.Settings.Unit)
	is := Measures(after.Proof.Totals, after.Doc.State.Settings.Unit)
	out := make([]Difference, len(is))
	for i, m := range is {
		out[i] = Difference{m.Words, was[i].Text, m.Text, 0}
		if was[i].Text != m.Text {
			out[i].Trend = m.Wish * sign(m.Value-was[i].Value)
		}
	}
	return out
}

// found are the findings of both, those kinds that either has.
func found(before, after Seen) (out []Difference) {
	count := func(s Seen, kind string) (n int) {
		for _, f := range s.Proof.Findings {
			if f.Kind == kind && f.Accepted == "" {
				n++
			}
		}
		return n
	}
	for _, kind := range proof.Kinds() {
		if was, is := count(before, kind), count(after, kind); was+is > 0 {
			out = append(out, Difference{FindingWords(kind), fmt.Sprint(was), fmt.Sprint(is), sign(float64(was - is))})
		}
	}
	return out
}

// partsThatDiffer pairs parts by their names.
func partsThatDiffer(before, after Seen, faces []Change) (out []PartDifference) {
	was, is := PartRows(before.Doc, before.Proof.Shells), PartRows(after.Doc, after.Proof.Shells)
	named := map[string]*PartRow{}
	for i := range was {
		named[was[i].Name] = &was[i]
	}
	elsewhere := make([]int, len(is))
	for f, c := range faces {
		if p := after.Doc.State.PartOf(mesh.FaceID(f)); c != Stays && p >= 0 {
			elsewhere[p]++
		}
	}
	for i := range is {
		p := PartDifference{named[is[i].Name], &is[i], elsewhere[i]}
		delete(named, is[i].Name)
		if p.Before == nil || p.Elsewhere > 0 || !p.Before.alike(*p.After) {
			out = append(out, p)
		}
	}
	for i := range was {
		if named[was[i].Name] == &was[i] {
			out = append(out, PartDifference{Before: &was[i]})
		}
	}
	slices.SortStableFunc(out, func(a, b PartDifference) int { return b.Elsewhere - a.Elsewhere })
	return out
}

// alike tells whether rows read the same, whichever their faces are.
func (r PartRow) alike(q PartRow) bool {
	r.First, q.First = 0, 0
	return r == q
}

func sign(x float64) int {
	switch {
	case x > 0:
		return 1
	case x < 0:
		return -1
	}
	return 0
}
