package proof

import (
	"math"

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
		sum = union(in)
	}
	r.Totals.Coverage = sum / float64(in.Sheet.Tiles)
	if r.Totals.Unmapped > 0 || r.Totals.Coverage >= leastCoverage || len(r.Shells) == 0 {
		return found
	}
	longest, most := 0, -1.0 // the shell that rules the scale
	for i, s := range r.Shells {
		size := s.Box.Size()
		if d := max(size.X, size.Y); d > most {
			longest, most = i, d
		}
	}
	found.find(Wasted, "must", r.Totals.Coverage, r.Shells[longest].Faces)
	return found
}

// raster is how many pixels a side of a tile has where coverage is counted.
const raster = 2048

// union is the area of all tiles that some triangle of the map covers, by pixel centres.
func union(in Input) float64 {
	n := in.Sheet.Tiles
	tiles := make([]uint64, n*raster*raster/64)
	count := 0
	t := in.Mesh.Triangles()
	for i, c := range t.Corner {
		if !in.Map.IsMapped(t.Face[i]) {
			continue
		}
		tri := planar.Triangle{in.Map.At(c[0]), in.Map.At(c[1]), in.Map.At(c[2])}
		lo := max(0, math.Ceil(min(tri[0].Y, tri[1].Y, tri[2].Y)*raster-0.5))
		hi := min(raster-1, math.Floor(max(tri[0].Y, tri[1].Y, tri[2].Y)*raster-0.5))
		for y := lo; y <= hi; y++ {
			from, to := span(tri, (y+0.5)/raster)
			first, last := max(0, math.Ceil(from*raster-0.5)), min(float64(n*raster-1), math.Floor(to*raster-0.5))
			for x := first; x <= last; x++ {
				k := int(y)*n*raster + int(x)
				if bit := uint64(1) << (k % 64); tiles[k/64]&bit == 0 {
					tiles[k/64] |= bit
					count++
				}
			}
		}
	}
	return float64(count) / (raster * raster)
}

// span is where a horizontal line is inside a triangle, from greater than to if nowhere.
func span(tri planar.Triangle, y float64) (from, to float64) {
	from, to = math.Inf(1), math.Inf(-1)
	for k := range 3 {
		a, b := tri[k], tri[(k+1)%3]
		if (a.Y <= y) == (b.Y <= y) {
			continue
		}
		x := a.X + (y-a.Y)/(b.Y-a.Y)*(b.X-a.X)
		from, to = min(from, x), max(to, x)
	}
	return from, to
}
