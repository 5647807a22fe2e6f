// Package parts splits a mesh into parts that a modeler would have made: the
// walls, plates and cones of machine parts, each with the shape that fits.
//
// Faces are gathered into flats; rules (all normals at one angle to an axis,
// the Gauss image of single-curved surfaces) are proposed from neighbouring
// flats and grown as far as they hold; the largest candidates take their flats
// first, in the manner of a greedy set cover (Schnabel et al. 2007). What is
// left stays together up to the creases.
package parts

import (
	"cmp"
	"container/heap"
	"context"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// Options are the settings of a recognition.
type Options struct {
	CreaseDeg float64 // bends above this are creases; 0 means 30
}

// Part is a set of connected faces with its shape.
type Part struct {
	Faces  []mesh.FaceID // ascending
	Fit    shape.Fit
	Pieces []Part // the primitives a turned part unites
}

// Recognise splits all faces of a mesh into parts, ordered by falling area.
// progress may be nil; it is called with a share between 0 and 1.
func Recognise(ctx context.Context, m *mesh.Mesh, o Options, progress func(float64)) ([]Part, error) {
	if o.CreaseDeg == 0 {
		o.CreaseDeg = 30
	}
	list, _ := flats(m, o.CreaseDeg*math.Pi/180)
	g := &grower{list: list, stamp: make([]int32, len(list))}
	cands, err := g.candidates(func(done, of int) error {
		if progress != nil {
			progress(0.8 * float64(done) / float64(of))
		}
		return ctx.Err()
	})
	if err != nil {
		return nil, err
	}
	chosen := g.choose(cands)
	chosen = append(chosen, g.leftovers(chosen)...)
	var out []Part
	for _, r := range chosen {
		var p Part
		for _, i := range r.flats {
			p.Faces = append(p.Faces, list[i].faces...)
		}
		slices.Sort(p.Faces)
		p.Fit = describe(m, p.Faces, r.kind)
		out = append(out, p)
	}
	out = uniteTurned(m, out)
	areas := m.FaceAreas()
	size := func(p Part) (a float64) {
		for _, f := range p.Faces {
			a += areas[f]
		}
		return a
	}
	slices.SortStableFunc(out, func(a, b Part) int {
		// Rounded, so that equal parts keep the order of the file.
		sa, sb := float32(size(a)), float32(size(b))
		if sa != sb {
			return cmp.Compare(sb, sa)
		}
		return cmp.Compare(a.Faces[0], b.Faces[0])
	})
	if progress != nil {
		progress(1)
	}
	return out, nil
}

// choose lets the largest candidates take their flats; what a candidate has
// lost to others is grown again over what is free.
func (g *grower) choose(cands []region) []region {
	taken := make([]bool, len(g.list))
	q := &queue{}
	for i, r := range cands {
		heap.Push(q, ranked{r, i})
	}
	var out []region
	for q.Len() > 0 {
		c := heap.Pop(q).(ranked)
		lost := slices.ContainsFunc(c.flats, func(i int) bool { return taken[i] })
		if !lost {
			for _, i := range c.flats {
				taken[i] = true
			}
			out = append(out, c.region)
			continue
		}
		if c.kind == shape.Plane {
			continue
		}
		least := 3
		if c.kind == shape.Cone {
			least = 5
		}
		if c.rule.sharp {
			least = gearFlats
		}
		for _, i := range c.flats {
			if taken[i] {
				continue
			}
			r := g.grow(i, c.rule, taken)
			r.kind = c.kind
			if len(r.flats) >= least && len(r.flats) < len(c.flats) && !g.slice(r.flats) {
				heap.Push(q, ranked{r, c.id})
			}
			break
		}
	}
	return out
}

// leftovers gathers the flats nobody took, connected over smooth borders.
func (g *grower) leftovers(chosen []region) []region {
	taken := make([]bool, len(g.list))
	for _, r := range chosen {
		for _, i := range r.flats {
			taken[i] = true
		}
	}
	var out []region
	for i := range g.list {
		if taken[i] {
			continue
		}
		taken[i] = true
		r := region{kind: shape.Free, flats: []int{i}}
		for k := 0; k < len(r.flats); k++ {
			f := &g.list[r.flats[k]]
			for _, s := range f.sides {
				if !taken[s.other] && (s.smooth || f.area == 0 || g.list[s.other].area == 0) {
					taken[s.other] = true
					r.flats = append(r.flats, s.other)
				}
			}
		}
		out = append(out, r)
	}
	return out
}

// extrudedSpread is the deviation of normals from the plane across the axis up
// to which a profile counts as straight: a rod that bends a little is none.
const extrudedSpread = 0.15 * math.Pi / 180

// describe fits the shape of a part: what was grown is a start, the fit decides.
func describe(m *mesh.Mesh, faces []mesh.FaceID, grown shape.Kind) shape.Fit {
	s := shape.Gather(m, faces)
	plane := shape.FitPlane(s)
	diag := m.Diagonal()
	if grown == shape.Plane || planar(s, plane.Axis) {
		return plane
	}
	axis, spread := shape.AcrossAxis(s)
	if spread < math.Sin(normalSlack) {
		cyl := shape.FitCylinder(s, axis)
		if cyl.Error <= max(2e-3*cyl.Radius, 1e-6*diag) && cyl.Radius < diag && roundness(s, axis) {
			return cyl
		}
		if spread < extrudedSpread {
			return shape.Fit{Kind: shape.Extruded, Axis: axis, Origin: plane.Origin}
		}
		return shape.Fit{Kind: shape.Free, Origin: plane.Origin}
	}
	if axis, h, spread := shape.ConeAxis(s); spread < math.Sin(normalSlack) && h > math.Sin(1.5*math.Pi/180) {
		cone := shape.FitCone(s, axis, h)
		if cone.Error <= max(2e-3*cone.Radius, 1e-6*diag) {
			return cone
		}
	}
	return shape.Fit{Kind: shape.Free, Origin: plane.Origin}
}

func planar(s shape.Faces, n r3.Vec) bool {
	for i, v := range s.Normals {
		if s.Areas[i] > 0 && mesh.Angle(v, n) > normalSlack {
			return false
		}
	}
	return true
}

// roundness tells whether the facets are many enough and alike: no facet may
// turn further than one of nine round a circle, so that prisms stay extruded.
func roundness(s shape.Faces, axis r3.Vec) bool {
	u, v := mesh.Basis(axis)
	angles := make([]float64, 0, len(s.Normals))
	for i, n := range s.Normals {
		if s.Areas[i] > 0 {
			angles = append(angles, math.Atan2(r3.Dot(n, v), r3.Dot(n, u)))
		}
	}
	if len(angles) < 3 {
		return false
	}
	slices.Sort(angles)
	last := angles[0] + 2*math.Pi
	gaps := 0
	for i := range angles {
		next := last
		if i+1 < len(angles) {
			next = angles[i+1]
		}
		if next-angles[i] > coarseAngle {
			gaps++ // the open side of a partial round
		}
	}
	return gaps <= 1
}

type ranked struct {
	region
	id int
}

// queue pops the largest area first; ties go to the earlier candidate.
type queue []ranked

func (q queue) Len() int { return len(q) }
func (q queue) Less(i, j int) bool {
	if a, b := float32(q[i].area), float32(q[j].area); a != b {
		return a > b
	}
	return q[i].id < q[j].id
}
func (q queue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)   { *q = append(*q, x.(ranked)) }
func (q *queue) Pop() any {
	last := (*q)[len(*q)-1]
	*q = (*q)[:len(*q)-1]
	return last
}
