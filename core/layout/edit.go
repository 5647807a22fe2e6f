package layout

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"morvek/core/mesh"
	"morvek/core/parallel"
)

// Edit is a change of a document as a value. Apply gives the state after the
// edit and leaves the document as it is; an edit that cannot be applied changes
// nothing and its error says why in words a modeler understands.
type Edit interface {
	Kind() string     // name in JSON and in the worklog
	Describe() string // a few words for the worklog, in the imperative
	Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error)
}

// ErrRefused marks errors that are about what was asked, not about the program.
var ErrRefused = errors.New("refused")

func refuse(format string, args ...any) error {
	return fmt.Errorf("%w: "+format, append([]any{ErrRefused}, args...)...)
}

var kinds = map[string]func() Edit{
	"recognise": func() Edit { return &Recognise{} },
	"detail":    func() Edit { return &Detail{} },
	"split":     func() Edit { return &Split{} },
	"unite":     func() Edit { return &Unite{} },
	"open":      func() Edit { return &Open{} },
	"attach":    func() Edit { return &Attach{} },
	"cut":       func() Edit { return &Cut{} },
	"close":     func() Edit { return &Close{} },
	"flatten":   func() Edit { return &Flatten{} },
	"dial":      func() Edit { return &Dial{} },
	"lanes":     func() Edit { return &Lanes{} },
	"pack":      func() Edit { return &Pack{} },
	"move":      func() Edit { return &Move{} },
	"clear":     func() Edit { return &Clear{} },
	"rename":    func() Edit { return &Rename{} },
	"settings":  func() Edit { return &Set{} },

	"keep":       func() Edit { return &Keep{} },
	"hold":       func() Edit { return &Hold{} },
	"save-picks": func() Edit { return &SavePicks{} },
	"view-from":  func() Edit { return &ViewFrom{} },
	"join":       func() Edit { return &Join{} },
	"join-group": func() Edit { return &JoinGroup{} },
	"hand-over":  func() Edit { return &HandOver{} },
	"shell-off":  func() Edit { return &ShellOff{} },
	"straighten": func() Edit { return &Straighten{} },

	"project": func() Edit { return &Project{} },
	"relax":   func() Edit { return &Relax{} },
	"nudge":   func() Edit { return &Nudge{} },
	"pin":     func() Edit { return &Pin{} },
	"fill":    func() Edit { return &Fill{} },
	"true-up": func() Edit { return &TrueUp{} },
	"grain":   func() Edit { return &SetGrain{} },
	"label":   func() Edit { return &SetLabel{} },
	"orient":  func() Edit { return &Orient{} },

	"snap":       func() Edit { return &Snap{} },
	"carry-over": func() Edit { return &CarryOver{} },

	"merge":           func() Edit { return &Merge{} },
	"part-off":        func() Edit { return &PartOff{} },
	"assign":          func() Edit { return &Assign{} },
	"set-shape":       func() Edit { return &SetShape{} },
	"lock":            func() Edit { return &Lock{} },
	"weigh":           func() Edit { return &Weigh{} },
	"give-to-repeats": func() Edit { return &GiveToRepeats{} },
	"follow-mirror":   func() Edit { return &FollowMirror{} },
}

// Encode writes an edit as JSON with its kind.
func Encode(e Edit) ([]byte, error) {
	params, err := json.Marshal(e)
	if err != nil {
		return nil, err
	}
	return json.Marshal(struct {
		Kind   string          `json:"kind"`
		Params json.RawMessage `json:"params"`
	}{e.Kind(), params})
}

// Apply gives the state a document has after an edit, or the error of ctx as soon as that
// is done, whatever the edit is busy with. progress may be nil.
func Apply(ctx context.Context, d *Document, e Edit, progress func(float64)) (*State, error) {
	return parallel.Leave(ctx, func() (*State, error) { return e.Apply(ctx, d, progress) })
}

// Decode reads an edit from JSON; unknown kinds and fields are refused.
func Decode(data []byte) (Edit, error) {
	if err := Sane(data); err != nil {
		return nil, err
	}
	var env struct {
		Kind   string          `json:"kind"`
		Params json.RawMessage `json:"params"`
	}
	if err := strictJSON(data, &env); err != nil {
		return nil, refuse("this is not an edit: %v", err)
	}
	make, ok := kinds[env.Kind]
	if !ok {
		return nil, refuse("there is no edit called %q", env.Kind)
	}
	e := make()
	if len(env.Params) > 0 {
		if err := strictJSON(env.Params, e); err != nil {
			return nil, refuse("the edit %q is not complete: %v", env.Kind, err)
		}
	}
	return e, nil
}

func strictJSON(data []byte, into any) error {
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	return d.Decode(into)
}

func checkFaces(m *mesh.Mesh, faces []mesh.FaceID) error {
	for _, f := range faces {
		if f < 0 || int(f) >= m.NumFaces() {
			return refuse("there is no face %d; the mesh has %d", f, m.NumFaces())
		}
	}
	return nil
}

func checkEdges(m *mesh.Mesh, edges []mesh.EdgeID) error {
	if len(edges) == 0 {
		return refuse("no edges are picked")
	}
	for _, e := range edges {
		if e < 0 || int(e) >= m.NumEdges() {
			return refuse("there is no edge %d; the mesh has %d", e, m.NumEdges())
		}
	}
	return nil
}

// Cut makes shells end at edges.
type Cut struct {
	Edges []mesh.EdgeID `json:"edges"`
}

// Kind implements Edit.
func (*Cut) Kind() string { return "cut" }

// Describe implements Edit.
func (c *Cut) Describe() string { return "cut " + edgeCount(len(c.Edges)) }

// Apply implements Edit.
func (c *Cut) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	return setCuts(d, c.Edges, true, "all of these edges are cut already")
}

// Close takes cuts back. The shells stay apart until they are flattened again.
type Close struct {
	Edges []mesh.EdgeID `json:"edges"`
}

// Kind implements Edit.
func (*Close) Kind() string { return "close" }

// Describe implements Edit.
func (c *Close) Describe() string { return "close " + edgeCount(len(c.Edges)) }

// Apply implements Edit.
func (c *Close) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	return setCuts(d, c.Edges, false, "none of these edges is cut")
}

func edgeCount(n int) string  { return count(n, "edge") }
func faceCount(n int) string  { return count(n, "face") }
func pointCount(n int) string { return count(n, "point") }

func count(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return fmt.Sprintf("%d %ss", n, of)
}

func setCuts(d *Document, edges []mesh.EdgeID, to bool, none string) (*State, error) {
	if err := checkEdges(d.Mesh, edges); err != nil {
		return nil, err
	}
	s := d.Begin()
	var changed []mesh.EdgeID
	for _, e := range edges {
		if d.Mesh.Twin(d.Mesh.EdgeHalf(e)) == mesh.None || s.Map.IsCut(e) == to {
			continue // borders are always ends
		}
		changed = append(changed, e)
	}
	if len(changed) == 0 {
		return nil, refuse("%s", none)
	}
	s.cutByHand(d.Mesh, changed, to)
	return s.Done(), nil
}

// cutByHand cuts edges or closes them, and remembers that people wanted it so.
func (s *Tx) cutByHand(m *mesh.Mesh, edges []mesh.EdgeID, to bool) {
	for _, e := range edges {
		s.Map.SetCut(e, to)
		a, b := m.EdgeFaces(e)
		s.markHand(a)
		s.markHand(b)
	}
	w := &s.Wishes
	if to {
		w.Firm, w.Held = with(w.Firm, edges), without(w.Held, edges)
	} else {
		w.Held, w.Firm = with(w.Held, edges), without(w.Firm, edges)
	}
}

func (s *Tx) markHand(f mesh.FaceID) {
	if p := s.PartOf(f); p >= 0 {
		s.Part(p).ByHand = true
	}
}

// Clear takes the map off faces; no faces means all.
type Clear struct {
	Faces []mesh.FaceID `json:"faces"`
}

// Kind implements Edit.
func (*Clear) Kind() string { return "clear" }

// Describe implements Edit.
func (c *Clear) Describe() string {
	if len(c.Faces) == 0 {
		return "clear the map"
	}
	return "clear the map of " + faceCount(len(c.Faces))
}

// Apply implements Edit.
func (c *Clear) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := checkFaces(d.Mesh, c.Faces); err != nil {
		return nil, err
	}
	s := d.Begin()
	if !s.Map.AnyMapped() {
		return nil, refuse("nothing is mapped yet")
	}
	faces := c.Faces
	if len(faces) == 0 {
		faces = allFaces(d.Mesh)
	}
	for _, f := range faces {
		s.Map.Unmap(f)
	}
	return s.Done(), nil
}

// Rename gives a part another name.
type Rename struct {
	Part PartID `json:"part"`
	Name string `json:"name"`
}

// Kind implements Edit.
func (*Rename) Kind() string { return "rename" }

// Describe implements Edit.
func (r *Rename) Describe() string { return "rename a part to " + r.Name }

// Apply implements Edit.
func (r *Rename) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if r.Part < 0 || int(r.Part) >= len(d.State.Parts) {
		return nil, refuse("there is no part %d", r.Part)
	}
	if r.Name == "" || len(r.Name) > 200 {
		return nil, refuse("a part needs a name of 1 to 200 letters")
	}
	s := d.Begin()
	s.Part(r.Part).Name = r.Name
	return s.Done(), nil
}

// Set changes the settings of the document.
type Set struct {
	Settings Settings `json:"settings"`
}

// Kind implements Edit.
func (*Set) Kind() string { return "settings" }

// Describe implements Edit.
func (*Set) Describe() string { return "change the settings" }

// Apply implements Edit.
func (e *Set) Apply(_ context.Context, d *Document, _ func(float64)) (*State, error) {
	if err := e.Settings.Check(); err != nil {
		return nil, err
	}
	s := d.Begin()
	if s.Settings.Repeats == Stack && e.Settings.Repeats != Stack { // stacks come apart with the next packing
		for i := range s.Parts {
			s.Part(PartID(i)).StackedOn = nil
		}
	}
	s.Settings = e.Settings
	return s.Done(), nil
}

// Units and Ups are the units a model can be in and the axes that can be up.
var (
	Units = []string{"m", "cm", "mm", "in"}
	Ups   = []string{"y", "z"}
)

// Check refuses settings that cannot work, in words.
func (s Settings) Check() error {
	switch {
	case s.Sheet.Size < 64 || s.Sheet.Size > 16384:
		return refuse("a sheet of %d px is not possible; choose 64 to 16384", s.Sheet.Size)
	case !distance(s.Sheet.Padding, s.Sheet.Size):
		return refuse("a padding of %g px does not go with a sheet of %d px", s.Sheet.Padding, s.Sheet.Size)
	case !distance(s.Sheet.Margin, s.Sheet.Size):
		return refuse("a margin of %g px does not go with a sheet of %d px", s.Sheet.Margin, s.Sheet.Size)
	case s.Sheet.Tiles < 1 || s.Sheet.Tiles > 10:
		return refuse("%d tiles are not possible; choose 1 to 10", s.Sheet.Tiles)
	case !slices.Contains([]string{"0", "180", "90", "any"}, string(s.Turns)):
		return refuse("turns %q are unknown; choose 0, 180, 90 or any", s.Turns)
	case !slices.Contains(Ups, string(s.Up)):
		return refuse("up %q is unknown; choose y or z", s.Up)
	case !slices.Contains(Units, s.Unit):
		return refuse("unit %q is unknown; choose m, cm, mm or in", s.Unit)
	case !s.Viewed().Valid():
		return refuse("the viewing sides need weights from 0 to 10, one of them above 0")
	case !(s.CreaseDeg > 0 && s.CreaseDeg < 180):
		return refuse("a crease angle of %g° is not possible; choose more than 0 and less than 180", s.CreaseDeg)
	case !slices.Contains([]string{"", Spread, Stack}, s.Repeats):
		return refuse("repeats %q are unknown; choose spread or stack", s.Repeats)
	case !(s.Finer >= -0.5 && s.Finer <= 0.5):
		return refuse("parts are read from 0.5 coarser to 0.5 finer than usual, not %g", s.Finer)
	case !(s.Dial >= 0 && s.Dial <= 1):
		return refuse("the dial goes from 0 to 1, not to %g", s.Dial)
	}
	return nil
}

// distance tells whether a distance in pixels can be kept on a sheet: none, or one that
// is neither lost in rounding nor most of the sheet.
func distance(px float64, size int) bool { return px == 0 || px >= 1e-3 && px <= float64(size)/4 }
