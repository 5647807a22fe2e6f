package proof

import (
	"cmp"
	"math"
	"runtime"
	"slices"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/parallel"
)

// known is what a measure keeps for the next one of nearly the same map.
type known struct {
	shells   []atlas.Shell
	sums     []*sums // per shell
	overlaps []overlap
	gaps     gaps
	seams    []mesh.EdgeID    // ascending
	jogs     [][2]mesh.EdgeID // where they turn back, between which edges
	masks    []*mask          // per shell, nil where none was needed so far
}

// change is what is different from a map that was measured before.
type change struct {
	before  *Report
	touched []bool // per face
}

// Measure measures a map.
func Measure(in Input) Report { return measure(in, nil) }

// Again measures a map that differs from one that was measured only at some faces: where
// these lie on the sheet, what is cut around them, or which part they belong to and what
// that part wishes. All else of the input is as it was. It gives what Measure gives, to the
// bit, in less time.
func Again(in Input, before Report, touched []mesh.FaceID) Report {
	if before.known == nil || len(before.ShellOf) != in.Mesh.NumFaces() {
		return measure(in, nil)
	}
	c := change{&before, make([]bool, in.Mesh.NumFaces())}
	for _, f := range touched {
		c.touched[f] = true
	}
	return measure(in, &c)
}

// was returns which shell of the map before is the same as one of now, or -1.
func (c *change) was(s atlas.Shell) int {
	if c == nil {
		return -1
	}
	k := c.before.ShellOf[s.Faces[0]]
	if k == mesh.None || !slices.Equal(c.before.known.shells[k].Faces, s.Faces) {
		return -1
	}
	for _, f := range s.Faces {
		if c.touched[f] {
			return -1
		}
	}
	return int(k)
}

func measure(in Input, c *change) Report {
	if in.Sheet.Tiles < 1 {
		in.Sheet.Tiles = 1
	}
	if in.Stack == nil {
		in.Stack = func(mesh.FaceID) (int, bool) { return -1, false }
	}
	if in.Weight == nil {
		in.Weight = func([]mesh.FaceID) float64 { return 1 }
	}
	n := in.Mesh.NumFaces()
	r := Report{Stretch: make([]float32, n), Angular: make([]float32, n), GrainErr: make([]float32, n)}
	for f := range r.GrainErr {
		r.GrainErr[f] = -1
	}
	k := &known{}
	k.shells, r.ShellOf = in.Map.Shells()
	r.known = k
	r.Shells, k.sums, k.masks = make([]Shell, len(k.shells)), make([]*sums, len(k.shells)), make([]*mask, len(k.shells))
	was := make([]int, len(k.shells))
	in.Mesh.FaceNormals() // so that they are there before all ask
	var g parallel.Group
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i, s := range k.shells {
		if was[i] = c.was(s); was[i] >= 0 {
			r.keepShell(c.before, i, was[i], s.Faces)
			continue
		}
		g.Do(func() { r.Shells[i], k.sums[i] = r.measureShell(in, s.Faces) })
	}
	_ = g.Wait()
	var all sums
	for i, s := range k.sums {
		all.add(s.unweighted(r.Shells[i].Weight))
	}
	t := &r.Totals
	t.Shells = len(k.shells)
	t.L2 = all.l2()
	t.GrainRMSDeg, t.GrainOverDeg = all.degrees(all.grain), all.degrees(all.grainOver)
	t.Straight = share(all.straight, all.edges)
	r.stacks(in)
	if all.area > 0 {
		t.MeanDensity = float64(in.Sheet.Size) * math.Sqrt(all.sheet/all.area)
		r.Scale = all.sheet / all.area
	}
	// What knows nothing of each other is measured side by side and told in order.
	var missing, densities, outside, overlaps, covered, close, seams, jogs, labels findings
	k.seams = in.seamsAgain(c)
	side := []func(){
		func() { t.AngularP95 = angularP95(k.sums) },
		func() {
			missing, densities, outside, labels = r.missing(in), r.densities(in), r.outside(in), r.labels(in)
			overlaps = r.overlaps(in, c)
		},
		func() { close = r.gaps(in, c, was) },
		func() { seams, jogs = r.seams(in, k.seams), r.jogs(in, c, k.seams) },
	}
	var h parallel.Group
	h.SetLimit(runtime.GOMAXPROCS(0))
	for _, do := range side {
		h.Do(do)
	}
	_ = h.Wait()
	covered = r.coverage(in)
	if in.Tiling { // measured all the same, but nothing to send back
		outside, overlaps, covered, close = nil, nil, nil, nil
	}
	for _, f := range []findings{missing, densities, outside, overlaps, covered, close, seams, jogs, labels} {
		r.Findings = append(r.Findings, f...)
	}
	var own findings
	for _, s := range r.Shells {
		if s.AngularP95 > StretchLimit {
			own.find(Stretched, "look", s.AngularP95, s.Faces)
		}
		if s.GrainOverDeg > grainLimit {
			own.find(OffGrain, "look", s.GrainOverDeg, s.Faces)
		}
		if s.closed {
			own.find(NoOpening, "must", 0, s.Faces)
		}
	}
	r.Findings = append(r.Findings, own...)
	accept(r.Findings, in.Accepted)
	mark(r.Findings, in.Marked)
	slices.SortStableFunc(r.Findings, func(a, b Finding) int { return cmp.Compare(rank(a), rank(b)) })
	return r
}

// keepShell takes the measure of a shell over from the one before.
func (r *Report) keepShell(before *Report, i, was int, faces []mesh.FaceID) {
	r.Shells[i], r.known.sums[i], r.known.masks[i] = before.Shells[was], before.known.sums[was], before.known.masks[was]
	r.Shells[i].Faces, r.Shells[i].StackedOn, r.Shells[i].InStack = faces, nil, 0
	for _, f := range faces {
		r.Stretch[f], r.Angular[f], r.GrainErr[f] = before.Stretch[f], before.Angular[f], before.GrainErr[f]
	}
}
