package parts

import (
	"cmp"
	"math"
	"slices"

	"morvek/core/mesh"
)

// A scrap is a face or three beside something hundreds of times as large that it hardly
// bends away from: what a cut or a cap left over, not a thing with a name.
const (
	scrapFaces = 3
	scrapShare = 1.0 / 200 // of what it goes with
	scrapBend  = 40 * math.Pi / 180
	scrapRim   = 0.3 // of its rim is where it meets that
)

// absorbScraps gives scraps to what they lie beside, the smallest first; scraps that went the
// same way count with it.
func absorbScraps(m *mesh.Mesh, parts []Part) []Part {
	area := make([]float64, len(parts))
	var scraps []int
	for i, p := range parts {
		if area[i] = partArea(m, p); len(p.Faces) <= scrapFaces && len(p.Pieces) == 0 && area[i] > 0 {
			scraps = append(scraps, i)
		}
	}
	if len(scraps) == 0 {
		return parts
	}
	near, rim := neighbours(m, parts)
	slices.SortStableFunc(scraps, func(a, b int) int { return cmp.Compare(float32(area[a]), float32(area[b])) })
	host := upTo(len(parts))
	for again := true; again; {
		again = false
		for _, i := range scraps {
			if host[i] != i {
				continue
			}
			if h := hostOf(i, near[i], host, area, rim[i]); h >= 0 {
				host[i], again = h, true
			}
		}
	}
	out := slices.Clone(parts)
	for _, i := range scraps {
		h := lastHost(host, i)
		if h == i {
			continue
		}
		to := &out[h]
		to.Faces = slices.Concat(to.Faces, parts[i].Faces)
		slices.Sort(to.Faces)
		if len(to.Pieces) > 0 {
			to.Pieces = append(slices.Clip(to.Pieces), parts[i])
		}
		out[i].Faces = nil
	}
	return slices.DeleteFunc(out, func(p Part) bool { return len(p.Faces) == 0 })
}

// hostOf returns what a scrap goes with, -1 for nothing.
func hostOf(i int, near []border, host []int, area []float64, rim float64) int {
	along := map[int]float64{}
	best := -1
	for _, b := range near {
		h := host[b.other]
		if h == i || math.Abs(b.bend) > scrapBend || area[i] > scrapShare*area[h] {
			continue
		}
		along[h] += b.length
		if along[h] >= scrapRim*rim && (best < 0 || along[h] > along[best]) {
			best = h
		}
	}
	return best
}
