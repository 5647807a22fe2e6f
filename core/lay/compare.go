package lay

import (
	"context"
	"errors"
	"math"
	"slices"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// Option is what a kind of projection would make of faces.
type Option struct {
	Projection unroll.Projection
	L2         float64
	Angular    float64 // p95
	Flips      int     // triangles turned over
	Shells     int
	Away       int // faces that would land on those in front of them
	Overlaps   bool
	Why        string          // why it cannot be, in words; the figures are nothing then
	State      *document.State `json:"-"` // after it was taken
}

// Compare lays faces by each kind and says what it costs, the best first: all in order
// before what is turned over or doubled, then by stretch and number of shells.
func Compare(ctx context.Context, d *document.Document, faces []mesh.FaceID, kinds []unroll.Kind) ([]Option, error) {
	if err := document.CheckPick(d.Mesh, faces); err != nil {
		return nil, err
	}
	var found []shape.Fit
	others := func() []shape.Fit {
		if found == nil {
			found = append([]shape.Fit{}, parts.Alternatives(d.Mesh, faces)...)
		}
		return found
	}
	var out []Option
	for _, k := range kinds {
		o, err := weighUp(d, ctx, faces, fitted(d, faces, k, others))
		if err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	slices.SortStableFunc(out, func(a, b Option) int {
		if x, y := a.trouble(), b.trouble(); x != y {
			return x - y
		}
		// A hundredth of stretch is worth a further shell.
		return compareFloat(a.Angular+a.L2+0.01*float64(a.Shells), b.Angular+b.L2+0.01*float64(b.Shells))
	})
	return out, nil
}

func compareFloat(a, b float64) int {
	switch {
	case a < b-1e-9:
		return -1
	case a > b+1e-9:
		return 1
	}
	return 0
}

func (o *Option) trouble() int {
	switch {
	case o.Why != "":
		return 2
	case o.Flips > 0 || o.Overlaps || o.Away > 0:
		return 1
	}
	return 0
}

// weighUp returns what one projection would make of faces, ascending.
func weighUp(d *document.Document, ctx context.Context, faces []mesh.FaceID, pr unroll.Projection) (Option, error) {
	o := Option{Projection: pr}
	s, err := Project(ctx, d, Projecting{Faces: faces, Projection: pr}, nil)
	if ctx.Err() != nil {
		return o, ctx.Err()
	}
	if err != nil {
		if !errors.Is(err, document.ErrRefused) {
			return o, err
		}
		o.Why = document.Plainly(err)
		return o, nil
	}
	o.State = s
	o.Away = len(pr.Away(d.Mesh, faces))
	var c ShellCost
	for _, group := range d.Mesh.Connected(faces, s.Map.IsCut) {
		p, uv := atTrueScale(s, d.Mesh, group)
		o.Flips += flatten.Flips(p, uv)
		o.Overlaps = o.Overlaps || unroll.Tangled(p, uv)
		c.add(p, uv)
	}
	o.L2, o.Angular, o.Shells = c.L2, c.Angular, c.Shells
	if math.IsNaN(o.L2) || math.IsInf(o.L2, 0) || math.IsNaN(o.Angular) || math.IsInf(o.Angular, 0) {
		o.Why = "some faces are seen edge on and have no room"
	}
	return o, nil
}
