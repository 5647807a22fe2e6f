package wire

import (
	"reflect"
	"slices"

	"morvek/core/document"
	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/workspace"
)

// Patch leads from what the bench knows of one revision to the next. Lists are as long as
// the change. It is applied in the order of its fields.
type Patch struct {
	From int64 `json:"from"` // the revision it starts from

	FaceParts []int32           `json:"face_parts"` // pairs: face, part
	Corners   []mesh.HalfedgeID `json:"corners"`    // that moved
	UV        []float32         `json:"uv"`         // two for each
	Mapped    []mesh.FaceID     `json:"mapped"`     // toggled
	Cut       []mesh.EdgeID     `json:"cut"`        // toggled

	PartCount int           `json:"part_count"`
	Parts     []ChangedPart `json:"parts"`

	// Shells are those of before in runs (first, how many), and fresh ones: run 0, fresh 0,
	// run 1, fresh 1 and so on. Faces that are in none are unmapped.
	ShellRuns [][2]int     `json:"shell_runs"`
	Fresh     []FreshShell `json:"fresh"`

	// Findings are told in the same way; a run from -1 is the next fresh one.
	FindingRuns   [][2]int        `json:"finding_runs"`
	FreshFindings [][]mesh.FaceID `json:"fresh_findings"`

	// Measures of faces that changed.
	Faces   []mesh.FaceID `json:"faces"`
	Stretch []float32     `json:"stretch"`
	Angular []float32     `json:"angular"`
	Grain   []float32     `json:"grain"`
	Wish    []int8        `json:"wish"` // three for each
}

// ChangedPart is a part that is told anew.
type ChangedPart struct {
	Part document.PartID `json:"part"`
	As   Part            `json:"as"`
}

// FreshShell is a shell that is told anew; At is how many runs lie before it.
type FreshShell struct {
	At    int           `json:"at"`
	As    Shell         `json:"as"`
	Faces []mesh.FaceID `json:"faces"`
}

// NewPatch returns what leads from one revision to the next, or false if the bench should
// rather be told all.
func NewPatch(was, now *workspace.Opened, by document.Delta) (Patch, bool) {
	if by.Settings != nil {
		return Patch{}, false
	}
	m, s := now.Doc.Mesh, now.Doc.State
	before, after := was.Proof(), now.Proof()
	p := Patch{From: was.Row.Revision, FaceParts: []int32{}, Corners: []mesh.HalfedgeID{}, UV: []float32{}, Mapped: notNil(by.Map.Mapped), Cut: notNil(by.Map.Cut),
		PartCount: len(s.Parts), Parts: []ChangedPart{}, Fresh: []FreshShell{}, FreshFindings: [][]mesh.FaceID{}, Stretch: []float32{}, Angular: []float32{}, Grain: []float32{}, Wish: []int8{}}
	for _, c := range by.PartOf {
		p.FaceParts = append(p.FaceParts, int32(c.Face), int32(c.New))
	}
	p.Corners, p.UV = slices.Grow(p.Corners, len(by.Map.Corners)), slices.Grow(p.UV, 2*len(by.Map.Corners))
	for _, c := range by.Map.Corners {
		p.Corners = append(p.Corners, c.Corner)
		p.UV = append(p.UV, float32(c.New.X), float32(c.New.Y))
	}
	p.parts(was, now, by)
	p.shells(before, after)
	p.findings(before, after)
	p.measures(was, now, by)
	return p, len(p.Corners) < m.NumCorners()/2
}

// measures tells the measures of faces that changed: only those can have that lie in a shell
// or a part that did.
func (p *Patch) measures(was, now *workspace.Opened, by document.Delta) {
	m := now.Doc.Mesh
	before, after := was.Proof(), now.Proof()
	p.Faces = []mesh.FaceID{}
	var look []mesh.FaceID
	faces := now.Doc.State.PartFaces()
	for _, c := range by.Parts {
		if c.New != nil && (c.Old == nil || !reflect.DeepEqual(c.Old.Grain, c.New.Grain)) {
			look = append(look, faces[c.Part]...)
		}
	}
	old, fresh := map[int32]bool{mesh.None: true}, map[int32]bool{mesh.None: true}
	for _, f := range by.Touched(m) {
		look = append(look, f)
		if k := before.ShellOf[f]; !old[k] {
			old[k] = true
			look = append(look, before.Shells[k].Faces...)
		}
		if k := after.ShellOf[f]; !fresh[k] {
			fresh[k] = true
			look = append(look, after.Shells[k].Faces...)
		}
	}
	for _, f := range ids.Once(look) {
		wish := grainDirection(now, f)
		if before.Stretch[f] != after.Stretch[f] || before.Angular[f] != after.Angular[f] || before.GrainErr[f] != after.GrainErr[f] || wish != grainDirection(was, f) {
			p.Faces = append(p.Faces, f)
			p.Stretch, p.Angular, p.Grain = append(p.Stretch, after.Stretch[f]), append(p.Angular, after.Angular[f]), append(p.Grain, after.GrainErr[f])
			p.Wish = append(p.Wish, wish[:]...)
		}
	}
}

func notNil[T any](list []T) []T { return append([]T{}, list...) }

// parts tells the parts that changed, and those whose number of repeats or material did.
func (p *Patch) parts(was, now *workspace.Opened, by document.Delta) {
	again, repeated := map[document.PartID]bool{}, map[document.PartID]bool{}
	for _, c := range by.Parts {
		again[c.Part] = true
		if c.Old != nil && c.New != nil && reflect.DeepEqual(c.Old.RepeatOf, c.New.RepeatOf) {
			continue
		}
		repeated[c.Part] = true // there are more or fewer like it
		for _, q := range []*document.Part{c.Old, c.New} {
			if q != nil && q.RepeatOf != nil {
				repeated[*q.RepeatOf] = true
			}
		}
	}
	for _, c := range by.PartOf {
		again[c.Old], again[c.New] = true, true
	}
	if len(again) == 0 {
		return
	}
	list := newParts(now.Doc)
	for i := range now.Doc.State.Parts {
		q := document.PartID(i)
		root := now.Doc.State.RepeatRoot(q)
		if again[q] || repeated[root] {
			p.Parts = append(p.Parts, ChangedPart{q, list.part(q)})
		}
	}
}

// shells tells which shells are those of before.
func (p *Patch) shells(before, after proof.Report) {
	p.ShellRuns = [][2]int{}
	if n := len(before.Shells); n > 0 && len(after.Shells) == n && &before.Shells[0] == &after.Shells[0] {
		p.ShellRuns = append(p.ShellRuns, [2]int{0, n})
		return
	}
	for _, s := range after.Shells {
		k := before.ShellOf[s.Faces[0]]
		if k != mesh.None && newShell(before.Shells[k]) == newShell(s) && slices.Equal(before.Shells[k].Faces, s.Faces) {
			p.ShellRuns = extend(p.ShellRuns, int(k), len(p.Fresh) > 0 && p.Fresh[len(p.Fresh)-1].At == len(p.ShellRuns))
			continue
		}
		p.Fresh = append(p.Fresh, FreshShell{len(p.ShellRuns), newShell(s), s.Faces})
	}
}

// extend adds a number to the last run if it follows on it and nothing stands between.
func extend(runs [][2]int, k int, apart bool) [][2]int {
	if n := len(runs); n > 0 && !apart && runs[n-1][0]+runs[n-1][1] == k {
		runs[n-1][1]++
		return runs
	}
	return append(runs, [2]int{k, 1})
}

// findings tells which findings are those of before.
func (p *Patch) findings(before, after proof.Report) {
	p.FindingRuns = [][2]int{}
	if n := len(before.Findings); n > 0 && len(after.Findings) == n && &before.Findings[0] == &after.Findings[0] {
		p.FindingRuns = append(p.FindingRuns, [2]int{0, n}) // nothing was measured anew
		return
	}
	at := map[mesh.FaceID][]int{} // by first face
	for i, f := range before.Findings {
		if len(f.Faces) > 0 {
			at[f.Faces[0]] = append(at[f.Faces[0]], i)
		}
	}
	for _, f := range after.Findings {
		k := -1
		if len(f.Faces) > 0 {
			for _, i := range at[f.Faces[0]] {
				if slices.Equal(before.Findings[i].Faces, f.Faces) {
					k = i
					break
				}
			}
		}
		if k < 0 {
			p.FindingRuns = append(p.FindingRuns, [2]int{-1, 1})
			p.FreshFindings = append(p.FreshFindings, f.Faces)
			continue
		}
		n := len(p.FindingRuns)
		p.FindingRuns = extend(p.FindingRuns, k, n > 0 && p.FindingRuns[n-1][0] < 0)
	}
}
