package unroll

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flatten"
	"morvek/core/mesh"
)

// Rigid lays a patch flat without stretch: unfolded as a whole or, where bevels run round
// curves, its walls unfolded and each facet of the bevels turned down about its own edge, so
// that what does not fit is left to the bevels alone. ok is false for what cannot lie so;
// uv is its unfolding then, and gap how far that is from closing, in model units.
func Rigid(p *mesh.Patch) (uv []r2.Vec, gap float64, ok bool) {
	if uv, gap = Unfold(p); gap <= closed*math.Sqrt(p.Area()) {
		return uv, gap, true
	}
	for _, b := range []bevels{{20, 0.4, 0.45}, {4, 0.4, 0.45}, {20, 1, 0.3}} { // chamfers, fillets, chamfers of a narrow rim
		level, share := b.levels(p)
		if share < b.walls || share > 1-1e-9 {
			continue
		}
		uv, gap := unfold(p, level)
		if gap > closed*math.Sqrt(p.Area()) || flatten.Flips(p, uv) > 0 {
			continue
		}
		if l2, _ := p.Stretch(uv); l2 <= bevelStretch {
			return uv, gap, true
		}
	}
	return uv, gap, false
}

// LiesRigid tells whether a patch lies flat, without stretch but in its bevels and without
// landing on itself.
func LiesRigid(p *mesh.Patch) bool {
	uv, _, ok := Rigid(p)
	return ok && flatten.Flips(p, uv) == 0 && !Tangled(p, uv)
}

// bevels says what counts as bevels and as walls.
type bevels struct {
	smooth float64 // bends up to this are within one of them, degrees
	width  float64 // of a bevel, in widths of the widest wall; 1: all but the largest
	walls  float64 // share of the area that walls have at the least
}

const (
	bevelStretch = 1.03 // L² of walls and bevels together
	bevelBend    = 70   // degrees, above which it is a flange
)

// levels numbers the faces of a patch by how many bends are between them and a wall, which
// has 0; walls are what is smooth and wide, and share is what they have of the area.
func (b bevels) levels(p *mesh.Patch) (level []int32, share float64) {
	m := p.Mesh
	faceOf := p.CornerFaces()
	bend := func(c int32) float64 { return math.Abs(m.Dihedral(m.Edge(p.Corner[c]))) * 180 / math.Pi }
	sharp := func(c int32) bool { return bend(c) > b.smooth }
	// spread numbers all that hangs on to some faces.
	spread := func(from, id []int32, n int32, over func(c int32) bool) []int32 {
		for k := 0; k < len(from); k++ {
			f := from[k]
			for c := p.FaceStart[f]; c < p.FaceStart[f+1]; c++ {
				if o := p.Across(c); o != mesh.None && id[faceOf[o]] < 0 && over(c) {
					id[faceOf[o]] = n
					from = append(from, faceOf[o])
				}
			}
		}
		return from
	}
	within := func(c int32) bool { return !sharp(c) }
	of := none(len(p.Faces))
	var sets [][]int32
	var areas, widths []float64
	var total, widest, most float64
	largest := 0
	for f := range of {
		if of[f] >= 0 {
			continue
		}
		n := int32(len(sets))
		of[f] = n
		set := spread([]int32{int32(f)}, of, n, within)
		var area, rim float64
		for _, g := range set {
			area += m.FaceAreas()[p.Faces[g]]
			for c := p.FaceStart[g]; c < p.FaceStart[g+1]; c++ {
				if o := p.Across(c); o == mesh.None || sharp(c) {
					rim += m.EdgeLength(m.Edge(p.Corner[c]))
				}
			}
		}
		sets, areas, widths = append(sets, set), append(areas, area), append(widths, 2*area/max(rim, 1e-300))
		if total += area; area > most {
			largest, most, widest = int(n), area, widths[n]
		}
	}
	level = none(len(p.Faces))
	var front []int32
	for i, set := range sets {
		if i == largest || b.width < 1 && widths[i] > b.width*widest {
			share += areas[i] / total
			for _, f := range set {
				level[f] = 0
			}
			front = append(front, set...)
		}
	}
	for n := int32(1); len(front) > 0; n++ {
		reached := spread(front, level, n, func(c int32) bool { return sharp(c) && bend(c) < bevelBend })
		front = spread(reached[len(front):], level, n, within)
	}
	for f := range level { // what hangs on to nothing
		level[f] = max(level[f], 0)
	}
	return level, share
}

func none(n int) []int32 {
	out := make([]int32, n)
	for i := range out {
		out[i] = -1
	}
	return out
}
