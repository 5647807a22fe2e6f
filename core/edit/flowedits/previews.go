package flowedits

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/segment"
	"morvek/core/words"
)

// Preview says how many lines come out straight and where it stretches most.
func (e *TrueUp) Preview(ctx context.Context, d *document.Document) (v preview.Preview, err error) {
	next, shells, err := e.Plan(ctx, d, nil)
	if err != nil {
		return v, err
	}
	v.State = next
	worst := 0.0
	for i, t := range shells {
		if t.LeftAsIs {
			continue
		}
		v.Straight = &shells[i].Straight
		v.LetGo = append(v.LetGo, t.LetGo()...)
		if t.After.Worst > worst && t.WorstFace >= 0 {
			worst = t.After.Worst
			v.Worst = &shells[i].WorstFace
		}
	}
	v.Rows = loopRows(TruedLoops(shells))
	if v.Said = TruedWords(shells); len(shells) > 1 {
		v.Straight = nil
	}
	return v, nil
}

// loopRows are the loops that are let go or stretch most, where any stretches.
func loopRows(loops []TruedLoop) (out []preview.Row) {
	for _, gone := range []bool{true, false} {
		for _, l := range loops {
			if l.Released != gone || len(out) == preview.Mostly || !gone && l.After < 1.001 {
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
			out = append(out, preview.Row{Edges: l.Edges, Words: fate + " along " + along, Figures: words.Times(l.Before, 3) + " → " + words.Times(l.After, 3)})
		}
	}
	return out
}

// Preview says how many borders come to lie on pixels.
func (e *Snap) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	next, did, err := e.Plan(ctx, d)
	if err != nil {
		return preview.Preview{}, err
	}
	v := preview.Preview{State: next, Said: fmt.Sprintf("%d straight borders on whole pixels, moved by %.2f px at most", did.Chains, did.Moved)}
	if did.Left > 0 {
		v.Said += fmt.Sprintf("; %d closer than a pixel to another stay between", did.Left)
	}
	return v, nil
}

// Preview says over which seams the pattern goes on, those first where it is most apart.
func (e *CarryOver) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	next, seams, err := e.Plan(ctx, d)
	if err != nil {
		return preview.Preview{}, err
	}
	v := preview.Preview{State: next, Said: segment.Sum(seams).Words()}
	seams = slices.Clone(seams)
	slices.SortStableFunc(seams, func(a, b segment.Carried) int {
		return cmp.Or(cmp.Compare(float32(b.Offset), float32(a.Offset)), cmp.Compare(float32(b.Length), float32(a.Length)))
	})
	for _, s := range seams[:min(preview.Mostly, len(seams))] {
		fate := "goes on"
		if s.Offset > segment.GoesOn {
			fate = "closes a ring"
		}
		v.Rows = append(v.Rows, preview.Row{Edges: s.Edges, Words: fate, Figures: fmt.Sprintf("%.1f thousandths apart", 1000*s.Offset)})
	}
	return v, nil
}
