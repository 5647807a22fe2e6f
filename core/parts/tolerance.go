package parts

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// tolerance says how exactly a mesh keeps to its shapes.
type tolerance struct {
	noise float64 // spread of the points about the true surface, model units
	least float64 // distance below which two places are one, model units
	digit float64 // what the last digit of the file rounds away at the most, model units; 0 for nothing
}

// newTolerance measures the noise of a mesh, or takes what was asked for:
// relative is a share of the diagonal, 0 to measure.
func newTolerance(m *mesh.Mesh, relative float64) tolerance {
	d := m.Diagonal()
	t := tolerance{noise: relative * d, least: 2e-6 * d, digit: lastDigit(m.Points)}
	if relative <= 0 {
		t.noise = min(measureNoise(m, t.digit), 5e-4*d)
		if t.noise > cleanShare*d {
			if n := sampledNoise(m); n < t.noise/3 { // else it is as good as told
				t.noise = n
			}
		}
		if t.noise < 2*t.digit {
			t.noise = t.digit / math.Sqrt(3) // what is rounded spreads evenly
		}
	}
	return t
}

// measureNoise looks at pairs of neighbouring triangles: how far the far corner
// of one lies from the plane of the other, against what noise of one in all four corners
// would make of it. Machine parts are made of planes, and of facets and quads that are flat,
// so on a clean mesh a good share of the pairs is exactly flat; the lower sixth of these
// tells the noise. Where more are flat, or fewer than that takes, it is told by where there are
// hardly more: what is bent by more than noise is bent by any amount. What many pairs are off by alike, but for the last
// digit, is no noise: the twist of teeth, say.
func measureNoise(m *mesh.Mesh, digit float64) float64 {
	t := m.Triangles()
	var off []float64
	flat := 0.0 // how many pairs should be flat: diagonals of quads, every third edge between triangles
	pos := func(h mesh.HalfedgeID) r3.Vec { return m.Points[m.CornerPoint[h]] }
	add := func(a, b, c, p r3.Vec, share float64) {
		if d, ok := outOfPlane(a, b, c, p); ok {
			off = append(off, d)
			flat += share
		}
	}
	for f := range m.NumFaces() {
		lo, hi := t.FaceStart[f], t.FaceStart[f+1]
		if hi-lo == 2 { // across the diagonal of a quad
			a, b := t.Corner[lo], t.Corner[lo+1]
			for _, c := range b {
				if !slices.Contains(a[:], c) {
					add(pos(a[0]), pos(a[1]), pos(a[2]), pos(c), 1)
				}
			}
		}
		if hi-lo != 1 {
			continue
		}
		first, last := m.Corners(mesh.FaceID(f))
		for h := first; h < last; h++ {
			if o := m.Twin(h); o > h {
				if a, b := m.Corners(m.FaceOf(o)); b-a == 3 {
					add(pos(first), pos(first+1), pos(first+2), pos(m.Prev(o)), 1./3)
				}
			}
		}
	}
	if len(off) < 12 {
		return 0
	}
	slices.Sort(off)
	all := float64(len(off))
	if off = withoutRuns(off, 4*digit, 1e-12*m.Diagonal()); len(off) < 12 {
		return 0
	}
	flat *= float64(len(off)) / all
	noise := off[int(flat/6)] / 0.21 // a sixth of offsets spread by σ lie below 0.21σ
	exact, _ := slices.BinarySearch(off, 1e-12*m.Diagonal())
	for n := max(12, int(flat/50)); exact+n < len(off) && off[exact+n] < flatterBy*noise; n += 1 + n/16 {
		at := off[exact+n]
		if below, _ := slices.BinarySearch(off, 3*at); 2*(below-exact) < 3*n { // 0.68 of them lie below σ, all below 3σ
			return at
		}
	}
	return noise
}

// What is alike: so close, as a share, and so many of a number of values, at least and as a share.
const (
	alikeOff   = 1e-4
	alikeRun   = 8
	alikeShare = 1. / 200
)

// withoutRuns leaves out of ascending values those of which there are many alike, by a share or by a length, but for
// those that are nothing.
func withoutRuns(values []float64, digit, nothing float64) (out []float64) {
	least := max(alikeRun, int(alikeShare*float64(len(values))))
	for i := 0; i < len(values); {
		j := i + 1
		for j < len(values) && values[j] <= values[i]+max(alikeOff*values[i], digit) {
			j++
		}
		if values[i] <= nothing+digit || j-i < least {
			out = append(out, values[i:j]...)
		}
		i = j
	}
	return out
}

// flatterBy is how much larger the noise may be than a sixth of the pairs tells: all edges between
// triangles may be flat, not every third.
const flatterBy = 4

// outOfPlane is how far p lies from the plane of a, b and c, as a multiple of what its spread is where
// all four are spread by one; ok is false where they have no plane.
func outOfPlane(a, b, c, p r3.Vec) (d float64, ok bool) {
	n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
	l := r3.Norm2(n)
	if l == 0 {
		return 0, false
	}
	u := r3.Dot(r3.Cross(r3.Sub(b, p), r3.Sub(c, p)), n) / l
	v := r3.Dot(r3.Cross(r3.Sub(c, p), r3.Sub(a, p)), n) / l
	w := 1 - u - v
	return math.Abs(r3.Dot(r3.Sub(p, a), n)) / math.Sqrt(l*(1+u*u+v*v+w*w)), true
}

// coplanar tells whether face f, which may be tilted by so much, lies in the plane through c with
// normal n. Faces without area lie in any plane.
func (t tolerance) coplanar(m *mesh.Mesh, n, c r3.Vec, f mesh.FaceID, tilt float64) bool {
	if tilt == math.Pi/2 {
		return true
	}
	if n == (r3.Vec{}) || mesh.Angle(n, m.FaceNormals()[f]) > facetAngle+tilt {
		return false
	}
	for _, p := range m.FacePoints(f) {
		if math.Abs(r3.Dot(r3.Sub(m.Points[p], c), n)) > 2*t.slack() {
			return false
		}
	}
	return true
}

// slack is how far a corner may be off the plane of its facet.
func (t tolerance) slack() float64 { return t.least + 3*t.noise }

// tilt is the angle by which a face may be tilted since its corners are not where they should be; a right angle
// where it has no area.
func (t tolerance) tilt(m *mesh.Mesh, f mesh.FaceID) float64 {
	a := m.FaceAreas()[f]
	var longest float64
	lo, hi := m.Corners(f)
	for h := lo; h < hi; h++ {
		longest = max(longest, r3.Norm(m.EdgeVec(h)))
	}
	if a <= longest*longest*1e-9 {
		return math.Pi / 2
	}
	return math.Atan(t.slack() * longest / a)
}

// strayNoise is how far noise moves any corner of a mesh, times its spread: one of fifteen thousand goes further.
const strayNoise = 4

// near is the distance a corner may be off a shape. Sweeps and bends are
// modelled with rings that are mitred one way or another, so a torus is held
// less tightly than what is turned or drawn.
func (t tolerance) near(f shape.Fit) float64 {
	share, size := 1e-3, f.Radius
	if f.Kind == shape.Torus {
		share, size = 8e-3, min(f.Radius, f.Major)
	}
	return max(strayNoise*t.noise, share*size, t.least)
}

const normalSlack = 1.2 * math.Pi / 180

// leaning is the angle by which a facet may lean against a shape: what noise
// does to it, and a share of its own bend because triangles are not centred.
func (f *facet) leaning() float64 { return normalSlack + f.slack + 0.35*f.bend }

// leaningOn is how far a facet that is off by an angle may lean against a shape with a distance:
// what a cut left of it may be from the rim of its column, half a bend from the middle, and what has all its
// corners on the shape may lie there as it likes.
func (g *model) leaningOn(f *shape.Fit, i int, off float64) float64 {
	c := &g.list[i]
	lean, wide, most := c.leaning(), normalSlack+c.slack+0.5*c.bend, normalSlack+c.slack+cornerLean*c.bend
	if off <= lean || off > most { // else it makes no difference
		return lean
	}
	if off <= wide {
		for k := c.firm; k < len(c.knots); k++ {
			if g.onChord(f, i, k) {
				return wide
			}
		}
	}
	if f.Kind != shape.Plane && g.inscribed(f, i) {
		return most
	}
	return lean
}

// cornerLean is how far a facet between corners on a shape may lean against it, in bends: triangles that
// are in no rows lie askew.
const cornerLean = 1

// exactly is how far corners may be off a shape they lie on, where it is as true as the mesh or truer.
func (g *model) exactly(f *shape.Fit) float64 {
	return max(strayNoise*min(g.tol.noise, f.Error), exactShare*f.Radius, exactFile*g.diag)
}

// inscribed tells whether all corners of a facet lie on a shape, as nearly as the mesh and the fit are true and far
// nearer than the middle of the facet does.
func (g *model) inscribed(f *shape.Fit, i int) bool {
	c := &g.list[i]
	near := g.exactly(f)
	if near > inscribedShare*math.Sqrt(c.area)*c.bend {
		return false
	}
	for _, p := range c.knots {
		if math.Abs(f.Distance(g.mesh.Points[p])) > near {
			return false
		}
	}
	return true
}

// inscribedShare is a twelfth of what the middle of a facet is off, of its size times its bend.
const inscribedShare = 0.01
