// Package proof measures a map: stretch after Sander et al. (2001), texel
// density, grain, overlap, gaps and seams, and lists what a painter would send
// back.
package proof

import (
	"cmp"
	"math"
	"runtime"
	"slices"

	"golang.org/x/sync/errgroup"
	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/chart"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/seam"
)

// Sheet is what the map was made for.
type Sheet struct {
	Size    int     `json:"size"` // px
	Padding float64 `json:"padding"`
	Margin  float64 `json:"margin"`
	Tiles   int     `json:"tiles"`
}

// Input is a map to be measured.
type Input struct {
	Mesh     *mesh.Mesh
	Map      chart.Map
	Cut      func(mesh.EdgeID) bool
	Part     func(mesh.FaceID) int     // part of a face, or -1
	Grain    func(part int) flow.Grain // wished direction
	Flow     flow.Settings
	Sheet    Sheet
	Stack    func(part int) int     // the part whose place a part shares, itself if none; nil for no stacks
	Weight   func(part int) float64 // density wished relative to the common one; nil for 1
	Labels   []flow.Label           // nil for none
	Exposure *seam.Exposure         // nil leaves out whatever asks for it
}

// Shell is the measure of one shell.
type Shell struct {
	Part        int           `json:"part"`
	Faces       []mesh.FaceID `json:"faces"`
	L2          float64       `json:"l2"`
	Linf        float64       `json:"linf"`
	AngularP95  float64       `json:"angular_p95"`
	Density     float64       `json:"density"` // px per model unit
	GrainErrDeg float64       `json:"grain_error_deg"`
	Straight    float64       `json:"straight_share"`
	Tile        int           `json:"tile"`
	StackedOn   *int          `json:"stacked_on"`
	Area        float64       `json:"area"` // model units squared
	Mirrored    int           `json:"mirrored_faces"`
	SheetArea   float64       `json:"sheet_area"` // share of a tile

	middle r2.Vec // on the sheet
	closed bool   // it has no border
}

// Totals sums up a map.
type Totals struct {
	Unmapped      int     `json:"unmapped"`
	Mirrored      int     `json:"mirrored"`
	OverlapShare  float64 `json:"overlap_share"`
	Outside       int     `json:"outside"`
	MinGapPx      float64 `json:"min_gap_px"` // between shells and to the border; -1 where there is nothing to measure
	Coverage      float64 `json:"coverage"`
	DensitySpread float64 `json:"density_spread"`
	L2            float64 `json:"l2"`
	AngularP95    float64 `json:"angular_p95"`
	GrainRMSDeg   float64 `json:"grain_rms_deg"`
	SeamLength    float64 `json:"seam_length"`
	SeamOpenings  float64 `json:"seam_openings"`      // of that, where a shell meets itself
	SeamOnCrease  float64 `json:"seam_on_crease"`     // of the rest, where the faces bend by 5° or more
	SeamConcave   float64 `json:"seam_concave"`       // of that, in hollows
	SeamOnFlat    float64 `json:"seam_on_flat_share"` // openings aside
	SeamExposed   float64 `json:"seam_exposed"`       // length weighted by exposure; SeamExposed measures it
	Shells        int     `json:"shells"`
	Straight      float64 `json:"straight_share"`
	MeanDensity   float64 `json:"mean_density"`

	Seconds map[string]float64 `json:"seconds"`
}

// Finding is one thing that is wrong, with its place and number.
type Finding struct {
	Kind     string        `json:"kind"`
	Severity string        `json:"severity"` // must: a painter would send it back; look: worth a look
	Value    float64       `json:"value"`
	Faces    []mesh.FaceID `json:"faces"`
}

// Report is the measure of a whole map.
type Report struct {
	Shells   []Shell
	ShellOf  []int32 // per face, None where unmapped
	Totals   Totals
	Findings []Finding
	Stretch  []float32 // per face: area stretch σ₁σ₂ at mean density, 1 is true, 0 unmapped
	Angular  []float32 // per face: σ₁/σ₂
	Labels   []LabelReading
	GrainErr []float32 // per face: degrees off the grain, −1 where there is none
}

// The kinds of finding.
const (
	Unmapped  = "unmapped"
	Mirrored  = "mirrored"
	Overlap   = "overlap"
	Outside   = "outside"
	TooClose  = "too-close"
	Stretched = "stretched"
	OffGrain  = "off-grain"
	Density   = "density"
	NoOpening = "no-opening"
	InView    = "seam-in-view"

	LabelAskew    = "label-askew"
	LabelMirrored = "label-mirrored"
	LabelCut      = "label-cut"
)

// Limits above which something becomes a finding.
const (
	stretchLimit = 1.15
	grainLimit   = 5.0 // degrees
	densityLimit = 1.05
	labelLimit   = 2.0  // degrees
	overlapShare = 1e-4 // of a triangle: less is rounding where neighbours touch
)

// Measure measures a map.
func Measure(in Input) Report {
	if in.Sheet.Tiles < 1 {
		in.Sheet.Tiles = 1
	}
	if in.Stack == nil {
		in.Stack = func(part int) int { return part }
	}
	if in.Weight == nil {
		in.Weight = func(int) float64 { return 1 }
	}
	var r Report
	shells, of := in.Map.Shells(in.Mesh, in.Cut)
	r.ShellOf = of
	r.Stretch = make([]float32, in.Mesh.NumFaces())
	r.Angular, r.GrainErr = make([]float32, in.Mesh.NumFaces()), make([]float32, in.Mesh.NumFaces())
	for f := range r.GrainErr {
		r.GrainErr[f] = -1
	}
	r.Shells = make([]Shell, len(shells))
	each := make([]*sums, len(shells))
	in.Mesh.FaceNormals() // so that they are there before all ask
	var g errgroup.Group
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i, s := range shells {
		g.Go(func() error {
			r.Shells[i], each[i] = r.measureShell(in, s.Faces)
			return nil
		})
	}
	_ = g.Wait()
	var all sums
	for i, s := range each {
		all.add(s.unweighted(in.Weight(r.Shells[i].Part)))
	}
	r.Totals.Shells = len(shells)
	r.Totals.L2 = all.l2()
	r.Totals.AngularP95 = all.angularP95()
	r.Totals.GrainRMSDeg = all.grainRMS()
	r.Totals.Straight = share(all.straight, all.edges)
	r.stacks(in)
	for _, s := range r.Shells {
		if s.StackedOn == nil {
			r.Totals.Coverage += s.SheetArea / float64(in.Sheet.Tiles)
		}
	}
	if all.area > 0 {
		r.Totals.MeanDensity = float64(in.Sheet.Size) * math.Sqrt(all.sheet/all.area)
		for f := range r.Stretch {
			w := in.Weight(in.Part(mesh.FaceID(f)))
			r.Stretch[f] *= float32(w * w * all.sheet / all.area)
		}
	}
	r.missing(in)
	r.densities(in)
	r.outside(in)
	r.overlaps(in)
	r.gaps(in, shells)
	r.seams(in)
	r.labels(in)
	for _, s := range r.Shells {
		if s.AngularP95 > stretchLimit {
			r.find(Stretched, "look", s.AngularP95, s.Faces)
		}
		if s.GrainErrDeg > grainLimit {
			r.find(OffGrain, "look", s.GrainErrDeg, s.Faces)
		}
		if s.closed {
			r.find(NoOpening, "must", 0, s.Faces)
		}
	}
	slices.SortStableFunc(r.Findings, func(a, b Finding) int { return cmp.Compare(rank(a), rank(b)) })
	return r
}

func rank(f Finding) int {
	if f.Severity == "must" {
		return 0
	}
	return 1
}

// Acceptable tells whether nothing is left that a painter would send back.
func (r Report) Acceptable() bool {
	t := r.Totals
	return t.Unmapped == 0 && t.Mirrored == 0 && t.OverlapShare == 0 && t.Outside == 0
}

func (r *Report) find(kind, severity string, value float64, faces []mesh.FaceID) {
	r.Findings = append(r.Findings, Finding{kind, severity, value, faces})
}

// sums gathers area-weighted measures before they are scaled to true area.
type sums struct {
	area, sheet      float64
	squares          float64 // Σ A (σ₁²+σ₂²)/2
	worst            float64
	angular          []weightedValue
	grain, grainArea float64
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
		return 1
	}
	return s.scale() * math.Sqrt(s.squares/s.area)
}

func (s *sums) angularP95() float64 {
	if len(s.angular) == 0 {
		return 1
	}
	slices.SortFunc(s.angular, func(a, b weightedValue) int { return cmp.Compare(a.value, b.value) })
	var run, total float64
	for _, w := range s.angular {
		total += w.weight
	}
	for _, w := range s.angular {
		if run += w.weight; run >= 0.95*total {
			return w.value
		}
	}
	return s.angular[len(s.angular)-1].value
}

func (s *sums) grainRMS() float64 {
	if s.grainArea == 0 {
		return 0
	}
	return math.Sqrt(s.grain/s.grainArea) * 180 / math.Pi
}

func (s *sums) add(o *sums) {
	s.area += o.area
	s.sheet += o.sheet
	s.squares += o.squares
	s.worst = max(s.worst, o.worst)
	s.angular = append(s.angular, o.angular...)
	s.grain += o.grain
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

// unbounded stands for a stretch that has no number: a face without area on
// the sheet.
const unbounded = 1e6

// measureShell measures one shell; it writes to the figures of its own faces alone.
func (r *Report) measureShell(in Input, faces []mesh.FaceID) (Shell, *sums) {
	m := in.Mesh
	t := m.Triangles()
	normals := m.FaceNormals()
	out := Shell{Part: in.Part(faces[0]), Faces: faces}
	var s sums
	for _, f := range faces {
		grain := in.Grain(in.Part(f))
		wish, wished := grain.At(m.FaceCentre(f), normals[f])
		var stretch, angular, area float64
		mirrored := false
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			c := t.Corner[k]
			d, ok := differential(in, c)
			if !ok || d.Area < 1e-9*m.FaceAreas()[f] {
				continue
			}
			s1, s2 := d.Stretch()
			s1, s2 = min(s1, unbounded), min(s2, unbounded)
			s.area += d.Area
			s.sheet += math.Abs(d.SheetArea)
			s.squares += d.Area * (s1*s1 + s2*s2) / 2
			s.worst = max(s.worst, s1)
			s.angular = append(s.angular, weightedValue{min(s1/s2, unbounded), d.Area})
			stretch += d.Area * s1 * s2
			angular = max(angular, min(s1/s2, unbounded))
			area += d.Area
			mirrored = mirrored || d.SheetArea < 0
			if wished {
				e := flow.Error(wish, grain.Sense, in.Flow, d, normals[f])
				r.GrainErr[f] = max(r.GrainErr[f], float32(e*180/math.Pi))
				s.grain += d.Area * e * e
				s.grainArea += d.Area
			}
		}
		if area > 0 {
			r.Stretch[f], r.Angular[f] = float32(stretch/area), float32(angular)
		}
		if mirrored {
			out.Mirrored++
		}
	}
	p := mesh.NewPatch(m, faces, in.Cut)
	uv := in.Map.Get(p)
	s.straight, s.edges = flow.StraightShare(p, uv)
	out.closed = len(p.Borders()) == 0
	out.Area, out.SheetArea = s.area, s.sheet
	out.L2 = s.l2()
	out.Linf = s.scale() * s.worst
	out.AngularP95 = s.angularP95()
	out.Density = float64(in.Sheet.Size) * s.scale()
	out.GrainErrDeg = s.grainRMS()
	out.Straight = share(s.straight, s.edges)
	for _, q := range uv {
		out.middle = r2.Add(out.middle, r2.Scale(1/float64(len(uv)), q))
	}
	out.Tile = int(math.Floor(out.middle.X))
	return out, &s
}

// stacks notes for each shell that lies on another on purpose which one that is.
func (r *Report) stacks(in Input) {
	byPart := map[int][]int{}
	for i, s := range r.Shells {
		byPart[s.Part] = append(byPart[s.Part], i)
	}
	for i := range r.Shells {
		s := &r.Shells[i]
		root := in.Stack(s.Part)
		if root == s.Part {
			continue
		}
		best := -1
		for _, k := range byPart[root] {
			if best < 0 || r2.Norm(r2.Sub(r.Shells[k].middle, s.middle)) < r2.Norm(r2.Sub(r.Shells[best].middle, s.middle)) {
				best = k
			}
		}
		if best >= 0 {
			s.StackedOn = &best
		}
	}
}

func (r *Report) missing(in Input) {
	var open []mesh.FaceID
	for f, ok := range in.Map.Mapped {
		if !ok {
			open = append(open, mesh.FaceID(f))
		}
	}
	if r.Totals.Unmapped = len(open); len(open) > 0 {
		r.find(Unmapped, "must", float64(len(open)), open)
	}
	for _, s := range r.Shells {
		if s.Mirrored > 0 {
			r.Totals.Mirrored += s.Mirrored
			r.find(Mirrored, "must", float64(s.Mirrored), s.Faces)
		}
	}
}

func (r *Report) densities(in Input) {
	lo, hi := math.Inf(1), 0.0
	for _, s := range r.Shells {
		if s.Area > 0 {
			d := s.Density / in.Weight(s.Part)
			lo, hi = min(lo, d), max(hi, d)
		}
	}
	r.Totals.DensitySpread = 1
	if hi > 0 {
		r.Totals.DensitySpread = min(hi/max(lo, hi/unbounded), unbounded)
	}
	for _, s := range r.Shells {
		if d := s.Density / in.Weight(s.Part) / max(r.Totals.MeanDensity, 1e-300); s.Area > 0 && (d > densityLimit || d < 1/densityLimit) {
			r.find(Density, "look", d, s.Faces)
		}
	}
}

func (r *Report) outside(in Input) {
	const slack = 1e-9
	var out []mesh.FaceID
	for f := range in.Mesh.NumFaces() {
		if !in.Map.Mapped[f] {
			continue
		}
		lo, hi := in.Mesh.Corners(mesh.FaceID(f))
		for _, q := range in.Map.UV[lo:hi] {
			if !(q.X >= -slack && q.X <= float64(in.Sheet.Tiles)+slack && q.Y >= -slack && q.Y <= 1+slack) {
				out = append(out, mesh.FaceID(f))
				break
			}
		}
	}
	if r.Totals.Outside = len(out); len(out) > 0 {
		r.find(Outside, "must", float64(len(out)), out)
	}
}

func (r *Report) overlaps(in Input) {
	t := in.Mesh.Triangles()
	var tris []planar.Triangle
	var face []mesh.FaceID
	var total float64
	for i, c := range t.Corner {
		if in.Map.Mapped[t.Face[i]] {
			tri := planar.Triangle{in.Map.UV[c[0]], in.Map.UV[c[1]], in.Map.UV[c[2]]}
			tris = append(tris, tri)
			face = append(face, t.Face[i])
			total += math.Abs(tri.Area())
		}
	}
	hit := map[mesh.FaceID]bool{}
	var area float64
	for _, o := range planar.Overlaps(tris, overlapShare) {
		if face[o.A] == face[o.B] || r.stackedTogether(in, face[o.A], face[o.B]) {
			continue
		}
		hit[face[o.A]], hit[face[o.B]] = true, true
		area += o.Area
	}
	if total > 0 {
		r.Totals.OverlapShare = area / total
	}
	if len(hit) > 0 {
		faces := make([]mesh.FaceID, 0, len(hit))
		for f := range hit {
			faces = append(faces, f)
		}
		slices.Sort(faces)
		r.find(Overlap, "must", r.Totals.OverlapShare, faces)
		r.Totals.Coverage = max(0, r.Totals.Coverage-area/float64(in.Sheet.Tiles))
	}
}

// stackedTogether tells whether two faces lie on each other on purpose.
func (r *Report) stackedTogether(in Input, a, b mesh.FaceID) bool {
	p, q := in.Part(a), in.Part(b)
	return p != q && in.Stack(p) == in.Stack(q)
}

func (r *Report) gaps(in Input, shells []chart.Shell) {
	px := float64(in.Sheet.Size)
	var segs []planar.Segment
	for i, s := range shells {
		if r.Shells[i].StackedOn != nil {
			continue
		}
		segs = append(segs, in.Map.Border(in.Mesh, s.Faces, in.Cut, int32(i))...)
	}
	r.Totals.MinGapPx = -1
	if len(segs) == 0 {
		return
	}
	// The border of each tile is a group of its own.
	rim := math.Inf(1)
	for _, s := range segs {
		for _, q := range []r2.Vec{s.A, s.B} {
			x := q.X - min(max(math.Floor(q.X), 0), float64(in.Sheet.Tiles-1))
			rim = min(rim, x, 1-x, q.Y, 1-q.Y)
		}
	}
	least, close := planar.MinGap(segs, in.Sheet.Padding/px*(1-1e-9))
	r.Totals.MinGapPx = px * max(0, min(least.Distance, rim))
	slices.SortFunc(close, func(a, b planar.Gap) int {
		return cmp.Or(cmp.Compare(segs[a.A].Group, segs[b.A].Group), cmp.Compare(segs[a.B].Group, segs[b.B].Group))
	})
	for _, g := range close {
		faces := slices.Concat(shells[segs[g.A].Group].Faces, shells[segs[g.B].Group].Faces)
		r.find(TooClose, "look", g.Distance*px, faces)
	}
}
