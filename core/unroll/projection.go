package unroll

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/planar"
	"morvek/core/shape"
)

// Kind names a way to lay faces flat.
type Kind string

// The kinds of projection.
const (
	Flat        Kind = "planar"      // seen along the axis
	Cylindrical Kind = "cylindrical" // around the axis
	Conical     Kind = "conical"     // around the axis, as a sector
	Spherical   Kind = "spherical"   // longitude and latitude
	Boxed       Kind = "box"         // each face from the nearest of six sides
	Profiled    Kind = "turned"      // the way along the profile, the turn about the axis
	Prismatic   Kind = "extruded"    // the way around the outline, the height along the axis
	Winding     Kind = "helical"     // the way along the thread, the way across it
	Strips      Kind = "swept"       // rows and columns of quads made straight
	Unfolded    Kind = "unfolded"    // triangle by triangle
)

// ProjectionKinds lists all kinds.
var ProjectionKinds = []Kind{Flat, Cylindrical, Conical, Spherical, Boxed, Profiled, Prismatic, Winding, Strips, Unfolded}

// Of returns the kind that unrolls a shape.
func Of(k shape.Kind) Kind {
	return Kind(k.Traits().Projection)
}

// Opens tells whether a kind cuts a closed wall open at its turn.
func (k Kind) Opens() bool {
	return slices.Contains([]Kind{Cylindrical, Conical, Spherical, Profiled, Prismatic}, k)
}

// Projection is a rule with its parameters, which can be changed afterwards. Lengths are
// in model units. On the sheet V goes up: along Up where the axis lies across it, else
// along the axis, toward Up.
type Projection struct {
	Kind   Kind   `json:"kind"`
	Origin r3.Vec `json:"origin"` // the middle: it comes to the origin of the map
	Axis   r3.Vec `json:"axis"`   // toward the reader, of a planar one; else what the faces go around
	Up     r3.Vec `json:"up"`
	// TurnDeg turns a planar one about its axis; for what opens it says where, counted
	// from the side that Reference gives.
	TurnDeg float64 `json:"turn_deg"`
	Width   float64 `json:"width"`  // length that one unit of the sheet covers along U
	Height  float64 `json:"height"` // and along V
	Free    bool    `json:"free,omitempty"`
	Pitch   float64 `json:"pitch,omitempty"` // helical: way along the axis for a turn, positive for a right-handed one
	Flip    bool    `json:"flip,omitempty"`  // left and right exchanged
	Apart   bool    `json:"apart,omitempty"` // planar: faces that look away are a shell of their own
}

// ErrProjection marks parameters that cannot be.
var ErrProjection = errors.New("this projection cannot be")

// Check refuses parameters that cannot be, in words.
func (pr *Projection) Check() error {
	bad := func(format string, args ...any) error {
		return fmt.Errorf("%w: "+format, append([]any{ErrProjection}, args...)...)
	}
	possible := func(x float64) bool { return x > 1e-9 && x < 1e9 }
	switch {
	case !slices.Contains(ProjectionKinds, pr.Kind):
		return bad("there is no kind %q", pr.Kind)
	case !possible(pr.Width):
		return bad("a width of %g is not possible, it must be more than nothing", pr.Width)
	case !possible(pr.Height):
		return bad("a height of %g is not possible, it must be more than nothing", pr.Height)
	case !pr.Free && math.Abs(pr.Width-pr.Height) > 1e-9*pr.Width:
		return bad("width %g and height %g are locked together; unlock them to stretch the map", pr.Width, pr.Height)
	case !(math.Abs(pr.Pitch) <= 1e9):
		return bad("a pitch of %g is not possible", pr.Pitch)
	case !(math.Abs(pr.TurnDeg) <= 3600):
		return bad("a turn of %g° is not possible", pr.TurnDeg)
	}
	for name, v := range map[string]r3.Vec{"axis": pr.Axis, "up": pr.Up} {
		if l := r3.Norm(v); !(l > 1e-9 && l < 1e9) {
			return bad("its %s has no direction", name)
		}
	}
	if l := r3.Norm(pr.Origin); math.IsNaN(l) || l > 1e12 {
		return bad("its middle lies nowhere")
	}
	return nil
}

// frame is an orthonormal frame: the axis and two directions across it.
type frame struct{ o, u, v, axis r3.Vec }

// Reference returns the direction across the axis from which TurnDeg is counted: up for
// an axis that lies across it, for an upright axis the back (−Z of a frame with Y up).
func (pr *Projection) Reference() r3.Vec {
	axis := mesh.Unit(pr.Axis)
	across := func(d r3.Vec) (r3.Vec, bool) {
		d = r3.Sub(d, r3.Scale(r3.Dot(d, axis), axis))
		l := r3.Norm(d)
		return r3.Scale(1/max(l, 1e-300), d), l > 1e-3
	}
	if d, ok := across(mesh.Unit(pr.Up)); ok {
		return d
	}
	back := r3.Vec{Z: -1}
	if math.Abs(pr.Up.Z) > math.Abs(pr.Up.Y) {
		back = r3.Vec{Y: 1}
	}
	if d, ok := across(back); ok {
		return d
	}
	d, _ := across(r3.Vec{X: 1})
	return d
}

// frame returns the axis, pointing up where it can, and the directions across it: v at
// the turn, u before it, so that u, v and the axis are right-handed.
func (pr *Projection) frame() frame {
	axis := mesh.Unit(pr.Axis)
	ref := pr.Reference()
	if pr.Kind != Flat && r3.Dot(axis, pr.Up) < -1e-9*r3.Norm(pr.Up) {
		axis = r3.Scale(-1, axis)
	}
	side := r3.Rotate(ref, pr.TurnDeg*math.Pi/180, axis)
	return frame{pr.Origin, mesh.Unit(r3.Cross(side, axis)), side, axis}
}

// angle is how far a place lies around the axis from the turn, 0 to 2π.
func (f *frame) angle(p r3.Vec) float64 {
	d := r3.Sub(p, f.o)
	a := math.Atan2(-r3.Dot(d, f.u), r3.Dot(d, f.v))
	if a < 0 {
		a += 2 * math.Pi
	}
	return a
}

func (f *frame) height(p r3.Vec) float64 { return r3.Dot(r3.Sub(p, f.o), f.axis) }

func (f *frame) radius(p r3.Vec) float64 {
	d := r3.Sub(p, f.o)
	return math.Hypot(r3.Dot(d, f.u), r3.Dot(d, f.v))
}

// Seams returns the edges between the given faces where the projection tears the map.
func (pr *Projection) Seams(m *mesh.Mesh, faces []mesh.FaceID) []mesh.EdgeID {
	f := pr.frame()
	switch {
	case pr.Kind == Boxed:
		side := boxSides(m, faces, &f)
		return between(m, faces, func(a, b mesh.FaceID, _ mesh.EdgeID) bool { return side[a] != side[b] })
	case pr.Kind == Flat && pr.Apart:
		away := func(g mesh.FaceID) bool { return r3.Dot(m.FaceNormals()[g], f.axis) < 0 }
		return between(m, faces, func(a, b mesh.FaceID, _ mesh.EdgeID) bool { return away(a) != away(b) })
	case pr.Kind == Profiled:
		return slices.Compact(slices.Sorted(slices.Values(append(f.opening(m, faces, true), f.bands(m, faces)...))))
	case pr.Kind.Opens():
		return f.opening(m, faces, pr.Kind == Spherical)
	}
	return nil
}

// between returns the edges between two of the faces for which apart is true.
func between(m *mesh.Mesh, faces []mesh.FaceID, apart func(a, b mesh.FaceID, e mesh.EdgeID) bool) []mesh.EdgeID {
	return slices.DeleteFunc(m.EdgesWithin(faces), func(e mesh.EdgeID) bool {
		a, b := m.EdgeFaces(e)
		return !apart(a, b, e)
	})
}

// Lay returns the map of a connected patch, cut where Seams says, in model units about
// the origin of the projection. What the kind makes of faces that can lie flat is an
// isometry: lengths along the facets count, not the ideal radius.
func (pr *Projection) Lay(ctx context.Context, p *mesh.Patch) ([]r2.Vec, error) {
	f := pr.frame()
	var uv []r2.Vec
	var err error
	exact := true // whether the unfolding may stand for it
	switch pr.Kind {
	case Flat:
		uv, exact = f.planar(p, pr.Apart), false
	case Boxed:
		uv, exact = f.boxed(p, pr.Up), false
	case Spherical:
		uv, exact = f.spherical(p), false
	case Cylindrical:
		uv = f.cylindrical(p)
	case Conical:
		uv = f.conical(p)
	case Profiled:
		uv = f.profiled(p)
	case Prismatic:
		uv = f.prismatic(p)
	case Winding:
		uv, _ = Helical(p, shape.Fit{Kind: shape.Helix, Axis: f.axis, Origin: f.o, Pitch: pr.Pitch})
	case Strips, Unfolded:
		uv, err = f.free(ctx, p, pr.Kind == Strips)
		exact = false
	}
	if err != nil {
		return nil, err
	}
	if exact {
		if flat, gap := Unfold(p); gap <= closed*math.Sqrt(p.Area()) && flatten.Flips(p, flat) == 0 {
			lies := uv
			if Mirrored(p, uv) { // seen from within
				lies = reflected(onto(flat, reflected(uv)))
			} else {
				lies = onto(flat, uv)
			}
			if pr.Kind == Profiled || distance(lies, uv) <= facets*math.Sqrt(p.Area()) {
				return lies, nil
			}
		}
	}
	return uv, nil
}

// facets is how far, by root mean square and relative to its size, the unfolding of a
// patch may lie from what its kind makes of it: the chords of coarse facets are that much
// shorter than the arcs. Further off it is another kind of surface.
const facets = 0.06

func distance(a, b []r2.Vec) float64 {
	var sum float64
	for i := range a {
		sum += r2.Norm2(r2.Sub(a[i], b[i]))
	}
	return math.Sqrt(sum / float64(max(1, len(a))))
}

// Mirrored tells whether most of a map is turned over.
func Mirrored(p *mesh.Patch, uv []r2.Vec) bool { return 2*flatten.Flips(p, uv) > len(p.Tris) }

func reflected(uv []r2.Vec) []r2.Vec {
	out := make([]r2.Vec, len(uv))
	for i, q := range uv {
		out[i] = r2.Vec{X: -q.X, Y: q.Y}
	}
	return out
}

// OnSheet scales a map in model units to the sheet, turned over where that is asked for.
func (pr *Projection) OnSheet(uv []r2.Vec) {
	w, h := 1/pr.Width, 1/pr.Height
	if pr.Flip {
		w = -w
	}
	for i, q := range uv {
		uv[i] = r2.Vec{X: w * q.X, Y: h * q.Y}
	}
}

// onto turns and moves a map so that it lies on another by least squares.
func onto(uv, to []r2.Vec) []r2.Vec {
	ca, cb, cos, sin := planar.Turn(uv, to)
	out := make([]r2.Vec, len(uv))
	for i, q := range uv {
		q = r2.Sub(q, ca)
		out[i] = r2.Add(cb, r2.Vec{X: cos*q.X - sin*q.Y, Y: sin*q.X + cos*q.Y})
	}
	return out
}

// Bearing returns the turn in degrees, −180 to 180, at which a place lies about the axis.
func (pr *Projection) Bearing(p r3.Vec) float64 {
	zero := *pr
	zero.TurnDeg = 0
	f := zero.frame()
	a := f.angle(p) * 180 / math.Pi
	if a > 180 {
		a -= 360
	}
	return a
}

// Outward returns the unit direction away from the axis, or from the middle of a
// spherical projection, at a place.
func (pr *Projection) Outward(p r3.Vec) r3.Vec {
	d := r3.Sub(p, pr.Origin)
	if pr.Kind != Spherical {
		axis := mesh.Unit(pr.Axis)
		d = r3.Sub(d, r3.Scale(r3.Dot(d, axis), axis))
	}
	if l := r3.Norm(d); l > 0 {
		return r3.Scale(1/l, d)
	}
	return r3.Vec{}
}
