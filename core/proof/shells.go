package proof

import (
	"cmp"
	"math"
	"slices"
	"sort"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/words"
)

// sums gathers area-weighted measures before they are scaled to true area.
type sums struct {
	area, sheet      float64
	lost             float64 // area that has none on the sheet; it counts for the angles alone
	squares          float64 // Σ A (σ₁²+σ₂²)/2
	worst            float64
	angular          []weightedValue // ascending once a shell is measured
	upTo             []float64       // sum of the weights of angular up to each
	grain, grainOver float64         // Σ A a²: all of it, and what turning could take away
	grainArea        float64
	straight, edges  float64
}

type weightedValue struct{ value, weight float64 }

func (s *sums) scale() float64 {
	if s.area == 0 {
		return 1
	}
	return math.Sqrt(s.sheet / s.area)
}

func (s *sums) l2() float64 {
	if s.area == 0 {
		if s.lost > 0 {
			return Endless
		}
		return 1
	}
	return s.scale() * math.Sqrt(s.squares/s.area)
}

// sorted puts the angular stretches in order.
func (s *sums) sorted() {
	slices.SortFunc(s.angular, func(a, b weightedValue) int { return cmp.Compare(a.value, b.value) })
	s.upTo = make([]float64, len(s.angular))
	run := 0.0
	for i, w := range s.angular {
		run += w.weight
		s.upTo[i] = run
	}
}

// below is the weight of angular stretches of at most x.
func (s *sums) below(x float64) float64 {
	n := sort.Search(len(s.angular), func(i int) bool { return s.angular[i].value > x })
	if n == 0 {
		return 0
	}
	return s.upTo[n-1]
}

// angularP95 is the least stretch that 95 % of the area of some shells have or less. It is
// sought by bisection, since their stretches are in order, but not those of all.
func angularP95(list []*sums) float64 {
	var total float64
	for _, s := range list {
		if n := len(s.upTo); n > 0 {
			total += s.upTo[n-1]
		}
	}
	if total == 0 {
		return 1
	}
	enough := func(x float64) bool {
		var run float64
		for _, s := range list {
			run += s.below(x)
		}
		return run >= 0.95*total
	}
	lo, hi := math.Float64bits(0), math.Float64bits(math.MaxFloat64) // stretches are positive: their bits are in order
	for lo < hi {
		if mid := lo + (hi-lo)/2; enough(math.Float64frombits(mid)) {
			hi = mid
		} else {
			lo = mid + 1
		}
	}
	return math.Float64frombits(hi)
}

// degrees is the root mean square of angles off the grain.
func (s *sums) degrees(squares float64) float64 {
	if s.grainArea == 0 {
		return 0
	}
	return math.Sqrt(squares/s.grainArea) * 180 / math.Pi
}

func (s *sums) add(o *sums) {
	s.area += o.area
	s.lost += o.lost
	s.sheet += o.sheet
	s.squares += o.squares
	s.worst = max(s.worst, o.worst)
	s.grain += o.grain
	s.grainOver += o.grainOver
	s.grainArea += o.grainArea
	s.straight += o.straight
	s.edges += o.edges
}

// unweighted returns the sums as they would be at the common density: a wished
// difference is no stretch.
func (s sums) unweighted(w float64) *sums {
	s.sheet /= w * w
	s.squares *= w * w
	s.worst *= w
	return &s
}

func share(part, whole float64) float64 {
	if whole == 0 {
		return 1
	}
	return part / whole
}

// collapses is the share of the room that a triangle should have in its shell below
// which it has none.
const collapses = 1e-6

// Endless stands for a stretch that has no number: a face without area on the sheet, or
// next to none.
const Endless = words.Endless

// measureShell measures one shell; it writes to the figures of its own faces alone.
func (r *Report) measureShell(in Input, faces []mesh.FaceID) (Shell, *sums) {
	m := in.Mesh
	t := m.Triangles()
	normals := m.FaceNormals()
	out := Shell{Part: in.Part(faces[0]), Faces: faces, Weight: in.Weight(faces)}
	var s sums
	var grains grainSums
	specks, scale := m.Specks(), areaScale(in, faces)
	for _, f := range faces {
		grain := in.Grain(in.Part(f))
		wish, wished := grain.At(m.FaceCentre(f), normals[f])
		var stretch, angular, area float64
		mirrored, collapsed := false, false
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			c := t.Corner[k]
			d, ok := differential(in, c)
			if !ok || d.Area < 1e-9*m.FaceAreas()[f] {
				continue
			}
			s1, s2 := d.Stretch()
			area += d.Area
			seen := d.Area > specks
			if math.Abs(d.SheetArea) <= collapses*scale*d.Area { // a line or a point on the sheet
				s.lost += d.Area
				s.worst = Endless
				s.angular = append(s.angular, weightedValue{Endless, d.Area})
				angular, collapsed = Endless, collapsed || seen
				continue
			}
			s.area += d.Area
			s.sheet += math.Abs(d.SheetArea)
			s.squares += d.Area * (s1*s1 + s2*s2) / 2
			s.worst = max(s.worst, s1)
			s1 = min(s1, Endless*s2)
			s.angular = append(s.angular, weightedValue{s1 / s2, d.Area})
			stretch += d.Area * s1 * s2
			angular = max(angular, s1/s2)
			mirrored = mirrored || seen && d.SheetArea < 0
			if wished {
				off := flow.Off(wish, in.Flow, d, normals[f])
				r.GrainErr[f] = max(r.GrainErr[f], float32(flow.Aside(off, grain.Sense)*180/math.Pi))
				grains.add(in.Part(f), grain.Sense, off, d.Area)
			}
		}
		if area > 0 {
			w := out.Weight
			r.Stretch[f], r.Angular[f] = float32(w*w*stretch/area), float32(angular)
		}
		if m.FaceAreas()[f] <= specks {
			continue
		}
		if mirrored {
			out.Mirrored++
		}
		if collapsed {
			out.collapsed = append(out.collapsed, f)
		}
	}
	p := mesh.NewPatch(m, faces, in.Map.IsCut)
	uv := in.Map.Get(p)
	s.straight, s.edges = flow.StraightShare(p, uv)
	out.closed = len(p.Borders()) == 0
	out.Area, out.SheetArea = s.area, s.sheet
	out.L2 = s.l2()
	out.Linf = min(s.scale()*s.worst, Endless)
	s.sorted()
	out.AngularP95 = angularP95([]*sums{&s})
	out.Density = float64(in.Sheet.Size) * s.scale()
	s.grain, s.grainOver, s.grainArea = grains.squares()
	out.GrainErrDeg, out.GrainOverDeg = s.degrees(s.grain), s.degrees(s.grainOver)
	out.Straight = share(s.straight, s.edges)
	out.Box = planar.Bounds(uv...)
	out.limbGap, out.limbs = limbs(in, faces)
	var middle float64
	for _, q := range uv {
		middle += q.X / float64(len(uv))
	}
	out.Tile = int(math.Floor(middle))
	return out, &s
}

// areaScale is the area on the sheet, counted once a triangle, per area in space.
func areaScale(in Input, faces []mesh.FaceID) float64 {
	t := in.Mesh.Triangles()
	var sheet, area float64
	for _, f := range faces {
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			if d, ok := differential(in, t.Corner[k]); ok {
				sheet += math.Abs(d.SheetArea)
				area += d.Area
			}
		}
	}
	if area == 0 {
		return 0
	}
	return sheet / area
}

// differential is that of a triangle given by its corners.
func differential(in Input, c [3]mesh.HalfedgeID) (mesh.Differential, bool) {
	m := in.Mesh
	return mesh.NewDifferential(m.Points[m.From(c[0])], m.Points[m.From(c[1])], m.Points[m.From(c[2])], [3]r2.Vec{in.Map.At(c[0]), in.Map.At(c[1]), in.Map.At(c[2])})
}
