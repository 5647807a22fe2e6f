package template

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/planar"
)

// Sizes of letters in pixels: they are readable from least on.
const (
	leastLetters = 9
	mostLetters  = 100 // a share of the height
)

// placed is where names and arrows go.
type placed struct {
	names  []name
	arrows []arrow
}

type name struct {
	text   string
	at     r2.Vec // middle of its line
	size   float64
	beside bool
	line   Line // that leads to what it names, if it stands beside it
}

type arrow struct {
	at, way r2.Vec
	size    float64 // sheet units
}

// grid tells who owns the cells of the sheet: the number of a shell and one, 0 for nobody, taken for
// what is written beside shells.
type grid struct {
	w, h int
	cell float64 // sheet units
	own  []int32
}

const taken = math.MaxInt32

// gridRows is how finely places for names are looked for.
const gridRows = 512

// lay finds a place for the name of every shell and for its arrow: within it, where there is room,
// else beside it. The same sheet gives the same places.
func lay(s Sheet, o Options) (out placed) {
	g := &grid{w: gridRows * s.across(), h: gridRows, cell: 1.0 / gridRows}
	g.own = make([]int32, g.w*g.h)
	middles := make([]r2.Vec, len(s.Shells))
	boxes := make([][4]int, len(s.Shells))
	for i, sh := range s.Shells {
		middles[i], boxes[i] = g.take(sh, int32(i+1))
	}
	px := 1 / float64(o.Size)
	var late []int
	for i, sh := range s.Shells {
		text := label(sh)
		if text == "" {
			continue
		}
		n := name{text: text}
		for size := max(leastLetters, float64(o.Size)/mostLetters); ; size *= 0.8 {
			n.size = round2(max(size, leastLetters))
			w, h := widthOf(text)*n.size*px, 1.3*n.size*px
			if at, ok := g.roomy(boxes[i], int32(i+1), middles[i], w, h); ok {
				n.at = at
				out.names = append(out.names, n)
				g.mark(at, w, h, taken)
				break
			}
			if size <= leastLetters {
				late = append(late, i)
				break
			}
		}
	}
	for i, sh := range s.Shells {
		if sh.Up == (r2.Vec{}) || sh.Below {
			continue
		}
		for _, size := range []float64{0.03, 0.02, 0.012} {
			if at, ok := g.roomy(boxes[i], int32(i+1), middles[i], size, size); ok {
				out.arrows = append(out.arrows, arrow{at, sh.Up, size})
				break
			}
		}
	}
	for _, i := range late { // those that found no room within
		n := name{text: label(s.Shells[i]), size: leastLetters, beside: true}
		w, h := widthOf(n.text)*n.size*px, 1.3*n.size*px
		if at, ok := g.near(middles[i], w, h); ok {
			n.at = at
			d := r2.Sub(middles[i], at)
			n.line = Line{r2.Add(at, r2.Scale(min(1, w/2/math.Abs(d.X), h/2/math.Abs(d.Y)), d)), middles[i]}
			out.names = append(out.names, n)
			g.mark(at, w, h, taken)
		}
	}
	return out
}

// label is what is written of a shell: its name, and how many lie there.
func label(s Shell) string {
	switch {
	case s.Below || s.Name == "":
		return ""
	case s.Copies > 1:
		return fmt.Sprintf("%s ×%d", s.Name, s.Copies)
	}
	return s.Name
}

// take gives a shell the cells whose middle it covers, and returns its middle by area and the cells
// around it.
func (g *grid) take(sh Shell, who int32) (middle r2.Vec, box [4]int) {
	box = [4]int{g.w, g.h, -1, -1}
	total := 0.0
	for _, t := range sh.Fill {
		a := math.Abs(r2.Cross(r2.Sub(t.P[1], t.P[0]), r2.Sub(t.P[2], t.P[0])))
		middle = r2.Add(middle, r2.Scale(a/3, r2.Add(t.P[0], r2.Add(t.P[1], t.P[2]))))
		total += a
		cells := planar.Triangle{r2.Scale(1/g.cell, t.P[0]), r2.Scale(1/g.cell, t.P[1]), r2.Scale(1/g.cell, t.P[2])}
		cells.Runs(g.w, g.h, func(y, first, last int) {
			for x := first; x <= last; x++ {
				g.own[y*g.w+x] = who
			}
			box = [4]int{min(box[0], first), min(box[1], y), max(box[2], last), max(box[3], y)}
		})
	}
	if total > 0 {
		middle = r2.Scale(1/total, middle)
	}
	return middle, box
}

// cells are the lowest and highest cells of a rectangle about a place.
func (g *grid) cells(at r2.Vec, w, h float64) (x0, y0, x1, y1 int) {
	f := func(v float64) int { return int(math.Floor(v / g.cell)) }
	return f(at.X - w/2), f(at.Y - h/2), f(at.X + w/2), f(at.Y + h/2)
}

// free tells whether all cells of a rectangle are somebody's.
func (g *grid) free(at r2.Vec, w, h float64, whose int32) bool {
	x0, y0, x1, y1 := g.cells(at, w, h)
	if x0 < 0 || y0 < 0 || x1 >= g.w || y1 >= g.h {
		return false
	}
	for y := y0; y <= y1; y++ {
		for _, o := range g.own[y*g.w+x0 : y*g.w+x1+1] {
			if o != whose {
				return false
			}
		}
	}
	return true
}

func (g *grid) mark(at r2.Vec, w, h float64, who int32) {
	x0, y0, x1, y1 := g.cells(at, w, h)
	for y := y0; y <= y1; y++ {
		for x := x0; x <= x1; x++ {
			g.own[y*g.w+x] = who
		}
	}
}

// roomy is within, with room around it where there is some.
func (g *grid) roomy(box [4]int, who int32, wish r2.Vec, w, h float64) (at r2.Vec, ok bool) {
	for _, more := range []float64{2, 1, 0.5, 0.1} { // of the height
		if at, ok = g.within(box, who, wish, w+more*h, h+more*h); ok {
			return at, true
		}
	}
	return at, false
}

// within finds the place nearest to a wish at which a rectangle lies in a shell.
func (g *grid) within(box [4]int, who int32, wish r2.Vec, w, h float64) (at r2.Vec, ok bool) {
	if g.free(wish, w, h, who) {
		return wish, true
	}
	best := math.Inf(1)
	for y := box[1]; y <= box[3]; y++ {
		for x := box[0]; x <= box[2]; x++ {
			c := r2.Vec{X: (float64(x) + 0.5) * g.cell, Y: (float64(y) + 0.5) * g.cell}
			if d := r2.Norm2(r2.Sub(c, wish)); d < best && g.own[y*g.w+x] == who && g.free(c, w, h, who) {
				best, at = d, c
			}
		}
	}
	return at, best < math.Inf(1)
}

// farthest is how far from its shell a name may stand, in cells.
const farthest = 90

// near finds a place beside a shell that is nobody's, the nearest of growing rings.
func (g *grid) near(from r2.Vec, w, h float64) (at r2.Vec, ok bool) {
	for ring := 1; ring <= farthest; ring++ {
		best := math.Inf(1)
		for k := -ring; k <= ring; k++ {
			for _, d := range [4][2]int{{k, -ring}, {k, ring}, {-ring, k}, {ring, k}} {
				c := r2.Add(from, r2.Vec{X: float64(d[0]) * g.cell, Y: float64(d[1]) * g.cell})
				if far := r2.Norm2(r2.Sub(c, from)); far < best && g.free(c, w, h, 0) {
					best, at = far, c
				}
			}
		}
		if best < math.Inf(1) {
			return at, true
		}
	}
	return at, false
}
