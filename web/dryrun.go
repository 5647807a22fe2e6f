package web

import (
	"context"
	"fmt"

	"morvek/core/layout"
	"morvek/core/mesh"
)

// dryRun is what an edit would do, with what there is to say about it.
func dryRun(ctx context.Context, d *layout.Document, e layout.Edit) (ghostView, error) {
	switch e := e.(type) {
	case *layout.TrueUp:
		return trueUpGhost(ctx, d, e)
	case *layout.Snap:
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
	case *layout.CarryOver:
		next, seams, err := e.Plan(ctx, d)
		if err != nil {
			return ghostView{}, err
		}
		v, err := newGhostView(d, next)
		v.Said = layout.Sum(seams).Words()
		return v, err
	}
	next, err := e.Apply(ctx, d, nil)
	if err != nil {
		return ghostView{}, err
	}
	return newGhostView(d, next)
}

// trueUpGhost is what truing up would do, with how many lines come out straight and where
// it stretches most.
func trueUpGhost(ctx context.Context, d *layout.Document, e *layout.TrueUp) (v ghostView, err error) {
	next, shells, err := e.Plan(ctx, d, nil)
	if err != nil {
		return v, err
	}
	if v, err = newGhostView(d, next); err != nil {
		return v, err
	}
	changed, worst := 0, 0.0
	for i, t := range shells {
		if t.LeftAsIs {
			continue
		}
		changed++
		v.Said, v.Straight = t.Words(), &shells[i].Straight
		v.LetGo = append(v.LetGo, t.LetGo()...)
		v.Loops = loopViews(t.Loops)
		if t.After.Worst > worst && t.WorstFace >= 0 {
			worst = t.After.Worst
			f := int32(shells[i].WorstFace)
			v.Worst = &f
		}
	}
	if len(shells) > 1 {
		v.Said = fmt.Sprintf("%d of %d shells straightened, the others are straight, gain nothing or would stretch too much", changed, len(shells))
	}
	return v, nil
}

// loopView is a loop of a shell that truing up stretches or lets go.
type loopView struct {
	Edges  []mesh.EdgeID `json:"edges"`
	Along  string        `json:"along"` // U or V
	Before float64       `json:"before"`
	After  float64       `json:"after"`
	Fate   string        `json:"fate"`
}

// mostLoops is how many loops are listed.
const mostLoops = 4

// loopViews are the loops that are let go or stretch most, where any stretches.
func loopViews(loops []layout.TruedLoop) (out []loopView) {
	for _, gone := range []bool{true, false} {
		for _, l := range loops {
			if l.Released != gone || len(out) == mostLoops || !gone && l.After < 1.001 {
				continue
			}
			v := loopView{Edges: l.Edges, Along: "V", Before: finite(l.Before), After: finite(l.After), Fate: "straight"}
			if l.AlongU {
				v.Along = "U"
			}
			switch {
			case l.Released:
				v.Fate = "let go"
			case l.Shortened:
				v.Fate = "straight but for its ends"
			}
			out = append(out, v)
		}
	}
	return out
}
