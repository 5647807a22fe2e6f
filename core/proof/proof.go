// Package proof measures a map: stretch after Sander et al. (2001), texel
// density, grain, overlap, gaps and seams, and lists what a painter would send
// back.
package proof

import (
	"slices"

	"morvek/core/atlas"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/seam"
)

// Sheet is what the map was made for.
type Sheet struct {
	Size    int     `json:"size"` // px, of the shorter side
	Padding float64 `json:"padding"`
	Margin  float64 `json:"margin"`
	Tiles   int     `json:"tiles"`
	Wide    bool    `json:"wide,omitempty"` // one tile, twice as wide as high
}

// Across is how many units the sheet is wide, where it is one high: a unit is a square tile, or
// half a wide one.
func (s Sheet) Across() int {
	if s.Wide {
		return 2
	}
	return max(1, s.Tiles)
}

// Holds tells whether a box lies on the sheet, but for rounding.
func (s Sheet) Holds(b planar.Box) bool {
	const slack = 1e-9
	return b.Min.X >= -slack && b.Max.X <= float64(s.Across())+slack && b.Min.Y >= -slack && b.Max.Y <= 1+slack
}

// TileWidth is how many units a tile is wide.
func (s Sheet) TileWidth() float64 {
	if s.Wide {
		return 2
	}
	return 1
}

// Input is a map to be measured.
type Input struct {
	Mesh     *mesh.Mesh
	Map      *atlas.Map
	Part     func(mesh.FaceID) int     // part of a face, or -1
	Grain    func(part int) flow.Grain // wished direction
	Flow     flow.Settings
	Sheet    Sheet
	Stack    func(f mesh.FaceID) (stack int, above bool) // that its shell lies in on purpose, -1 for none, and whether on another; nil for none
	Weight   func(shell []mesh.FaceID) float64           // density wished relative to the common one; nil for 1
	Labels   []flow.Label                                // nil for none
	Accepted []Accepted                                  // findings that may stay; nil for none
	Marked   *Marked                                     // those that are not new; nil for none being told as new
	Exposure *seam.Exposure                              // nil leaves out whatever asks for it
	Tiling   bool                                        // shells may lie on each other and leave the square, and some may be missing
}

// Shell is the measure of one shell.
type Shell struct {
	Part         int           `json:"part"`
	Faces        []mesh.FaceID `json:"faces"`
	L2           float64       `json:"l2"`
	Linf         float64       `json:"linf"`
	AngularP95   float64       `json:"angular_p95"`
	Density      float64       `json:"density"` // px per model unit
	GrainErrDeg  float64       `json:"grain_error_deg"`
	GrainOverDeg float64       `json:"grain_over_deg"` // of that, what turning the shell could take away
	Straight     float64       `json:"straight_share"`
	Tile         int           `json:"tile"`
	StackedOn    *int          `json:"stacked_on"`
	Weight       float64       `json:"weight"` // density wished relative to the common one
	Area         float64       `json:"area"`   // model units squared
	Mirrored     int           `json:"mirrored_faces"`
	SheetArea    float64       `json:"sheet_area"` // share of a tile

	Box       planar.Box `json:"-"` // on the sheet
	InStack   int        `json:"-"` // how many lie on each other where it does, 0 if it lies alone
	limbGap   float64    // between limbs of it, sheet units, where that is below the padding
	limbs     []mesh.FaceID
	closed    bool // it has no border
	collapsed []mesh.FaceID
}

// Totals sums up a map.
type Totals struct {
	Unmapped      int     `json:"unmapped"`
	Mirrored      int     `json:"mirrored"`
	NoArea        int     `json:"no_area"` // faces that have an area in space and none on the sheet
	OverlapShare  float64 `json:"overlap_share"`
	Outside       int     `json:"outside"`
	MinGapPx      float64 `json:"min_gap_px"` // between shells; -1 where there are no two
	MinRimPx      float64 `json:"min_rim_px"` // from shells to the rim of their tile; -1 where there are none
	Coverage      float64 `json:"coverage"`
	DensitySpread float64 `json:"density_spread"`
	L2            float64 `json:"l2"`
	AngularP95    float64 `json:"angular_p95"`
	GrainRMSDeg   float64 `json:"grain_rms_deg"`
	GrainOverDeg  float64 `json:"grain_over_deg"` // above the floor, what bends within the parts
	SeamLength    float64 `json:"seam_length"`
	SeamOpenings  float64 `json:"seam_openings"`      // of that, where a shell meets itself
	SeamDivisions float64 `json:"seam_divisions"`     // of that, where shells of one part meet on something smooth
	SeamOnCrease  float64 `json:"seam_on_crease"`     // of the rest, where the faces bend by 5° or more
	SeamConcave   float64 `json:"seam_concave"`       // of that, in hollows
	SeamOnFlat    float64 `json:"seam_on_flat_share"` // openings and divisions aside
	SeamExposed   float64 `json:"seam_exposed"`       // length weighted by exposure; SeamExposed measures it
	Jogs          int     `json:"jogs"`               // where seams leave their loop and go on beside it
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

	Accepted string `json:"accepted,omitempty"` // why somebody lets it stay
	New      bool   `json:"new,omitempty"`      // it was not there when the state was marked
}

// Must tells whether a painter would send it back.
func (f Finding) Must() bool { return f.Severity == "must" && f.Accepted == "" }

// Report is the measure of a whole map.
type Report struct {
	Shells   []Shell
	ShellOf  []int32 // per face, None where unmapped
	Totals   Totals
	Findings []Finding
	Stretch  []float32 // per face: area in space per area on the sheet, weights aside; 0 unmapped
	Scale    float64   // mean area on the sheet per area in space: Stretch × Scale is 1 where a face is true to size
	Angular  []float32 // per face: σ₁/σ₂
	Labels   []LabelReading
	GrainErr []float32 // per face: degrees off the grain, −1 where there is none

	known *known // for Again
}

// The kinds of finding.
const (
	Unmapped  = "unmapped"
	Mirrored  = "mirrored"
	NoArea    = "no-area"
	Wasted    = "wasted-sheet"
	Overlap   = "overlap"
	Outside   = "outside"
	TooClose  = "too-close"
	Limbs     = "limbs-close" // places of one shell
	Stretched = "stretched"
	OffGrain  = "off-grain"
	Density   = "density"
	NoOpening = "no-opening"
	InView    = "seam-in-view"
	Crooked   = "crooked-seam"

	LabelAskew    = "label-askew"
	LabelMirrored = "label-mirrored"
	LabelCut      = "label-cut"
)

// StretchLimit is the angular stretch above which a shell becomes a finding.
const StretchLimit = 1.15

// Limits above which something else does.
const (
	grainLimit   = 5.0 // degrees
	densityLimit = 1.05
	labelLimit   = 2.0   // degrees
	overlapShare = 1e-6  // of a triangle: less is rounding where neighbours touch
	leastOverlap = 1e-12 // of the sheet: less is rounding wherever it is
)

func rank(f Finding) int {
	switch {
	case f.Must():
		return 0
	case f.Accepted == "":
		return 1
	}
	return 2
}

// Acceptable tells whether nothing is left that a painter would send back.
func (r Report) Acceptable() bool { return Acceptable(r.Findings) }

// Musts counts the findings that a painter would send back.
func Musts(findings []Finding) (n int) {
	for _, f := range findings {
		if f.Must() {
			n++
		}
	}
	return n
}

// Acceptable tells whether none of some findings is a reason to send a map back.
func Acceptable(findings []Finding) bool {
	return !slices.ContainsFunc(findings, Finding.Must)
}

// findings are what one part of the measure found.
type findings []Finding

func (f *findings) find(kind, severity string, value float64, faces []mesh.FaceID) {
	*f = append(*f, Finding{Kind: kind, Severity: severity, Value: value, Faces: faces})
}
