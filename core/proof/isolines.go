package proof

import (
	"math"

	"morvek/core/mesh"
)

// On is a place on the line from a corner to another of the same face: at the first for 0, at the other
// for 1. So it is known in space and on the sheet.
type On struct {
	From, To mesh.HalfedgeID
	At       float64
}

// Isoline is a line on which a field has a value, in one shell.
type Isoline struct {
	Level  float64
	Places []On // of one or more; those that follow each other lie in one triangle
}

// Isolines returns the lines on which a field has the values of its levels, level by level. The field
// is taken to be linear in the triangles of faces between the means at their points (weighted by area,
// each shell for itself), which is what marching triangles follows. Where a shell ends lines end.
func (f Field) Isolines() (out []Isoline) {
	at := f.corners()
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range at {
		if !math.IsNaN(v) {
			low, high = min(low, v), max(high, v)
		}
	}
	for _, level := range levels[f.Of] {
		if level > low && level < high {
			out = append(out, f.trace(at, level)...)
		}
	}
	return out
}

// corners is the field at every corner: the mean of the faces of its shell around its point.
func (f Field) corners() []float64 {
	m := f.mesh
	type spot struct {
		p     mesh.PointID
		shell int32
	}
	type sum struct{ value, area float64 }
	sums := map[spot]sum{}
	areas := m.FaceAreas()
	for g := range mesh.FaceID(m.NumFaces()) {
		if v := f.Values[g]; !math.IsNaN(v) && areas[g] > 0 {
			for _, p := range m.FacePoints(g) {
				k := spot{p, f.shellOf(g)}
				s := sums[k]
				sums[k] = sum{s.value + areas[g]*v, s.area + areas[g]}
			}
		}
	}
	out := make([]float64, m.NumCorners())
	for h := range mesh.HalfedgeID(m.NumCorners()) {
		g := m.FaceOf(h)
		out[h] = math.NaN()
		if s := sums[spot{m.From(h), f.shellOf(g)}]; s.area > 0 && !math.IsNaN(f.Values[g]) {
			out[h] = s.value / s.area
		}
	}
	return out
}

// shellOf is the shell of a face, the same for all where the field goes on over seams.
func (f Field) shellOf(g mesh.FaceID) int32 {
	if f.Of == OfExposure {
		return 0
	}
	return f.shell[g]
}

// side is an edge of triangles as the points it ends at, and the shell.
type side struct {
	a, b  mesh.PointID
	shell int32
}

// piece is the line through a triangle.
type piece struct {
	ends [2]On
	by   [2]side
	used bool
}

// trace joins the lines through triangles at one level.
func (f Field) trace(at []float64, level float64) (out []Isoline) {
	m := f.mesh
	var pieces []piece
	meet := map[side][]int{}
	for i, c := range m.Triangles().Corner {
		var p piece
		n := 0
		for k := range 3 {
			a, b := c[k], c[(k+1)%3]
			x, y := at[a], at[b]
			if math.IsNaN(x) || math.IsNaN(y) {
				n = 0
				break
			}
			if (x < level) != (y < level) && n < 2 {
				p.ends[n] = On{a, b, (level - x) / (y - x)}
				p.by[n] = side{min(m.From(a), m.From(b)), max(m.From(a), m.From(b)), f.shellOf(m.Triangles().Face[i])}
				n++
			}
		}
		if n == 2 {
			for _, s := range p.by {
				meet[s] = append(meet[s], len(pieces))
			}
			pieces = append(pieces, p)
		}
	}
	for i := range pieces {
		if !pieces[i].used {
			out = append(out, Isoline{level, follow(pieces, meet, i)})
		}
	}
	return out
}

// follow joins the pieces of a line, both ways from one of them.
func follow(pieces []piece, meet map[side][]int, first int) []On {
	pieces[first].used = true
	back, on := walk(pieces, meet, first, 0), walk(pieces, meet, first, 1)
	out := make([]On, 0, len(back)+len(on))
	for i := len(back) - 1; i >= 0; i-- {
		out = append(out, back[i])
	}
	return append(out, on...)
}

// walk goes on from one end of a piece to the next pieces that are not used, and marks them. Both ends
// of each piece are told: where lines pass from a triangle to the next they have a place in both.
func walk(pieces []piece, meet map[side][]int, at, end int) []On {
	out := []On{pieces[at].ends[end]}
	for {
		next := -1
		for _, k := range meet[pieces[at].by[end]] {
			if !pieces[k].used {
				next = k
				break
			}
		}
		if next < 0 {
			return out
		}
		far := 0
		if pieces[next].by[0] == pieces[at].by[end] {
			far = 1
		}
		pieces[next].used = true
		out = append(out, pieces[next].ends[1-far], pieces[next].ends[far])
		at, end = next, far
	}
}
