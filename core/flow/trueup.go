package flow

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/unroll"
)

// Mode of truing up.
type TrueMode string

// What is made straight.
const (
	ByLoops  TrueMode = ""       // a shell of rows and columns as a grid if that is cheap, else every loop that is nearly straight
	AsGrid   TrueMode = "grid"   // rows and columns, whatever they do on the sheet
	ByBorder TrueMode = "border" // the border only
	ByPicked TrueMode = "picked" // the lines that picked edges belong to
)

// TrueSettings say what may be straightened and how dear it may be.
type TrueSettings struct {
	Mode      TrueMode
	Picked    map[[2]int32]bool // ByPicked: edges of the patch, lower vertex first
	Within    float64           // radians: a line within this of an axis belongs to it; 0 means 20°
	Tolerance float64           // worst stretch, σ₁ or 1/σ₂, that straightening may lead to; 0 means 1.15
	Pins      []flatten.Pin     // points that stay where they are
	Only      flatten.Axis      // OnlyU: lines that run along U; OnlyV: along V
	Rounds    int               // of each solve; 0 means until it settles
	Quick     bool              // give way in larger steps
	Isometric bool              // leave a map without stretch as it is
	Progress  func(flatten.Step)
}

// isometry is how far triangles of a map may be from their true lengths for it to count
// as one without stretch.
const isometry = 5e-4

// Stretch sums up a map at true scale.
type Stretch struct {
	L2, Angular float64 // Angular is the p95
	Worst       float64 // largest σ₁ or 1/σ₂ of a triangle
}

// TrueLine is a line with what truing up made of it.
type TrueLine struct {
	Verts         []int32
	AlongU        bool
	Before, After float64 // worst stretch of the triangles at it
	Bent          float64 // how far it was from its axis before, relative to its length
	Shortened     bool    // its bent ends were let go
	Released      bool    // it would have cost too much

	within float64 // radians: its edges are within this of its axis
}

// Trued is a map with its lines straight.
type Trued struct {
	UV            []r2.Vec
	Lines         []TrueLine
	Before, After Stretch
	WorstFace     mesh.FaceID // where it stretches most afterwards
	Grid          bool        // rows and columns throughout
	Why           string      // why nothing was straightened, in words
}

func (s TrueSettings) filled() TrueSettings {
	if s.Within == 0 {
		s.Within = 20 * math.Pi / 180
	}
	if s.Tolerance == 0 {
		s.Tolerance = 1.15
	}
	return s
}

// TrueUp makes the lines of a map straight along the axes of the sheet: vertices of a
// line that runs along U share their V, of one along V their U, exactly, and the map is
// as isometric as that allows. The map should be oriented before. Lines that would push
// the worst stretch above the tolerance are released, the most bent first; stretches of a
// line between bends are straightened each on its own.
func TrueUp(ctx context.Context, p *mesh.Patch, uv []r2.Vec, s TrueSettings) (Trued, error) {
	s = s.filled()
	t := Trued{UV: slices.Clone(uv), WorstFace: mesh.None}
	before, free := stretchOf(p, uv)
	t.Before, t.After = before, before
	if s.Isometric && t.Before.Worst < 1+isometry {
		t.Why = "it lies flat without stretch as it is"
		return t, nil
	}
	all := lines(p)
	if s.Mode == ByLoops || s.Mode == AsGrid {
		if flat, ok := gridMap(p, uv); ok {
			limit := s.Tolerance
			if s.Mode == AsGrid {
				limit = math.Inf(1)
			}
			// Spacing that relaxes hardly makes up for rows that are much too long.
			if as, _ := stretchOf(p, flat); as.Worst < 1.3*max(limit, t.Before.Worst) {
				g, err := trueGrid(ctx, p, uv, flat, all, s, before, free)
				if err != nil {
					return t, err
				}
				if g.After.Worst <= max(limit, 1.02*t.Before.Worst) {
					return g, nil
				}
			}
		} else if s.Mode == AsGrid {
			t.Why = "it is no grid: its loops do not run through as rows and columns"
			return t, nil
		}
	}
	t.Lines = s.candidates(p, uv, all)
	switch share := lengthOf(uv, t.Lines) / max(lengthOf(uv, asTrue(all)), 1e-300); {
	case len(t.Lines) == 0:
		t.Why = "no loop of it runs nearly along an axis"
		return t, nil
	case s.Mode == ByLoops && share < fewLines:
		t.Lines, t.Why = nil, curves(p, "most of its loops curve or fan out, as on a disc or a cone")
		return t, nil
	}
	return t, t.solve(ctx, p, uv, s, free)
}

// stretchOf measures a map at true scale, with the worst triangle.
func stretchOf(p *mesh.Patch, uv []r2.Vec) (s Stretch, each []float64) {
	own := slices.Clone(uv)
	flatten.TrueScale(p, own)
	s.L2, s.Angular = p.Stretch(own)
	d, ok := p.Differentials(own)
	each = make([]float64, len(d))
	for i := range d {
		if !ok[i] {
			continue
		}
		s1, s2 := d[i].Stretch()
		each[i] = max(s1, 1/max(s2, 1e-12))
		s.Worst = max(s.Worst, each[i])
	}
	return s, each
}

// IsGrid tells whether a patch is rows and columns of quads throughout, halves of quads
// put together.
func IsGrid(p *mesh.Patch) bool {
	_, ok := unroll.GridOf(p, polygons(p))
	return ok
}

// gridMap returns the closed form of a patch that is rows and columns throughout, turned
// and moved in quarter turns to lie as the map does.
func gridMap(p *mesh.Patch, uv []r2.Vec) ([]r2.Vec, bool) {
	flat, ok := unroll.GridOf(p, polygons(p))
	if !ok || flatten.Flips(p, flat) > 0 {
		return nil, false
	}
	var cos, sin float64
	a, b := centred(flat), centred(uv)
	for i := range a {
		cos += r2.Dot(a[i], b[i])
		sin += r2.Cross(a[i], b[i])
	}
	quarter := math.Round(math.Atan2(sin, cos) / (math.Pi / 2))
	s, c := math.Sincos(quarter * math.Pi / 2)
	s, c = math.Round(s), math.Round(c)
	o := r2.Sub(uv[0], b[0]) // the middle of the map
	for i, q := range a {
		a[i] = r2.Add(o, r2.Vec{X: c*q.X - s*q.Y, Y: s*q.X + c*q.Y})
	}
	return a, true
}

func centred(uv []r2.Vec) []r2.Vec {
	var c r2.Vec
	for _, q := range uv {
		c = r2.Add(c, r2.Scale(1/float64(len(uv)), q))
	}
	out := make([]r2.Vec, len(uv))
	for i, q := range uv {
		out[i] = r2.Sub(q, c)
	}
	return out
}

// trueGrid keeps every row and column of a grid and lets their spacing relax.
func trueGrid(ctx context.Context, p *mesh.Patch, uv, flat []r2.Vec, all []Line, s TrueSettings, before Stretch, free []float64) (Trued, error) {
	t := Trued{Grid: true, Before: before}
	for _, l := range all {
		a, b := flat[l.Verts[0]], flat[l.Verts[len(l.Verts)/2]]
		along := math.Abs(b.X-a.X) > math.Abs(b.Y-a.Y)
		if s.Only == flatten.OnlyU && !along || s.Only == flatten.OnlyV && along {
			continue
		}
		t.Lines = append(t.Lines, TrueLine{Verts: l.Verts, AlongU: along, Bent: bent(uv, l.Verts, along)})
	}
	r, err := flatten.Improve(ctx, p, flat, flatten.Settings{Method: flatten.ByLength, Keep: t.keep(s), MaxIterations: s.Rounds, Progress: s.Progress})
	if err != nil {
		return t, err
	}
	t.UV = r.UV
	t.measure(p, free)
	return t, nil
}

// fewLines is the share of the length of all lines below which a shell is no matter of
// straight lines.
const fewLines = 0.4

func asTrue(lines []Line) (out []TrueLine) {
	for _, l := range lines {
		out = append(out, TrueLine{Verts: l.Verts})
	}
	return out
}

func lengthOf(uv []r2.Vec, lines []TrueLine) (l float64) {
	for _, x := range lines {
		for k := 1; k < len(x.Verts); k++ {
			l += r2.Norm(r2.Sub(uv[x.Verts[k]], uv[x.Verts[k-1]]))
		}
	}
	return l
}

// bent is how far points are from one line along an axis, relative to its length.
func bent(uv []r2.Vec, verts []int32, alongU bool) float64 {
	var c r2.Vec
	n := 1 / float64(len(verts))
	for _, v := range verts {
		c = r2.Add(c, r2.Scale(n, uv[v]))
	}
	var along, across float64
	for _, v := range verts {
		d := r2.Sub(uv[v], c)
		along, across = along+d.X*d.X, across+d.Y*d.Y
	}
	if !alongU {
		along, across = across, along
	}
	return math.Sqrt(across / max(along, 1e-300))
}

// candidates are the stretches of lines that run nearly along an axis of the sheet.
func (s TrueSettings) candidates(p *mesh.Patch, uv []r2.Vec, all []Line) (out []TrueLine) {
	for _, l := range all {
		if s.Mode == ByBorder && !l.Border || s.Mode == ByPicked && !s.picks(l) {
			continue
		}
		if s.Mode == ByPicked && !l.Closed { // asked for as a whole
			d := r2.Sub(uv[l.Verts[len(l.Verts)-1]], uv[l.Verts[0]])
			along := math.Abs(d.X) > math.Abs(d.Y)
			out = append(out, TrueLine{Verts: l.Verts, AlongU: along, Bent: bent(uv, l.Verts, along), within: math.Pi / 2})
			continue
		}
		verts := l.Verts
		if l.Closed {
			verts = append(slices.Clone(verts), verts[0])
		}
		// An edge belongs to the axis it runs nearly along, a stretch to that of its edges.
		class := func(k int) int {
			d := r2.Sub(uv[verts[k+1]], uv[verts[k]])
			a := math.Atan2(d.Y, d.X)
			off := math.Abs(quarterOff(a, 0))
			if off > s.Within {
				return none
			}
			if math.Abs(d.X) > math.Abs(d.Y) {
				return 0
			}
			return 1
		}
		for from := 0; from+1 < len(verts); {
			axis := class(from)
			to := from + 1
			for to+1 < len(verts) && class(to) == axis {
				to++
			}
			along := axis == 0
			if axis != none && !(s.Only == flatten.OnlyU && !along) && !(s.Only == flatten.OnlyV && along) {
				stretch := slices.Clone(verts[from : to+1])
				if from = to; s.Mode == ByLoops && !mostlyStraight(uv, stretch) {
					continue // it curves all the way, as the rim of a disc does
				}
				out = append(out, TrueLine{Verts: stretch, AlongU: along, Bent: bent(uv, stretch, along), within: s.Within})
			}
			from = to
		}
	}
	return out
}

// turnOfALine is how much a line may turn on the sheet, radians, in its straight part,
// and straightPart the least share of its length that this part must be.
const (
	turnOfALine  = 8 * math.Pi / 180
	straightPart = 0.5
)

// mostlyStraight tells whether a run of edges has a long part that hardly turns.
func mostlyStraight(uv []r2.Vec, verts []int32) bool {
	n := len(verts) - 1
	angle, length := make([]float64, n), make([]float64, n+1) // of the edges; up to each
	for k := range n {
		d := r2.Sub(uv[verts[k+1]], uv[verts[k]])
		angle[k] = math.Atan2(d.Y, d.X)
		if k > 0 { // counted on
			angle[k] = angle[k-1] + math.Remainder(angle[k]-angle[k-1], 2*math.Pi)
		}
		length[k+1] = length[k] + r2.Norm(d)
	}
	best := 0.0
	for from := range n {
		lo, hi := angle[from], angle[from]
		for to := from; to < n; to++ {
			if lo, hi = min(lo, angle[to]), max(hi, angle[to]); hi-lo > turnOfALine {
				break
			}
			best = max(best, length[to+1]-length[from])
		}
	}
	return best >= straightPart*length[n]
}

func (s TrueSettings) picks(l Line) bool {
	for k := range l.Verts {
		a, b := l.Verts[k], l.Verts[(k+1)%len(l.Verts)]
		if s.Picked[[2]int32{min(a, b), max(a, b)}] {
			return true
		}
	}
	return false
}

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
			if each[i] > max(s.Tolerance, 1.02*free[i]) || r.Flips > 0 && r2.Cross(r2.Sub(r.UV[tri[1]], r.UV[tri[0]]), r2.Sub(r.UV[tri[2]], r.UV[tri[0]])) <= 0 {
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
			t.leave(uv, curves(p, "straight lines would stretch it beyond what is allowed"))
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
