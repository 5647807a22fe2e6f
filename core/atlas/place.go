package atlas

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
	"morvek/core/mesh"
	"morvek/core/planar"
)

// Placing lays shells of a map one by one where there is room for them. It knows where all
// shells lie, so that each takes time in proportion to what lies near it; other changes of
// the map in between are not for it to see.
type Placing struct {
	c      *Map
	shell  []Shell
	of     []int32
	box    []planar.Box // per shell
	across int          // width of the sheet
}

// Placing finds where all shells lie now, on a sheet so many units wide.
func (c *Map) Placing(across int) *Placing {
	p := &Placing{c: c, across: across}
	p.shell, p.of = c.Shells()
	p.box = make([]planar.Box, len(p.shell))
	for i, s := range p.shell {
		p.box[i] = c.Box(s.Faces)
	}
	return p
}

// IsFree tells whether faces, whole shells of the map, lie on a sheet so wide and on no others,
// with some padding and margin in units of the sheet. What waits on the rack always does.
func (c *Map) IsFree(faces []mesh.FaceID, across int, pad, margin float64) bool {
	return c.Placing(across).isFree(faces, pad, margin)
}

func (p *Placing) isFree(faces []mesh.FaceID, pad, margin float64) bool {
	c := p.c
	own := c.Box(faces)
	if own.Max.Y <= 0 {
		return true
	}
	const slack = 1e-9
	if own.Min.X < margin-slack || own.Min.Y < margin-slack || own.Max.X > float64(p.across)-margin+slack || own.Max.Y > 1-margin+slack {
		return false
	}
	mine, touched := ids.Set(faces), map[int32]bool{}
	for _, f := range faces {
		touched[p.of[f]] = true
	}
	segs := c.Border(faces, 0)
	tris := c.Triangles(faces)
	n := len(tris)
	for i, sh := range p.shell {
		b := p.box[i]
		if !b.Within(own, pad) {
			continue
		}
		others := sh.Faces
		if touched[int32(i)] { // what is left of a shell that they were part of
			if others = slices.DeleteFunc(slices.Clone(others), func(f mesh.FaceID) bool { return mine[f] }); len(others) == 0 {
				continue
			}
		}
		if pad > 0 {
			segs = append(segs, c.Border(others, int32(i+1))...)
		}
		tris = append(tris, c.Triangles(others)...)
	}
	if pad > 0 {
		_, close := planar.GapsWithin(segs, pad*(1-1e-9))
		if slices.ContainsFunc(close, func(g planar.Gap) bool { return segs[g.A].Group == 0 || segs[g.B].Group == 0 }) {
			return false
		}
	}
	return len(tris) == n || !slices.ContainsFunc(planar.Overlaps(tris, 1e-4), func(o planar.Overlap) bool { return (int(o.A) < n) != (int(o.B) < n) })
}

// InItsPlace lays a patch where its faces lay in a map before, if it stays on the sheet and
// lies on no other; otherwise it leaves the map as it is. That it comes close to another is
// left to the proof to say.
func (p *Placing) InItsPlace(before *Map, patch *mesh.Patch, uv []r2.Vec) bool {
	c := p.c
	for _, f := range patch.Faces {
		if !before.mapped[f] {
			return false
		}
	}
	moved := slices.Clone(uv)
	CentreOn(before, patch, moved)
	was := make([]r2.Vec, len(patch.Corner))
	for i, h := range patch.Corner {
		was[i] = c.uv[h]
	}
	var fresh []mesh.FaceID
	for _, f := range patch.Faces {
		if !c.mapped[f] {
			fresh = append(fresh, f)
		}
	}
	c.Set(patch, moved)
	if b := c.Box(patch.Faces); b.Max.Y > 0 && p.isFree(patch.Faces, 0, 0) {
		p.moved(patch.Faces)
		return true
	}
	for i, h := range patch.Corner {
		c.Put(h, was[i])
	}
	for _, f := range fresh {
		c.SetMapped(f, false)
	}
	return false
}

// Put lays a patch in its place if there is room, else at the next free place of the rack.
func (p *Placing) Put(before *Map, rack *Rack, patch *mesh.Patch, uv []r2.Vec) {
	if p.InItsPlace(before, patch, uv) {
		return
	}
	rack.Put(uv)
	p.c.Set(patch, uv)
	p.moved(patch.Faces)
}

// moved notes where the shell of some faces lies now.
func (p *Placing) moved(faces []mesh.FaceID) {
	if k := p.of[faces[0]]; k != mesh.None {
		p.box[k] = p.c.Box(p.shell[k].Faces)
	}
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
