package flow

import (
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
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
	Curves        string      // how the shell curves, where that is why
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
				g, each, err := trueGrid(ctx, p, uv, flat, all, s, before, free)
				if err != nil {
					return t, err
				}
				if g.Why != "" && s.Mode == AsGrid {
					t.Why = g.Why
					return t, nil
				}
				dear := g.Why != ""
				for i, x := range each {
					dear = dear || x > s.allowed(limit, free[i])
				}
				if !dear {
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
		t.Lines, t.Why = nil, t.stays(p, "most of its loops curve or fan out, as on a disc or a cone")
		return t, nil
	}
	if t.yieldToPins(s.Pins, uv); !slices.ContainsFunc(t.Lines, func(l TrueLine) bool { return !l.Released }) {
		t.leave(uv, "its pins hold points of one line apart")
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
