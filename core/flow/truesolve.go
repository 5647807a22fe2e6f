package flow

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
)

// keep makes constraints of the lines that are not released.
func (t *Trued) keep(s TrueSettings) (c flatten.Constraints) {
	c.Pins = s.Pins
	for _, l := range t.Lines {
		switch {
		case l.Released:
		case l.AlongU:
			c.ShareV = append(c.ShareV, l.Verts)
		default:
			c.ShareU = append(c.ShareU, l.Verts)
		}
	}
	return c
}

// patience is how many times only lines beside what stretches too much give way; after
// that all that are as bent do, so that large shells are done in few solves.
const patience = 5

// large is the number of triangles from which lines give way in larger steps.
const large = 40_000

// allowed is the stretch that a triangle may have which has some already. Where all shells
// are trued what an elbow has anyway may grow a little; it is judged as a whole afterwards.
func (s TrueSettings) allowed(tolerance, before float64) float64 {
	grown := 1.02
	if s.Quick {
		grown = 1.15
	}
	return max(tolerance, grown*before)
}

// toJudge is after how many rounds it shows whether lines cost too much.
const toJudge = 6

// solve straightens lines and releases those that cost too much until the rest is within
// the tolerance.
func (t *Trued) solve(ctx context.Context, p *mesh.Patch, uv []r2.Vec, s TrueSettings, free []float64) error {
	settled := false // whether the map is as good as it gets, not only good enough to judge
	for n := 0; ; n++ {
		rounds := s.Rounds
		if !settled {
			rounds = toJudge
		}
		r, err := flatten.Improve(ctx, p, uv, flatten.Settings{Method: flatten.ByLength, Keep: t.keep(s), MaxIterations: rounds, Settle: toJudge, Progress: s.Progress})
		if err != nil {
			return err
		}
		t.UV = r.UV
		each := t.measure(p, free)
		over := make(map[int32]bool) // vertices of triangles that stretch too much
		for i, tri := range p.Tris {
			if each[i] > s.allowed(s.Tolerance, free[i]) || r.Flips > 0 && r2.Cross(r2.Sub(r.UV[tri[1]], r.UV[tri[0]]), r2.Sub(r.UV[tri[2]], r.UV[tri[0]])) <= 0 {
				over[tri[0]], over[tri[1]], over[tri[2]] = true, true, true
			}
		}
		if len(over) == 0 && !settled && r.Iterations == rounds {
			settled = true
			continue
		}
		if len(over) == 0 {
			if !slices.ContainsFunc(t.Lines, func(l TrueLine) bool { return !l.Released && l.Bent > straightEnough }) {
				t.leave(uv, "what of it can be straight is straight; the rest curves or fans out")
			}
			return nil
		}
		var suspects []int
		for i, l := range t.Lines {
			if !l.Released && l.Bent > 1e-9 && (n >= patience || slices.ContainsFunc(l.Verts, func(v int32) bool { return over[v] })) {
				suspects = append(suspects, i)
			}
		}
		if len(suspects) == 0 { // not what is beside it: whatever is bent most
			for i, l := range t.Lines {
				if !l.Released && l.Bent > 1e-9 {
					suspects = append(suspects, i)
				}
			}
		}
		if len(suspects) == 0 {
			return nil
		}
		slices.SortStableFunc(suspects, func(a, b int) int {
			switch x, y := t.Lines[a].Bent, t.Lines[b].Bent; {
			case x > y*(1+1e-9):
				return -1
			case y > x*(1+1e-9):
				return 1
			}
			return 0
		})
		// All that are nearly as bent as the most bent give way at once: what is left is
		// half as bent each time, so that few solves are needed.
		share := 0.5
		if s.Quick || len(p.Tris) > large {
			share = 0.25
		}
		for most, k := t.Lines[suspects[0]].Bent, 0; k < len(suspects) && t.Lines[suspects[k]].Bent >= share*most; k++ {
			t.Lines[suspects[k]].giveWay(uv)
		}
		if !slices.ContainsFunc(t.Lines, func(l TrueLine) bool { return !l.Released }) {
			t.leave(uv, t.stays(p, "straight lines would stretch it beyond what is allowed"))
			return nil
		}
	}
}

// straightEnough is how far a line may be from its axis, relative to its length, to count
// as straight: a twentieth of a degree.
const straightEnough = 1e-3

// leave keeps a map as it was.
func (t *Trued) leave(uv []r2.Vec, why string) {
	t.UV, t.After, t.WorstFace, t.Why = slices.Clone(uv), t.Before, mesh.None, why
}

// giveWay lets go of the ends of a line where it bends most, or of all of it.
func (l *TrueLine) giveWay(uv []r2.Vec) {
	l.within /= 2
	best, from := [2]int{}, 0
	var most, run float64
	for k := 1; k < len(l.Verts); k++ {
		d := r2.Sub(uv[l.Verts[k]], uv[l.Verts[k-1]])
		if !l.AlongU {
			d = r2.Vec{X: d.Y, Y: d.X}
		}
		if math.Abs(d.Y) > math.Tan(l.within)*math.Abs(d.X) {
			from, run = k, 0
			continue
		}
		if run += r2.Norm(d); run > most {
			most, best = run, [2]int{from, k + 1}
		}
	}
	if best[1]-best[0] < 3 || l.within < 0.5*math.Pi/180 {
		l.Released = true
		return
	}
	l.Shortened = l.Shortened || best[1]-best[0] < len(l.Verts)
	l.Verts = l.Verts[best[0]:best[1]]
	l.Bent = bent(uv, l.Verts, l.AlongU)
}

// measure notes what the lines cost, against the stretch of each triangle before, and
// returns that of each now.
func (t *Trued) measure(p *mesh.Patch, before []float64) []float64 {
	var each []float64
	t.After, each = stretchOf(p, t.UV)
	at := make([][2]float64, len(p.Pos))
	worst := -1
	for i, tri := range p.Tris {
		if worst < 0 || each[i] > each[worst] {
			worst = i
		}
		for _, v := range tri {
			at[v] = [2]float64{max(at[v][0], before[i]), max(at[v][1], each[i])}
		}
	}
	if worst >= 0 {
		t.WorstFace = p.Faces[p.TriFace[worst]]
	}
	for i := range t.Lines {
		l := &t.Lines[i]
		l.Before, l.After = 0, 0
		for _, v := range l.Verts {
			l.Before, l.After = max(l.Before, at[v][0]), max(l.After, at[v][1])
		}
	}
	return each
}
