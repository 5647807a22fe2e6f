package planar

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// Segment is a piece of a border; segments of one group are not measured
// against each other.
type Segment struct {
	A, B  r2.Vec
	Group int32
}

// Gap is the least distance found and the two segments that come so close.
type Gap struct {
	Distance float64
	A, B     int32
}

// MinGap returns the smallest distance between segments of different groups
// and the close pairs below limit, one for each pair of groups. The distance is
// +Inf when there is only one group.
func MinGap(segs []Segment, limit float64) (least Gap, close []Gap) {
	least = Gap{Distance: math.Inf(1), A: -1, B: -1}
	groups := map[int32]bool{}
	boxes := make([]Box, len(segs))
	all := Box{}
	for i, s := range segs {
		groups[s.Group] = true
		boxes[i] = Bounds(s.A, s.B)
		if i == 0 {
			all = boxes[0]
		}
		all = Bounds(all.Min, all.Max, boxes[i].Min, boxes[i].Max)
	}
	if len(groups) < 2 {
		return least, nil
	}
	size := all.Size()
	for reach := limit; ; reach *= 2 {
		least, close = gapsWithin(segs, boxes, reach, limit)
		if least.Distance <= reach || reach > 2*(size.X+size.Y) || reach == 0 {
			return least, close
		}
	}
}

// GapsWithin returns the pairs of segments of different groups that come closer than a limit,
// one for each pair of groups, and the least of them.
func GapsWithin(segs []Segment, limit float64) (least Gap, close []Gap) {
	boxes := make([]Box, len(segs))
	for i, s := range segs {
		boxes[i] = Bounds(s.A, s.B)
	}
	return gapsWithin(segs, boxes, limit, limit)
}

func gapsWithin(segs []Segment, boxes []Box, reach, limit float64) (least Gap, close []Gap) {
	least = Gap{Distance: math.Inf(1), A: -1, B: -1}
	wide := make([]Box, len(boxes))
	for i, b := range boxes {
		wide[i] = b.grown(reach / 2)
	}
	nearest := map[[2]int32]Gap{}
	eachMeeting(segs, wide, reach, func(i, j int32) {
		d := SegmentDistance(segs[i].A, segs[i].B, segs[j].A, segs[j].B)
		if d < least.Distance {
			least = Gap{d, i, j}
		}
		if d < limit {
			key := [2]int32{min(segs[i].Group, segs[j].Group), max(segs[i].Group, segs[j].Group)}
			if old, ok := nearest[key]; !ok || d < old.Distance {
				nearest[key] = Gap{d, i, j}
			}
		}
	})
	for _, n := range nearest {
		close = append(close, n)
	}
	return least, close
}

// SegmentDistance returns the distance between the segments ab and cd.
func SegmentDistance(a, b, c, d r2.Vec) float64 {
	if cross(a, b, c)*cross(a, b, d) < 0 && cross(c, d, a)*cross(c, d, b) < 0 {
		return 0
	}
	return min(min(PointDistance(a, c, d), PointDistance(b, c, d)), min(PointDistance(c, a, b), PointDistance(d, a, b)))
}

func cross(a, b, c r2.Vec) float64 { return r2.Cross(r2.Sub(b, a), r2.Sub(c, a)) }

// PointDistance returns the distance of a point from the segment ab.
func PointDistance(p, a, b r2.Vec) float64 {
	at, _ := Nearest(p, a, b)
	return r2.Norm(r2.Sub(p, at))
}

// Nearest returns the place of the segment ab that is nearest to a point, and whether it lies
// within rather than at an end.
func Nearest(p, a, b r2.Vec) (at r2.Vec, within bool) {
	d := r2.Sub(b, a)
	t := 0.0
	if l := r2.Norm2(d); l > 0 {
		t = r2.Dot(r2.Sub(p, a), d) / l
		within = t > 0 && t < 1
		t = max(0, min(1, t))
	}
	return r2.Add(a, r2.Scale(t, d)), within
}

// EachNear visits the pairs of segments of different groups whose boxes are within reach of each
// other.
func EachNear(segs []Segment, reach float64, visit func(i, j int32)) {
	wide := make([]Box, len(segs))
	for i, s := range segs {
		wide[i] = Bounds(s.A, s.B).grown(reach / 2)
	}
	eachMeeting(segs, wide, reach, visit)
}

// eachMeeting visits the pairs of segments of different groups whose boxes meet, each once.
func eachMeeting(segs []Segment, wide []Box, reach float64, visit func(i, j int32)) {
	g := newGrid(wide, max(reach, meanSide(wide)))
	for c := range g.nx * g.ny {
		items := g.item[g.start[c]:g.start[c+1]]
		for k, i := range items {
			for _, j := range items[k+1:] {
				if segs[i].Group != segs[j].Group && wide[i].meets(wide[j]) && g.firstShared(c, wide[i], wide[j]) {
					visit(i, j)
				}
			}
		}
	}
}
