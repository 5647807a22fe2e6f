package atlas

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/planar"
)

// IsFree tells whether faces lie on the first so many tiles and on no others, with some
// padding and margin in units of the sheet. What waits on the rack always does.
func (c *Map) IsFree(faces []mesh.FaceID, tiles int, pad, margin float64) bool {
	own := c.Box(faces)
	if own.Max.Y <= 0 {
		return true
	}
	const slack = 1e-9
	if own.Min.X < margin-slack || own.Min.Y < margin-slack || own.Max.X > float64(tiles)-margin+slack || own.Max.Y > 1-margin+slack {
		return false
	}
	mine := make(map[mesh.FaceID]bool, len(faces))
	for _, f := range faces {
		mine[f] = true
	}
	shells, _ := c.Shells()
	segs := c.Border(faces, 0)
	tris := c.Triangles(faces)
	n := len(tris)
	for i, sh := range shells {
		if mine[sh.Faces[0]] {
			continue
		}
		b := c.Box(sh.Faces)
		if b.Min.X > own.Max.X+pad || own.Min.X > b.Max.X+pad || b.Min.Y > own.Max.Y+pad || own.Min.Y > b.Max.Y+pad {
			continue
		}
		segs = append(segs, c.Border(sh.Faces, int32(i+1))...)
		tris = append(tris, c.Triangles(sh.Faces)...)
	}
	_, close := planar.MinGap(segs, pad*(1-1e-9))
	if pad > 0 && slices.ContainsFunc(close, func(g planar.Gap) bool { return segs[g.A].Group == 0 || segs[g.B].Group == 0 }) {
		return false
	}
	return !slices.ContainsFunc(planar.Overlaps(tris, 1e-4), func(o planar.Overlap) bool { return (int(o.A) < n) != (int(o.B) < n) })
}

// InItsPlace lays a patch where its faces lay in a map before, if it stays on the sheet and
// lies on no other; otherwise it leaves the map as it is. That it comes close to another is
// left to the proof to say.
func (c *Map) InItsPlace(before *Map, tiles int, p *mesh.Patch, uv []r2.Vec) bool {
	for _, f := range p.Faces {
		if !before.mapped[f] {
			return false
		}
	}
	moved := slices.Clone(uv)
	CentreOn(before, p, moved)
	was := make([]r2.Vec, len(p.Corner))
	for i, h := range p.Corner {
		was[i] = c.uv[h]
	}
	var fresh []mesh.FaceID
	for _, f := range p.Faces {
		if !c.mapped[f] {
			fresh = append(fresh, f)
		}
	}
	c.Set(p, moved)
	if b := c.Box(p.Faces); b.Max.Y > 0 && c.IsFree(p.Faces, tiles, 0, 0) {
		return true
	}
	for i, h := range p.Corner {
		c.Put(h, was[i])
	}
	for _, f := range fresh {
		c.SetMapped(f, false)
	}
	return false
}

// InItsBox lays a patch where its faces lay in a map before if it takes no more room than
// they did; otherwise it leaves the map as it is. It is quick, for many shells.
func (c *Map) InItsBox(before *Map, p *mesh.Patch, uv []r2.Vec) bool {
	moved := slices.Clone(uv)
	CentreOn(before, p, moved)
	const slack = 1e-5
	now, old := planar.Bounds(moved...), before.Box(p.Faces)
	if now.Min.X < old.Min.X-slack || now.Min.Y < old.Min.Y-slack || now.Max.X > old.Max.X+slack || now.Max.Y > old.Max.Y+slack {
		return false
	}
	c.Set(p, moved)
	return true
}

// CentreOn moves coordinates of a patch to where its faces lie in a map, to the middle of
// the sheet if nowhere.
func CentreOn(before *Map, p *mesh.Patch, uv []r2.Vec) {
	var shift r2.Vec
	if slices.ContainsFunc(p.Faces, func(f mesh.FaceID) bool { return !before.mapped[f] }) {
		b := planar.Bounds(uv...)
		shift = r2.Sub(r2.Vec{X: 0.5, Y: 0.5}, b.Middle())
	} else {
		for i, q := range before.Get(p) {
			shift = r2.Add(shift, r2.Scale(1/float64(len(uv)), r2.Sub(q, uv[i])))
		}
	}
	for i := range uv {
		uv[i] = r2.Add(uv[i], shift)
	}
}
