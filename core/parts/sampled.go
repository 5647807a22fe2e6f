package parts

import (
	"cmp"
	"math"
	"slices"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// How many places of a mesh are looked at, and how many points round each.
const (
	sampledPlaces = 32
	sampledPoints = 24
)

// sampledNoise is how far the points of a mesh are off the best wall, cone, ball or ring through those round a face, in the
// lower eighth of places spread by area: the noise where hardly anything is flat, as on a ball in triangles. It is an
// upper bound, infinite where nothing is round.
func sampledNoise(m *mesh.Mesh) float64 {
	area := m.FaceAreas()
	order := make([]mesh.FaceID, m.NumFaces())
	var all float64
	for f := range order {
		order[f] = mesh.FaceID(f)
		all += area[f]
	}
	slices.SortStableFunc(order, func(a, b mesh.FaceID) int { return cmp.Compare(float32(area[b]), float32(area[a])) })
	var off []float64
	sum, next := 0.0, 0.5
	for _, f := range order {
		sum += area[f] * sampledPlaces / all
		if sum >= next {
			next = math.Floor(sum+0.5) + 0.5
			off = append(off, offRound(m, f))
		}
	}
	if len(off) == 0 {
		return math.Inf(1)
	}
	slices.Sort(off)
	return off[len(off)/8]
}

// offRound is the spread of the points round a face about the best round shape through them.
func offRound(m *mesh.Mesh, seed mesh.FaceID) float64 {
	disc, points := []mesh.FaceID{seed}, map[mesh.PointID]bool{}
	in := map[mesh.FaceID]bool{seed: true}
	n := m.FaceNormals()
	for k := 0; k < len(disc) && len(points) < sampledPoints; k++ {
		for _, p := range m.FacePoints(disc[k]) {
			points[p] = true
		}
		lo, hi := m.Corners(disc[k])
		for h := lo; h < hi; h++ {
			if t := m.Twin(h); t != mesh.None && !in[m.FaceOf(t)] && mesh.Angle(n[disc[k]], n[m.FaceOf(t)]) < coarseAngle {
				in[m.FaceOf(t)] = true
				disc = append(disc, m.FaceOf(t))
			}
		}
	}
	if len(points) < sampledPoints {
		return math.Inf(1)
	}
	s := shape.Gather(m, disc)
	axis, _ := shape.AcrossAxis(s)
	wall := shape.FitCylinder(s, axis)
	fits := []shape.Fit{shape.FitSphere(s), wall}
	if axis, centre, ok := shape.BentAxis(s, wall); ok {
		fits = append(fits, shape.FitTorus(s, axis, centre))
	}
	if cone, ok := coneOf(s); ok {
		fits = append(fits, cone)
	}
	best := math.Inf(1)
	for _, f := range fits {
		if !math.IsNaN(f.Error) && f.Bend < 0.3 {
			best = min(best, f.Error)
		}
	}
	return best * math.Sqrt(sampledPoints/(sampledPoints-7.))
}
