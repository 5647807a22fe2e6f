// Package models builds the models of the demo workshop in code, the way people
// model: clean quads with support loops, bevels, polygon caps. Everything is
// deterministic and made up.
package models

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// frame places a piece: origin and three axes, Y along the axis of lathes and
// extrusions.
type frame struct{ o, x, y, z r3.Vec }

func world() frame { return frame{x: r3.Vec{X: 1}, y: r3.Vec{Y: 1}, z: r3.Vec{Z: 1}} }

func (f frame) at(x, y, z float64) r3.Vec {
	return r3.Add(f.o, r3.Add(r3.Scale(x, f.x), r3.Add(r3.Scale(y, f.y), r3.Scale(z, f.z))))
}

func (f frame) moved(x, y, z float64) frame { f.o = f.at(x, y, z); return f }

// toward returns a frame at a point whose Y axis runs along dir.
func toward(o, dir r3.Vec) frame {
	y := r3.Unit(dir)
	x, _ := mesh.Basis(y)
	return frame{o: o, x: x, y: y, z: r3.Cross(x, y)}
}

// mirroredX returns the frame mirrored at the plane x = 0 of the world.
func (f frame) mirroredX() frame {
	flip := func(v r3.Vec) r3.Vec { v.X = -v.X; return v }
	return frame{flip(f.o), flip(f.x), flip(f.y), flip(f.z)}
}

// righthanded tells whether faces keep their winding in this frame.
func (f frame) righthanded() bool { return r3.Dot(r3.Cross(f.x, f.y), f.z) > 0 }

// kit collects pieces into a mesh and notes what each face truly is.
type kit struct {
	b      *mesh.Builder
	flip   bool
	truth  Truth
	now    int32 // true piece of the faces being added
	known  map[[3]int64]mesh.PointID
	turned TruePiece // what a smooth profile is, for the next lathes
}

func newKit() *kit { return &kit{b: mesh.NewBuilder(), now: Anything} }

// weld returns the point at a place, the same one each time within a piece.
func (k *kit) weld(p r3.Vec) mesh.PointID {
	key := [3]int64{int64(math.Round(p.X * 1e7)), int64(math.Round(p.Y * 1e7)), int64(math.Round(p.Z * 1e7))}
	id, ok := k.known[key]
	if !ok {
		id = k.b.Point(p)
		k.known[key] = id
	}
	return id
}

// begin starts a piece: an object with one material, wound for its frame.
func (k *kit) begin(object, material string, f frame) {
	k.b.Object(object)
	k.b.Material(material)
	k.b.Smoothing("1")
	k.flip = !f.righthanded()
	k.now = Anything
	k.known = map[[3]int64]mesh.PointID{}
}

func (k *kit) face(p ...mesh.PointID) {
	// Drop doubled neighbours, so that rings may collapse to a point.
	q := p[:0:0]
	for i, v := range p {
		if v != p[(i+len(p)-1)%len(p)] {
			q = append(q, v)
		}
	}
	if len(q) < 3 {
		return
	}
	if k.flip {
		for i, j := 0, len(q)-1; i < j; i, j = i+1, j-1 {
			q[i], q[j] = q[j], q[i]
		}
	}
	k.b.Face(q...)
	k.truth.Piece = append(k.truth.Piece, k.now)
}

// rings joins rows of points with quads; closed rows wrap around. Rows follow
// each other so that along × around points outwards.
func (k *kit) rings(rows [][]mesh.PointID, closed bool) {
	for r := 0; r+1 < len(rows); r++ {
		a, b := rows[r], rows[r+1]
		n := len(a)
		last := n
		if !closed {
			last = n - 1
		}
		for i := range last {
			j := (i + 1) % n
			k.face(a[i], b[i], b[j], a[j])
		}
	}
}

func (k *kit) cap(row []mesh.PointID, reverse bool) {
	q := make([]mesh.PointID, len(row))
	for i, p := range row {
		if reverse {
			q[len(row)-1-i] = p
		} else {
			q[i] = p
		}
	}
	k.face(q...)
}

// lathe turns a profile of (radius, height) about the Y axis of f in n steps.
// A profile that begins or ends off the axis is closed by a polygon cap if
// asked; radius 0 gives a tip.
func (k *kit) lathe(object, material string, f frame, profile []r2.Vec, n int, capStart, capEnd bool) {
	k.begin(object, material, f)
	rows := make([][]mesh.PointID, len(profile))
	for r, p := range profile {
		rows[r] = make([]mesh.PointID, n)
		for i := range n {
			if p.X == 0 && i > 0 {
				rows[r][i] = rows[r][0]
				continue
			}
			s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			rows[r][i] = k.b.Point(f.at(p.X*s, p.Y, p.X*c))
		}
	}
	truths := k.turnedTruth(f, profile)
	for r := len(rows) - 2; r >= 0; r-- {
		k.now = truths[r]
		k.rings([][]mesh.PointID{rows[r+1], rows[r]}, true)
	}
	lid := func(step int) int32 { // a polygon lies in the plane of a flat ring beside it
		if t := truths[step]; t >= 0 && k.truth.Pieces[t].Kind == shape.Plane {
			return t
		}
		return k.planeTruth(f.y)
	}
	if capStart {
		k.now = lid(0)
		k.cap(rows[0], true)
	}
	if capEnd {
		k.now = lid(len(truths) - 1)
		k.cap(rows[len(rows)-1], false)
	}
}

// bevel replaces the inner corners of a profile by two points d away from them.
func bevel(profile []r2.Vec, d float64) []r2.Vec {
	out := []r2.Vec{profile[0]}
	for i := 1; i+1 < len(profile); i++ {
		p := profile[i]
		a, b := r2.Sub(profile[i-1], p), r2.Sub(profile[i+1], p)
		la, lb := r2.Norm(a), r2.Norm(b)
		if cos := r2.Dot(a, b) / (la * lb); cos < -0.9 {
			out = append(out, p) // nearly straight: no corner
			continue
		}
		out = append(out, r2.Add(p, r2.Scale(min(d, la/3)/la, a)), r2.Add(p, r2.Scale(min(d, lb/3)/lb, b)))
	}
	return append(out, profile[len(profile)-1])
}

// supported subdivides a profile: rows no longer than step, and a support row d
// away from each end of a run, as subdivision modelers place them.
func supported(profile []r2.Vec, step, d float64) []r2.Vec {
	out := []r2.Vec{profile[0]}
	for i := 0; i+1 < len(profile); i++ {
		a, b := profile[i], profile[i+1]
		l := r2.Norm(r2.Sub(b, a))
		at := func(t float64) r2.Vec { return r2.Add(a, r2.Scale(t/l, r2.Sub(b, a))) }
		if l > 4*d {
			out = append(out, at(d))
			inner := l - 2*d
			for n, j := int(math.Ceil(inner/step)), 1; j < n; j++ {
				out = append(out, at(d+inner*float64(j)/float64(n)))
			}
			out = append(out, at(l-d))
		}
		out = append(out, b)
	}
	return out
}

// sweep moves a closed section (x, z of a travelling frame) along a path of
// points; up keeps the frame from turning. Ends are closed by polygon caps.
func (k *kit) sweep(object, material string, path []r3.Vec, section []r2.Vec, up r3.Vec, mirrored bool) {
	k.begin(object, material, world())
	k.flip = mirrored
	rows := make([][]mesh.PointID, len(path))
	for i, p := range path {
		var in, out r3.Vec
		if i > 0 {
			in = r3.Unit(r3.Sub(p, path[i-1]))
		}
		if i+1 < len(path) {
			out = r3.Unit(r3.Sub(path[i+1], p))
		}
		t := r3.Unit(r3.Add(in, out))
		x := r3.Unit(r3.Cross(up, t))
		z := r3.Cross(x, t)
		miter := 1.0
		if i > 0 && i+1 < len(path) {
			miter = 1 / math.Sqrt((1+r3.Dot(in, out))/2)
		}
		rows[i] = make([]mesh.PointID, len(section))
		// The section widens across a bend so that the tube keeps its width.
		bend := r3.Sub(out, in)
		for j, s := range section {
			q := r3.Add(r3.Scale(s.X, x), r3.Scale(s.Y, z))
			if l := r3.Norm(bend); l > 1e-12 && miter > 1 {
				u := r3.Scale(1/l, bend)
				q = r3.Add(q, r3.Scale((miter-1)*r3.Dot(q, u), u))
			}
			rows[i][j] = k.b.Point(r3.Add(p, q))
		}
	}
	truths := k.sweptTruth(path, section)
	for r := range len(rows) - 1 {
		k.now = truths[r]
		k.rings(rows[r:r+2], true)
	}
	k.now = k.planeTruth(r3.Unit(r3.Sub(path[1], path[0])))
	k.cap(rows[0], false)
	k.now = k.planeTruth(r3.Unit(r3.Sub(path[len(path)-1], path[len(path)-2])))
	k.cap(rows[len(rows)-1], true)
}

func circle(r float64, n int) []r2.Vec {
	out := make([]r2.Vec, n)
	for i := range out {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		out[i] = r2.Vec{X: r * c, Y: r * s}
	}
	return out
}

// extrude raises a closed outline (x, z of f, counter-clockwise seen from +Y)
// from y=0 to y=h, with rows in between and rims bevelled by b.
func (k *kit) extrude(object, material string, f frame, outline []r2.Vec, h, b float64, rows int) {
	k.begin(object, material, f)
	type level struct{ y, inset float64 }
	levels := []level{{0, b}, {b, 0}}
	for i := 1; i < rows; i++ {
		levels = append(levels, level{b + (h-2*b)*float64(i)/float64(rows), 0})
	}
	levels = append(levels, level{h - b, 0}, level{h, b})
	if b == 0 {
		levels = levels[1 : len(levels)-1]
	}
	grid := make([][]mesh.PointID, len(levels))
	for i, l := range levels {
		for _, p := range inset(outline, l.inset) {
			grid[i] = append(grid[i], k.b.Point(f.at(p.X, l.y, p.Y)))
		}
	}
	truths := k.outlineTruth(f, outline)
	for r := range len(grid) - 1 {
		n := len(outline)
		for i := range n {
			k.now = truths[i]
			if b > 0 && (r == 0 || r == len(grid)-2) {
				k.now = Anything // the bevel goes with either side
			}
			j := (i + 1) % n
			k.face(grid[r][i], grid[r+1][i], grid[r+1][j], grid[r][j])
		}
	}
	k.now = k.planeTruth(f.y)
	k.cap(grid[0], false)
	k.now = k.planeTruth(f.y)
	k.cap(grid[len(grid)-1], true)
}

// inset moves the sides of a closed counter-clockwise outline inwards by d.
func inset(p []r2.Vec, d float64) []r2.Vec {
	if d == 0 {
		return p
	}
	out := make([]r2.Vec, len(p))
	n := len(p)
	for i := range p {
		a := r2.Unit(r2.Sub(p[i], p[(i+n-1)%n]))
		b := r2.Unit(r2.Sub(p[(i+1)%n], p[i]))
		na, nb := r2.Vec{X: -a.Y, Y: a.X}, r2.Vec{X: -b.Y, Y: b.X}
		m := r2.Add(na, nb)
		out[i] = r2.Add(p[i], r2.Scale(2*d/max(0.5, r2.Norm2(m)), m))
	}
	return out
}
