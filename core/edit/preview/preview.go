// Package preview is what an edit would do, before anybody takes it: the state it leads to
// and what there is to say about it. Edits that have more to say than how the stretch of
// their shells changes build one with the same code that makes the change.
package preview

import (
	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/segment"
)

// Preview is what an edit would do.
type Preview struct {
	State *document.State
	Said  string // what it does, in words; none where the figures say it all
	Rows  []Row  // loops or seams that pay most, a few

	Worst    *mesh.FaceID  // that stretches most afterwards
	Straight *float64      // share of the edges of one shell that lie on the axes afterwards
	LetGo    []mesh.EdgeID // edges of loops that stay bent

	Parts *Parts            // how parts change
	Join  *segment.JoinCost // of a join
	Whole bool              // the whole map changes: its figures before and after tell most
}

// Row is a loop or a seam with what an edit makes of it.
type Row struct {
	Edges   []mesh.EdgeID
	Words   string
	Figures string
}

// Parts is how parts change.
type Parts struct {
	Was, Will int
	United    int // parts that go into larger ones
	Split     int // parts that are taken apart
}

// Mostly is how many rows are listed.
const Mostly = 4

// Of is the preview of an edit that has nothing to say but what it does.
func Of(s *document.State, err error) (Preview, error) { return Preview{State: s}, err }

// CountParts tells how parts differ between two states.
func CountParts(was, will *document.State) *Parts {
	v := &Parts{Was: len(was.Parts), Will: len(will.Parts)}
	before, after := was.PartFaces(), will.PartFaces()
	for p, faces := range before {
		into := map[document.PartID]bool{}
		for _, f := range faces {
			into[will.PartOf(f)] = true
		}
		switch q := will.PartOf(faces[0]); {
		case len(into) > 1:
			v.Split++
		case len(after[q]) > len(before[p]):
			v.United++
		}
	}
	return v
}
