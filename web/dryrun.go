package web

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/segment"
)

// dryRun is what an edit would do, with what there is to say about it.
func dryRun(ctx context.Context, d *document.Document, e edit.Edit) (ghostView, error) {
	switch e := e.(type) {
	case *flowedits.TrueUp:
		return trueUpGhost(ctx, d, e)
	case *flowedits.Snap:
		next, did, err := e.Plan(ctx, d)
		if err != nil {
			return ghostView{}, err
		}
		v, err := newGhostView(d, next)
		v.Said = fmt.Sprintf("%d straight borders on whole pixels, moved by %.2f px at most", did.Chains, did.Moved)
		if did.Left > 0 {
			v.Said += fmt.Sprintf("; %d closer than a pixel to another stay between", did.Left)
		}
		return v, err
	case *flowedits.CarryOver:
		next, seams, err := e.Plan(ctx, d)
		if err != nil {
			return ghostView{}, err
		}
		v, err := newGhostView(d, next)
		v.Said, v.Rows = segment.Sum(seams).Words(), seamRows(seams)
		return v, err
	case *seamedits.Straighten:
		next, err := edit.Apply(ctx, d, e, nil)
		if err != nil {
			return ghostView{}, err
		}
		v, err := newGhostView(d, next)
		v.Said = "its seams are cut anew; it waits beside the sheet until all is packed"
		return v, err
	case *sheetedits.Lanes:
		next, cuts, sharper, err := e.Plan(ctx, d)
		if err != nil {
			return ghostView{}, err
		}
		v, err := newGhostView(d, next)
		v.Said, v.Rows = laneWords(d.State, cuts, sharper), laneRows(d.State, cuts)
		return v, err
	}
	next, err := edit.Apply(ctx, d, e, nil)
	if err != nil {
		return ghostView{}, err
	}
	v, err := newGhostView(d, next)
	switch e.(type) {
	case *partedits.Detail, *partedits.Split, *partedits.Unite:
		v.Parts = countParts(d.State, next)
	}
	return v, err
}

// partsView is how parts would change.
type partsView struct {
	Was    int `json:"was"`
	Will   int `json:"will"`
	United int `json:"united"` // parts that go into larger ones
	Split  int `json:"split"`  // parts that are taken apart
}

func countParts(was, will *document.State) *partsView {
	v := &partsView{Was: len(was.Parts), Will: len(will.Parts)}
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

// trueUpGhost is what truing up would do, with how many lines come out straight and where
// it stretches most.
func trueUpGhost(ctx context.Context, d *document.Document, e *flowedits.TrueUp) (v ghostView, err error) {
	next, shells, err := e.Plan(ctx, d, nil)
	if err != nil {
		return v, err
	}
	if v, err = newGhostView(d, next); err != nil {
		return v, err
	}
	worst := 0.0
	for i, t := range shells {
		if t.LeftAsIs {
			continue
		}
		v.Straight = &shells[i].Straight
		v.LetGo = append(v.LetGo, t.LetGo()...)
		if t.After.Worst > worst && t.WorstFace >= 0 {
			worst = t.After.Worst
			f := int32(shells[i].WorstFace)
			v.Worst = &f
		}
	}
	v.Rows = loopRows(flowedits.TruedLoops(shells))
	if v.Said = flowedits.TruedWords(shells); len(shells) > 1 {
		v.Straight = nil
	}
	return v, nil
}

// rowView is a loop or a seam with what an edit makes of it.
type rowView struct {
	Edges   []mesh.EdgeID `json:"edges"`
	Words   string        `json:"words"`
	Figures string        `json:"figures"`
}

// mostRows is how many rows are listed.
const mostRows = 4

// loopRows are the loops that are let go or stretch most, where any stretches.
func loopRows(loops []flowedits.TruedLoop) (out []rowView) {
	for _, gone := range []bool{true, false} {
		for _, l := range loops {
			if l.Released != gone || len(out) == mostRows || !gone && l.After < 1.001 {
				continue
			}
			fate, along := "straight", "V"
			switch {
			case l.Released:
				fate = "let go"
			case l.Shortened:
				fate = "straight but for its ends"
			}
			if l.AlongU {
				along = "U"
			}
			out = append(out, rowView{l.Edges, fate + " along " + along, timesText(l.Before, 3) + " → " + timesText(l.After, 3)})
		}
	}
	return out
}

// laneWords says what dividing shells costs and brings.
func laneWords(s *document.State, cuts []segment.Division, sharper float64) string {
	var long, seen float64
	more := 0
	for _, c := range cuts {
		more += c.Pieces - 1
		long += c.Length
		seen += c.Length * c.Exposure
	}
	gain := "nothing gets sharper"
	if sharper > 1.01 {
		gain = "everything gets " + timesText(sharper, 2) + " sharper"
	}
	return fmt.Sprintf("%d more %s, %s of seam, %.0f %% of it in view; %s", more, plural(more, "piece"), lengthText(long, s.Settings.Unit), 100*seen/max(long, 1e-300), gain)
}

func plural(n int, of string) string {
	if n == 1 {
		return of
	}
	return of + "s"
}

// laneRows are the shells that are divided, those with the longest cuts first.
func laneRows(s *document.State, cuts []segment.Division) (out []rowView) {
	cuts = slices.Clone(cuts)
	slices.SortStableFunc(cuts, func(a, b segment.Division) int { return cmp.Compare(float32(b.Length), float32(a.Length)) })
	for _, c := range cuts[:min(mostRows, len(cuts))] {
		name := "a shell"
		if c.Part >= 0 {
			name = s.Parts[c.Part].Name
		}
		out = append(out, rowView{c.Edges, fmt.Sprintf("%s in %d", name, c.Pieces), fmt.Sprintf("%s, exposure %.2f", lengthText(c.Length, s.Settings.Unit), c.Exposure)})
	}
	return out
}

// seamRows are the seams at which a carried pattern is most apart, longest first where
// they are alike.
func seamRows(seams []segment.Carried) (out []rowView) {
	seams = slices.Clone(seams)
	slices.SortStableFunc(seams, func(a, b segment.Carried) int {
		return cmp.Or(cmp.Compare(float32(b.Offset), float32(a.Offset)), cmp.Compare(float32(b.Length), float32(a.Length)))
	})
	for _, s := range seams[:min(mostRows, len(seams))] {
		words := "goes on"
		if s.Offset > segment.GoesOn {
			words = "closes a ring"
		}
		out = append(out, rowView{s.Edges, words, fmt.Sprintf("%.1f thousandths apart", 1000*s.Offset)})
	}
	return out
}
