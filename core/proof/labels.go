package proof

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/flow"
	"morvek/core/mesh"
)

// LabelReading is how a label lies on the sheet.
type LabelReading struct {
	Word     string        `json:"word"`
	Faces    []mesh.FaceID `json:"faces"`
	OffDeg   float64       `json:"off_deg"`  // from upright, 0 to 180
	Mirrored bool          `json:"mirrored"` // it reads the wrong way round
	Shells   int           `json:"shells"`   // it lies on, 0 where it is not mapped
}

// Reads tells whether the label reads as it should.
func (l LabelReading) Reads() bool {
	return l.Shells == 1 && !l.Mirrored && l.OffDeg <= labelLimit
}

// labels measures how labels lie on the sheet.
func (r *Report) labels(in Input) (found findings) {
	for _, l := range in.Labels {
		x := r.read(in, l)
		r.Labels = append(r.Labels, x)
		switch {
		case x.Shells == 0: // not mapped, which is found already
		case x.Shells > 1:
			found.find(LabelCut, "must", float64(x.Shells), l.Faces)
		case x.Mirrored:
			found.find(LabelMirrored, "must", x.OffDeg, l.Faces)
		case x.OffDeg > labelLimit:
			found.find(LabelAskew, "must", x.OffDeg, l.Faces)
		}
	}
	return found
}

func (r *Report) read(in Input, l flow.Label) LabelReading {
	t := in.Mesh.Triangles()
	x := LabelReading{Word: l.Word, Faces: l.Faces}
	shells := map[int32]bool{}
	var up r2.Vec
	var signed float64
	for _, f := range l.Faces {
		if r.ShellOf[f] == mesh.None {
			continue
		}
		shells[r.ShellOf[f]] = true
		for k := t.FaceStart[f]; k < t.FaceStart[f+1]; k++ {
			if d, ok := differential(in, t.Corner[k]); ok {
				up = r2.Add(up, r2.Scale(d.Area, d.Push(l.Up)))
				signed += d.SheetArea
			}
		}
	}
	x.Shells, x.Mirrored = len(shells), signed < 0
	if x.Shells > 0 {
		x.OffDeg = math.Abs(math.Atan2(up.X, up.Y)) * 180 / math.Pi
	}
	return x
}
