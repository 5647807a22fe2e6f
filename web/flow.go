package web

import (
	"math"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/workspace"
)

// flowView sums up how the shells of a part run on the sheet.
type flowView struct {
	Shells   int
	Straight float64 // share of edge length along the axes, by area of the shells
	Grain    float64 // degrees off, root mean square by area
	L2       float64 // worst shell
	Angular  float64 // worst shell
}

func newFlowView(o *workspace.Opened, p document.PartID) (v flowView) {
	r := o.Proof()
	seen := map[int32]bool{}
	var area, straight, grain float64
	for f, q := range o.Doc.State.FaceParts() {
		k := r.ShellOf[f]
		if q != p || k == mesh.None || seen[k] {
			continue
		}
		seen[k] = true
		s := r.Shells[k]
		area += s.Area
		straight += s.Area * s.Straight
		grain += s.Area * s.GrainOverDeg * s.GrainOverDeg
		v.L2, v.Angular = max(v.L2, s.L2), max(v.Angular, s.AngularP95)
	}
	if v.Shells = len(seen); area > 0 {
		v.Straight, v.Grain = straight/area, math.Sqrt(grain/area)
	}
	return v
}
