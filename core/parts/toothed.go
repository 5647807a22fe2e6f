package parts

import (
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// leastRails is how many sharp edges lead across a toothed ring at the least.
const leastRails = 8

// uniteToothed joins the flanks of teeth that taper or wind, as those of bevel and helical gears do: many narrow
// parts that lie side by side all round, with sharp edges between them that run from one end to the other.
func uniteToothed(m *mesh.Mesh, parts []Part) []Part {
	near, _ := neighbours(m, parts)
	areas := make([]float64, len(parts))
	for i, p := range parts {
		areas[i] = partArea(m, p)
	}
	rails := func(i int) (two []border) { // the longest of a flank with its like, one on either side
		for _, b := range near[i] {
			if x, y := areas[i], areas[b.other]; len(two) < 2 && x < flankUnlike*y && y < flankUnlike*x {
				two = append(two, b)
			}
		}
		return two
	}
	links, sharp := make(links, len(parts)), map[[2]int]bool{}
	for i := range parts {
		for _, b := range rails(i) {
			back := func(o border) bool { return o.other == i }
			if b.other > i && slices.ContainsFunc(rails(b.other), back) {
				links.link(i, b.other, -1)
				sharp[[2]int{i, b.other}] = math.Abs(b.bend) > coarseAngle
			}
		}
	}
	seen := make([]bool, len(parts))
	var groups [][]int
	for i := range parts {
		if seen[i] || len(links[i]) != 2 {
			continue
		}
		ring := links.follow(seen, i)
		if len(ring) < toothFlats {
			continue
		}
		edges, total, largest := 0, 0., 0.
		for k, a := range ring {
			b := ring[(k+1)%len(ring)]
			if sharp[[2]int{min(a, b), max(a, b)}] {
				edges++
			}
			total += areas[a]
			largest = max(largest, areas[a])
		}
		p := mesh.NewPatch(m, unionFaces(parts, ring), func(mesh.EdgeID) bool { return false })
		if edges < leastRails || largest > total/6 || p.Euler() != 0 || len(p.Borders()) != 2 || !liesFlat(p) && !bandLiesFlat(p) {
			continue
		}
		groups = append(groups, ring)
	}
	return unite(parts, groups, func(grp []int) (shape.Fit, float64) {
		s := shape.Gather(m, unionFaces(parts, grp))
		if f := shape.FitExtruded(s); f.Bend <= extrudedSpread {
			return f, together
		}
		axis, _ := shape.AcrossAxis(s)
		f := shape.Fit{Kind: shape.Free, Axis: axis, Origin: parts[grp[0]].Fit.Origin}
		return f, together
	})
}

// flankUnlike is how much larger than the next one a flank may be.
const flankUnlike = 8

// bandStrain is how much longer the middle of a band may be than its borders for it to be laid as a strip, as a share.
const bandStrain = 0.01

// bandLiesFlat tells whether an open tube that is long round and narrow lies flat once it is opened, nearly: what
// curvature there is, as in the flanks of helical teeth, is spread over it.
func bandLiesFlat(p *mesh.Patch) bool {
	all, even := innerDefect(p)
	loops := p.Borders()
	high := 2 * p.Area() / (loopLength(p, loops[0]) + loopLength(p, loops[1]))
	return even && math.Abs(all)/p.Area()*high*high/8 < bandStrain
}
