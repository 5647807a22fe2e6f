package wire

import (
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/seam"
	"morvek/core/unroll"
	"morvek/core/words"
	"morvek/workspace"
)

// Part is a part for the views.
type Part struct {
	Name    string `json:"name"`
	Shape   string `json:"shape"`
	Error   string `json:"error"`
	Locked  bool   `json:"locked"`
	Repeats int    `json:"repeats"` // how many more are equal
	Root    int    `json:"root"`    // the part that they are told by
	Fit     Fit    `json:"fit"`

	Projection unroll.Kind `json:"projection,omitempty"` // by which it is laid, if by one
	Grain      string      `json:"grain"`                // in words
	GrainSense bool        `json:"grain_sense,omitempty"`
	Material   string      `json:"material"`
}

// Label is a label with how it reads.
type Label struct {
	flow.Label
	Reads string `json:"reads"` // in words
}

// Shell is a shell with its measures.
type Shell struct {
	Part    int     `json:"part"`
	Density float64 `json:"density"`
	L2      float64 `json:"l2"`
	Angular float64 `json:"angular"`
	Grain   float64 `json:"grain"`

	Straight float64 `json:"straight"`
	Weight   float64 `json:"weight"`          // density wished relative to the common one
	Stack    int     `json:"stack,omitempty"` // so many lie on each other here
	Above    bool    `json:"above,omitempty"` // it lies on another there
}

// Meta is what the views know about a revision besides its block.
type Meta struct {
	Revision int64           `json:"revision"`
	LastEdit string          `json:"last_edit"`
	LastWho  string          `json:"last_who"` // made it
	NextEdit string          `json:"next_edit"`
	Head     int             `json:"head"`
	Saved    string          `json:"saved"`
	Unit     string          `json:"unit"`
	Size     int             `json:"size"`
	Scale    float64         `json:"scale"` // times the stretch of a face in the block is 1 where it is true to size
	Coverage float64         `json:"coverage"`
	Density  float64         `json:"density"`
	Parts    []Part          `json:"parts"`
	Shells   []Shell         `json:"shells"`
	Findings [][]mesh.FaceID `json:"findings"` // faces of each

	Dial  float64            `json:"dial"`
	Sides seam.Sides         `json:"sides"`
	Whole []mesh.FaceID      `json:"whole"`
	Held  []mesh.EdgeID      `json:"held"`
	Picks []document.PickSet `json:"picks"`

	Settings document.Settings `json:"settings"`

	Map  document.MapID     `json:"map"` // it is seen through
	Maps []document.MapHead `json:"maps"`

	Labels []Label           `json:"labels"`
	Pins   []mesh.HalfedgeID `json:"pins"`
	Locked []mesh.FaceID     `json:"locked"` // of shells that packing leaves where they are
	Placed int               `json:"placed"` // shells that somebody put where they lie
	Middle [3]float64        `json:"middle"` // about which the coordinates of the mesh block are
}

// NewMeta tells all of a revision but its block.
func NewMeta(o *workspace.Opened) Meta {
	v, st, r := Brief(o), o.Doc.State, o.Proof()
	v.Parts, v.Shells, v.Findings = []Part{}, []Shell{}, [][]mesh.FaceID{}
	list := newParts(o.Doc)
	for i := range st.Parts {
		v.Parts = append(v.Parts, list.part(document.PartID(i)))
	}
	for _, s := range r.Shells {
		v.Shells = append(v.Shells, newShell(s))
	}
	for _, f := range r.Findings {
		v.Findings = append(v.Findings, f.Faces)
	}
	return v
}

// Brief tells a revision without its parts, shells and findings.
func Brief(o *workspace.Opened) Meta {
	r := o.Proof()
	v := Meta{Revision: o.Row.Revision, LastEdit: o.Row.LastEdit, LastWho: o.Row.LastWho, NextEdit: o.Row.NextEdit, Head: o.Row.Head,
		Saved: o.Row.ChangedAt.Local().Format("15:04"), Unit: o.Doc.State.Settings.Unit, Size: o.Doc.State.Settings.Sheet.Size,
		Scale: r.Scale, Coverage: r.Totals.Coverage, Density: r.Totals.MeanDensity, Parts: []Part{}, Shells: []Shell{}, Findings: [][]mesh.FaceID{}}
	middle := middleOf(o.Doc)
	st := o.Doc.State
	w := st.Wishes
	v.Pins, v.Locked, v.Placed = notNil(w.Pins), notNil(w.Locked), len(w.Placed)
	v.Middle = [3]float64{middle.X, middle.Y, middle.Z}
	v.Dial, v.Sides, v.Settings = st.Settings.Dial, st.Settings.Viewed(), st.Settings
	v.Whole, v.Held, v.Picks = notNil(w.Whole), notNil(w.Held), notNil(w.Picks)
	v.Map, v.Maps = st.Shown.ID, st.Maps()
	v.Labels = []Label{}
	for i, l := range w.Labels {
		v.Labels = append(v.Labels, Label{l, readingWords(r.Labels[i])})
	}
	return v
}

func middleOf(d *document.Document) r3.Vec {
	lo, hi := d.Mesh.Bounds()
	return r3.Scale(0.5, r3.Add(lo, hi))
}

func newShell(s proof.Shell) Shell {
	return Shell{s.Part, s.Density, s.L2, s.AngularP95, s.GrainErrDeg, s.Straight, s.Weight, s.InStack, s.StackedOn != nil}
}

// parts is what the parts of a document have to be told with.
type parts struct {
	doc    *document.Document
	middle r3.Vec
	faces  [][]mesh.FaceID
	equal  map[document.PartID]int
}

func newParts(d *document.Document) *parts {
	l := &parts{doc: d, middle: middleOf(d), faces: d.State.PartFaces(), equal: map[document.PartID]int{}}
	for i := range d.State.Parts {
		l.equal[d.State.RepeatRoot(document.PartID(i))]++
	}
	return l
}

func (l *parts) part(i document.PartID) Part {
	p := l.doc.State.Parts[i]
	out := Part{Name: p.Name, Shape: string(p.Fit.Reads()), Error: words.Length(p.Fit.Error, l.doc.State.Settings.Unit), Locked: p.Locked,
		Repeats: l.equal[l.doc.State.RepeatRoot(i)] - 1, Root: int(l.doc.State.RepeatRoot(i)), Fit: newFit(p.Fit, l.middle)}
	out.Grain, out.GrainSense = grainWords(p.Grain), p.Grain.Sense
	out.Material = document.MaterialOf(l.doc.Mesh, l.faces[i])
	if p.Projection != nil {
		out.Projection = p.Projection.Kind
	}
	return out
}
