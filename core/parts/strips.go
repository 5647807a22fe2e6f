package parts

import (
	"cmp"
	"math"
	"runtime"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parallel"
	"morvek/core/shape"
)

// absorbStrips gives chamfers, fillets and bevels to a neighbour: narrow parts
// between two wider ones that bend the same way on both long sides. A band round
// a wall goes with the wall, which takes it without bending it; any other strip
// goes where the seam that remains is less exposed, then where it bends less.
// Crumbs, the small patches where strips meet and faces without area, follow.
// Exposure is asked for from several goroutines at once.
func absorbStrips(m *mesh.Mesh, parts []Part, o Options, detail float64) []Part {
	widths := measureWidths(m, parts, detail)
	near, area, wide, isStrip := widths.near, widths.area, widths.wide, widths.isStrip
	n := len(parts)
	host := make([]int, n)
	strip, curved := make([]bool, n), make([]float64, n)
	for i := range host {
		host[i] = i
	}
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Or(cmp.Compare(float32(wide[a]), float32(wide[b])), cmp.Compare(parts[a].Faces[0], parts[b].Faces[0]))
	})
	bent := func(i int) float64 { return curvedArea(m, parts[i]) }
	// Which neighbour is a question of rays, so all strips ask at once.
	second := make([]bool, n)
	g := parallel.Group{}
	g.SetLimit(runtime.GOMAXPROCS(0))
	for _, i := range order {
		if isStrip(i) {
			g.Go(func() error {
				second[i] = chooses(m, parts, i, near[i][1], near[i][0], o)
				return nil
			})
		}
	}
	_ = g.Wait()
	for _, i := range order {
		if !isStrip(i) {
			continue
		}
		a, b := near[i][0], near[i][1]
		if strip[a.other] || strip[b.other] {
			continue
		}
		if k := parts[i].Fit.Kind; (k == shape.Cylinder || len(parts[i].Pieces) > 0) && isBand(m, parts[i].Faces) {
			continue // the wall of a washer, narrow as it is
		}
		h := a.other
		if second[i] {
			h = b.other
		}
		if k := parts[h].Fit.Kind; parts[i].Fit.Kind != shape.Plane && (!isWall(k) || k == shape.Extruded) { // bends the plate it goes with
			if h = a.other; curved[h]+bent(i) > curvedShare*area[h] {
				h = b.other
			}
			if curved[h]+bent(i) > curvedShare*area[h] {
				continue
			}
		}
		curved[h] += bent(i)
		strip[i] = true
		host[i] = h
	}
	for _, i := range order {
		if strip[i] || len(near[i]) == 0 {
			continue
		}
		var beside float64 // width of the strips that meet here
		most, best := 0.0, -1
		for _, b := range near[i] {
			if strip[b.other] {
				beside = max(beside, wide[b.other])
			}
			if l := b.length; area[i] == 0 && l > most || strip[b.other] && l > most {
				most, best = l, b.other
			}
		}
		if best >= 0 && area[i] <= 2.5*beside*beside {
			if area[i] > 0 || strip[best] {
				strip[i] = true
			}
			if host[best] != i {
				host[i] = best
			}
		}
	}
	groups := map[int][]int{}
	for i := range parts {
		h := i
		for range n {
			if host[h] == h {
				break
			}
			h = host[h]
		}
		groups[h] = append(groups[h], i)
	}
	var list [][]int
	main := map[int]int{}
	for _, h := range order {
		if g := groups[h]; len(g) > 1 {
			main[slices.Min(g)] = h
			list = append(list, g)
		}
	}
	slices.SortFunc(list, func(a, b []int) int { return slices.Min(a) - slices.Min(b) })
	return unite(parts, list, func(grp []int) (shape.Fit, float64) {
		h := main[grp[0]]
		until := 0.95
		for _, i := range grp {
			if strip[i] && i != h && len(near[i]) > 1 {
				until = min(until, max(detail, 1-wide[i]/min(wide[near[i][0].other], wide[near[i][1].other])))
			}
		}
		f := parts[h].Fit
		if curved[h] > curvedShare*area[h] && f.Axis != (r3.Vec{}) && f.Kind != shape.Extruded && f.Kind != shape.Turned {
			// A wall with much bevel lies flat no more: it is a turned part of several.
			return shape.AsTurned(shape.Gather(m, unionFaces(parts, grp)), f.Axis, f.Origin), until
		}
		return f, until
	})
}

// widths tells how wide parts are, and which of them are strips between two wider ones.
type widths struct {
	parts     []Part
	near      [][]border
	rim       []float64
	area      []float64
	wide      []float64
	narrow    float64 // how wide a strip may be, as a share of the narrower neighbour
	narrowest float64 // how wide at the most, model units
}

func measureWidths(m *mesh.Mesh, parts []Part, detail float64) *widths {
	w := &widths{parts: parts, area: make([]float64, len(parts)), wide: make([]float64, len(parts)), narrow: 1 - detail, narrowest: 0.09 * (1 - detail) * m.Diagonal()}
	w.near, w.rim = neighbours(m, parts)
	for i, p := range parts {
		w.area[i] = partArea(m, p)
		w.wide[i] = width(w.area[i], w.rim[i])
	}
	return w
}

// isStrip tells whether a part is a narrow strip between its two longest neighbours, to
// both of which it bends the same way.
func (w *widths) isStrip(i int) bool {
	near, wide := w.near, w.wide
	if len(near[i]) < 2 || w.area[i] == 0 || wide[i] > w.narrowest || w.area[i] < 5*wide[i]*wide[i] {
		return false
	}
	a, b := near[i][0], near[i][1]
	if b.length < 0.25*w.rim[i] || a.bend*b.bend <= 0 || min(wide[a.other], wide[b.other])*w.narrow < wide[i] {
		return false
	}
	// The rim of a thin plate, at right angles to both, is none.
	return max(w.turn(i, a), w.turn(i, b)) <= steepest
}

// turn is how far a neighbour is turned away from a part: the bend where they meet and, if
// there is a bevel there that went with a flat neighbour, beyond that.
func (w *widths) turn(i int, b border) float64 {
	t := math.Abs(b.bend)
	if p, q := w.parts[i].Fit, w.parts[b.other].Fit; p.Kind == shape.Plane && q.Kind == shape.Plane {
		t = max(t, mesh.Angle(p.Axis, q.Axis))
	}
	return t
}

// curvedShare is how much of a part may be curved strips that do not lie flat
// with it, before their stretch tells on the whole.
const curvedShare = 0.04

// curvedArea is the area of what is not flat in a part.
func curvedArea(m *mesh.Mesh, p Part) (a float64) {
	if p.Fit.Kind == shape.Plane {
		return 0
	}
	if len(p.Pieces) == 0 {
		return partArea(m, p)
	}
	for _, q := range p.Pieces {
		a += curvedArea(m, q)
	}
	return a
}

// steepest is the bend to a neighbour above which a narrow part is a side of its
// own rather than a chamfer.
const steepest = 68 * math.Pi / 180

// chooses tells whether strip i goes with the neighbour across b rather than
// the one across a.
func chooses(m *mesh.Mesh, parts []Part, i int, b, a border, o Options) bool {
	closed := func(k int) bool { return isWall(parts[k].Fit.Kind) }
	if isBand(m, parts[i].Faces) && closed(a.other) != closed(b.other) {
		return closed(b.other)
	}
	if o.Exposure != nil {
		// Going with b leaves the seam at a, and the other way round.
		if x, y := exposed(m, a, o), exposed(m, b, o); math.Abs(x-y) > 0.02 {
			return x < y
		}
	}
	if x, y := math.Abs(b.bend), math.Abs(a.bend); math.Abs(x-y) > 1*math.Pi/180 {
		return x < y
	}
	x, y := parts[b.other], parts[a.other]
	if p, q := float32(partArea(m, x)), float32(partArea(m, y)); p != q {
		return p > q
	}
	return x.Faces[0] < y.Faces[0]
}

// exposureSamples bounds how many edges of a border are looked at.
const exposureSamples = 2

func exposed(m *mesh.Mesh, b border, o Options) float64 {
	step := (len(b.edges) + exposureSamples - 1) / exposureSamples
	var sum, n float64
	for k := 0; k < len(b.edges); k += step {
		f, g := m.EdgeFaces(b.edges[k])
		sum += (o.Exposure(f) + o.Exposure(g)) / 2
		n++
	}
	return sum / max(1, n)
}

// isBand tells whether faces close on themselves as a ring.
func isBand(m *mesh.Mesh, faces []mesh.FaceID) bool {
	p := mesh.NewPatch(m, faces, func(mesh.EdgeID) bool { return false })
	return p.Euler() == 0 && len(p.Borders()) == 2
}

// dominated tells whether one part of a group makes up nearly all of it.
func dominated(m *mesh.Mesh, parts []Part, group []int) (main int, yes bool) {
	var total float64
	main = group[0]
	for _, i := range group {
		total += partArea(m, parts[i])
		if partArea(m, parts[i]) > partArea(m, parts[main]) {
			main = i
		}
	}
	return main, parts[main].Fit.Kind != shape.Plane && partArea(m, parts[main]) > (1-curvedShare)*total
}
