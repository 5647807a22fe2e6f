package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
)

// What a tier is, and what of a wall goes with it.
const (
	sameSlope   = 1.5 * math.Pi / 180 // of facets in one tier
	floorSlope  = 85 * math.Pi / 180
	tierWider   = 2.5 // than the rows of a fillet beside it
	cornerHigh  = 0.6 // of the height of a wall
	cornerLeans = 8 * math.Pi / 180
)

// tier is facets that hang together and have one slope to the pull.
type tier struct {
	set     []int
	slope   float64 // of the normal above the plane across the pull, radians
	across  r3.Vec  // sum of what the normals are across the pull, by area
	area    float64
	wide    float64
	isFloor bool
}

// tier is facets about a pull as a tier, as steep as the first of them.
func (g *model) tier(set []int, pull r3.Vec) tier {
	t := tier{set: set, slope: slopeTo(g.list[set[0]].normal, pull)}
	t.isFloor = math.Abs(t.slope) > floorSlope
	for _, i := range set {
		f := &g.list[i]
		t.area += f.area
		t.across = r3.Add(t.across, r3.Scale(f.area, r3.Sub(f.normal, r3.Scale(r3.Dot(f.normal, pull), pull))))
	}
	return t
}

// take adds another to a tier.
func (t *tier) take(o tier) {
	t.set = append(t.set, o.set...)
	t.area += o.area
	t.across = r3.Add(t.across, o.across)
}

// slopeTo is the angle of a normal above the plane across a direction, radians.
func slopeTo(normal, pull r3.Vec) float64 { return math.Asin(max(-1, min(1, r3.Dot(normal, pull)))) }

// tiers returns the floors and walls of a component about a pull, and what is left between them. The largest
// facets come first.
func (g *model) tiers(order []int, pull r3.Vec, progress func() error) (tiers []tier, fillets [][]int, err error) {
	slope := func(i int) float64 { return slopeTo(g.list[i].normal, pull) }
	of := make(map[int]int, len(order))
	var all []tier
	for n, i := range order {
		if n%lookUp == 0 {
			if err := progress(); err != nil {
				return nil, nil, err
			}
		}
		if _, ok := of[i]; ok {
			continue
		}
		level := []int{i}
		of[i] = len(all)
		for k := 0; k < len(level); k++ {
			for _, s := range g.list[level[k]].sides {
				if _, ok := of[s.other]; !ok && s.smooth && math.Abs(slope(s.other)-slope(i)) < sameSlope+g.list[s.other].slack {
					of[s.other] = len(all)
					level = append(level, s.other)
				}
			}
		}
		all = append(all, g.tier(level, pull))
	}
	for k := range all {
		t := &all[k]
		var rim float64
		for _, i := range t.set {
			for _, s := range g.list[i].sides {
				if o, ok := of[s.other]; !ok || o != k {
					rim += s.length
				}
			}
		}
		t.wide = width(t.area, rim)
	}
	var loose []int
	for k, t := range all {
		if g.isWider(all, of, k) {
			tiers = append(tiers, t)
		} else {
			loose = append(loose, t.set...)
		}
	}
	tiers, loose = g.corners(tiers, loose, pull)
	return tiers, g.connected(loose), nil
}

// lookUp is how many facets are looked at between two looks whether to stop.
const lookUp = 4096

// corners gives walls what is about as steep and as high as they are beside them: the corners of an outline that
// was made smaller by scaling lean more than its sides. Left is what no wall takes.
func (g *model) corners(tiers []tier, loose []int, pull r3.Vec) ([]tier, []int) {
	span := func(set []int) (lo, hi float64) {
		lo, hi = math.Inf(1), math.Inf(-1)
		for _, i := range set {
			for _, p := range g.list[i].knots {
				t := r3.Dot(g.mesh.Points[p], pull)
				lo, hi = min(lo, t), max(hi, t)
			}
		}
		return lo, hi
	}
	free := ids.Set(loose)
	of := map[int]int{}
	for k, t := range tiers {
		for _, i := range t.set {
			of[i] = k
		}
	}
	for k := range tiers {
		t := &tiers[k]
		if t.isFloor || t.set == nil {
			continue
		}
		bottom, top := span(t.set)
		like := func(slope float64, set []int) bool {
			lo, hi := span(set)
			return hi-lo > cornerHigh*(top-bottom) && math.Abs(slope-t.slope) < cornerLeans
		}
		for n := 0; n < len(t.set); n++ {
			for _, s := range g.list[t.set[n]].sides {
				o, isTier := of[s.other]
				switch {
				case !s.smooth || isTier && (o == k || tiers[o].isFloor):
				case isTier && like(tiers[o].slope, tiers[o].set):
					t.take(tiers[o])
					for _, i := range tiers[o].set {
						of[i] = k
					}
					tiers[o].set = nil
				case free[s.other] && like(slopeTo(g.list[s.other].normal, pull), []int{s.other}):
					delete(free, s.other)
					of[s.other] = k
					t.take(g.tier([]int{s.other}, pull))
				}
			}
		}
	}
	tiers = slices.DeleteFunc(tiers, func(t tier) bool { return t.set == nil })
	return tiers, slices.DeleteFunc(loose, func(i int) bool { return !free[i] })
}

// isWider tells whether a tier is far wider than one that it goes over into: that is a row of a fillet then.
func (g *model) isWider(all []tier, of map[int]int, k int) bool {
	for _, i := range all[k].set {
		for _, s := range g.list[i].sides {
			if o, ok := of[s.other]; ok && o != k && s.smooth && all[k].wide > tierWider*all[o].wide {
				return true
			}
		}
	}
	return false
}
