// Package unroll lays a part on the sheet the way a sheet-metal worker would:
// facets keep their true lengths, because triangles are unfolded one against
// the other across their common edges. On anything that can lie flat the
// result is an isometry; how far the unfolding fails to close says how far the
// part is from that.
package unroll

import (
	"context"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/shape"
)

// Result is a map of a patch in model units.
type Result struct {
	UV     []r2.Vec // per patch vertex
	Method string   // plane, unfolded, or how it was flattened
	Gap    float64  // largest disagreement of the unfolding, model units
}

// closed is the disagreement, relative to the size of the patch, below which
// an unfolding counts as exact; repairable is what ARAP may polish away.
const (
	closed     = 1e-7
	repairable = 2e-2
)

// Unroll lays a patch flat with the projection its shape asks for. Shapes that
// can lie flat are unfolded, holes and all, also when nobody recognised them;
// the rest is flattened and must be a disk.
func Unroll(ctx context.Context, p *mesh.Patch, fit shape.Fit, s flatten.Settings) (Result, error) {
	if fit.Kind == shape.Plane && isFlat(p, fit.Axis) {
		if uv := Planar(p, fit.Axis); flatten.Flips(p, uv) == 0 {
			return Result{UV: uv, Method: "plane"}, nil
		}
	}
	straight, isWall := wall(p, fit)
	if isWall && fit.Kind == shape.Helix { // unfolded, its turns would come to lie on each other
		if _, angular := p.Stretch(straight); angular <= threadStretch && Loosen(p, straight) {
			return Result{UV: straight, Method: straightName(fit)}, nil
		}
	}
	size := math.Sqrt(p.Area())
	isStraight := func() bool {
		_, angular := p.Stretch(straight)
		return angular <= wallStretch
	}
	if isWall && !turns(fit) && isStraight() { // before its bevels come apart
		if _, gap := Unfold(p); gap > closed*size {
			return Result{UV: straight, Method: straightName(fit), Gap: gap}, nil
		}
	}
	uv, gap, ok := Rigid(p)
	if ok {
		return Result{UV: uv, Method: "unfolded", Gap: gap}, nil
	}
	if isWall && isStraight() {
		return Result{UV: straight, Method: straightName(fit), Gap: gap}, nil
	}
	r, err := relaxed(ctx, p, uv, gap <= repairable*size, s)
	if ctx.Err() != nil {
		return Result{}, ctx.Err()
	}
	if isWall {
		_, was := p.Stretch(straight)
		if err != nil || r.Flips > 0 || !Loosen(p, r.UV) && Loosen(p, straight) {
			return Result{UV: straight, Method: straightName(fit), Gap: gap}, nil
		}
		if _, now := p.Stretch(r.UV); now > 0.97*was {
			return Result{UV: straight, Method: straightName(fit), Gap: gap}, nil
		}
	}
	return Result{UV: r.UV, Method: r.Method, Gap: gap}, err
}

// wallStretch is the angular stretch up to which a wall of revolution, or a band round anything else, is laid as
// a rectangle, straight along its loops, rather than as free as it would lie.
const wallStretch = 1.13

// threadStretch is the same for the flank of a thread, which is narrow and winds on: unfolded,
// it would have to be cut at every turn.
const threadStretch = 1.15

// turns tells whether a shape is a wall of revolution.
func turns(fit shape.Fit) bool { return fit.Kind == shape.Turned || fit.Kind == shape.Cylinder }

// wall lays a wall of revolution as a rectangle, bevels and all, a thread as a strip and a band round anything else
// as a ring; ok is false for what is none of these.
func wall(p *mesh.Patch, fit shape.Fit) (uv []r2.Vec, ok bool) {
	closes := false
	switch {
	case fit.Kind == shape.Helix && !fit.Bent():
		uv, closes = Helical(p, fit)
	case turns(fit):
		uv, closes = Turned(p, fit)
	case fit.Kind != shape.Plane && fit.Kind != shape.Cone: // which fan out
		uv, closes = Ring(p)
	}
	return uv, closes && flatten.Flips(p, uv) == 0
}

// relaxed flattens a patch, starting from its unfolding where that nearly closes.
func relaxed(ctx context.Context, p *mesh.Patch, uv []r2.Vec, near bool, s flatten.Settings) (flatten.Result, error) {
	if near && flatten.Flips(p, uv) == 0 {
		r, err := flatten.Isometric(ctx, p, uv, s)
		if err == nil && r.Flips == 0 {
			r.Method = "unfolded and relaxed"
			return r, nil
		}
	}
	return flatten.Flatten(ctx, p, s)
}

// LiesFlat tells whether a patch can be laid down as it is, without a further
// cut and without more stretch than flattening takes out again.
func LiesFlat(p *mesh.Patch, fit shape.Fit) bool {
	if fit.Kind == shape.Plane && isFlat(p, fit.Axis) && flatten.Flips(p, Planar(p, fit.Axis)) == 0 {
		return true
	}
	if _, ok := wall(p, fit); ok {
		return true
	}
	uv, gap, ok := Rigid(p)
	return ok || gap <= repairable*math.Sqrt(p.Area()) && flatten.Flips(p, uv) == 0
}

// isFlat tells whether all of a patch lies in one plane, its noise aside; a plate
// that took its chamfers along does not.
func isFlat(p *mesh.Patch, n r3.Vec) bool {
	normals, areas := p.Mesh.FaceNormals(), p.Mesh.FaceAreas()
	var off, all float64
	for _, f := range p.Faces {
		all += areas[f]
		if r3.Dot(normals[f], n) < math.Cos(3*math.Pi/180) {
			off += areas[f]
		}
	}
	return off < 1e-3*all
}

// Planar projects a patch along n, the normal up and to the reader.
func Planar(p *mesh.Patch, n r3.Vec) []r2.Vec {
	u, v := mesh.Basis(n)
	uv := make([]r2.Vec, len(p.Pos))
	for i, q := range p.Pos {
		d := r3.Sub(q, p.Pos[0])
		uv[i] = r2.Vec{X: r3.Dot(d, u), Y: r3.Dot(d, v)}
	}
	return uv
}

// straightName says how a wall was laid straight.
func straightName(fit shape.Fit) string {
	switch {
	case fit.Kind == shape.Helix:
		return "along its thread"
	case turns(fit):
		return "turned"
	}
	return "straight, as a band"
}
