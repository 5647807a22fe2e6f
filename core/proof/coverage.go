package proof

import (
	"math"
	"math/bits"

	"morvek/core/planar"
)

// leastCoverage is the share of the sheet below which a map that is whole is of no use: the
// texture would show next to nothing.
const leastCoverage = 0.1

// coverage sets how much of the sheet is covered: the area of the shells, unless some lie
// on others or leave the sheet; then what they cover together is counted in pixels.
func (r *Report) coverage(in Input) (found findings) {
	var sum float64
	for _, s := range r.Shells {
		if s.StackedOn == nil {
			sum += s.SheetArea
		}
	}
	if r.Totals.Outside > 0 || r.Totals.OverlapShare > 0 {
		sum = r.union(in)
	}
	r.Totals.Coverage = sum / float64(in.Sheet.Across())
	if r.Totals.Unmapped > 0 || r.Totals.Coverage >= leastCoverage || len(r.Shells) == 0 {
		return found
	}
	longest, _ := r.Ruling(1, 1)
	found.find(Wasted, "must", r.Totals.Coverage, r.Shells[longest].Faces)
	return found
}

// Ruling is the shell that rules the scale: the longest on the sheet as a share of the room across or up,
// and that share; none, −1, where nothing is laid.
func (r Report) Ruling(across, up float64) (shell int, share float64) {
	shell = -1
	for i, s := range r.Shells {
		size := s.Box.Size()
		if long := max(size.X/across, size.Y/up); shell < 0 || long > share*(1+1e-9) {
			shell, share = i, long
		}
	}
	return shell, share
}

// raster is how many pixels a side of a tile has where coverage is counted.
const raster = 2048

// mask is which pixels of the tiles a shell covers, by their centres: rows of words from a
// place on.
type mask struct {
	word, row, words int // the first word of a row, the first row, words a row
	bits             []uint64
}

// union is the area of all tiles that some shell covers. Masks of shells that are the same as
// before are those of before.
func (r *Report) union(in Input) float64 {
	masks := r.known.masks
	for i, s := range r.Shells {
		if masks[i] == nil {
			masks[i] = in.mask(s)
		}
	}
	n := in.Sheet.Across() * raster / 64
	tiles := make([]uint64, n*raster)
	for _, m := range masks {
		for k := 0; k < len(m.bits); k += m.words {
			row := tiles[(m.row+k/m.words)*n+m.word:][:m.words]
			for x, w := range m.bits[k : k+m.words] {
				row[x] |= w
			}
		}
	}
	count := 0
	for _, w := range tiles {
		count += bits.OnesCount64(w)
	}
	return float64(count) / (raster * raster)
}

func (in Input) mask(s Shell) *mask {
	last := float64(in.Sheet.Across()*raster - 1)
	x0, x1 := max(0, math.Ceil(s.Box.Min.X*raster-0.5)), min(last, math.Floor(s.Box.Max.X*raster-0.5))
	y0, y1 := max(0, math.Ceil(s.Box.Min.Y*raster-0.5)), min(raster-1, math.Floor(s.Box.Max.Y*raster-0.5))
	if x0 > x1 || y0 > y1 {
		return &mask{words: 1}
	}
	m := &mask{word: int(x0) / 64, row: int(y0), words: int(x1)/64 - int(x0)/64 + 1}
	m.bits = make([]uint64, m.words*(int(y1)-m.row+1))
	t := in.Mesh.Triangles()
	for _, f := range s.Faces {
		for i := t.FaceStart[f]; i < t.FaceStart[f+1]; i++ {
			c := t.Corner[i]
			tri := planar.Triangle{in.Map.At(c[0]), in.Map.At(c[1]), in.Map.At(c[2])}
			lo := max(y0, math.Ceil(min(tri[0].Y, tri[1].Y, tri[2].Y)*raster-0.5))
			hi := min(y1, math.Floor(max(tri[0].Y, tri[1].Y, tri[2].Y)*raster-0.5))
			for y := lo; y <= hi; y++ {
				from, to := tri.Span((y + 0.5) / raster)
				a, b := max(x0, math.Ceil(from*raster-0.5)), min(x1, math.Floor(to*raster-0.5))
				if a <= b { // nowhere is infinity
					planar.SetRun(m.bits[(int(y)-m.row)*m.words:], int(a)-64*m.word, int(b)-64*m.word)
				}
			}
		}
	}
	return m
}
