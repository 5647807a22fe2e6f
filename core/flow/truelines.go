package flow

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
)

// fewLines is the share of the length of all lines below which a shell is no matter of
// straight lines: on a disc, however it is turned, about 0.41 run nearly along an axis.
const fewLines = 0.42

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
