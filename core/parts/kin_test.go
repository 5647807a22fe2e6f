package parts_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/parts"
)

// pairOf puts a mesh and what became of it beside each other and returns both as one with the faces of each.
func pairOf(t *testing.T, m *mesh.Mesh, other *mesh.Mesh) (both *mesh.Mesh, a, b []mesh.FaceID) {
	t.Helper()
	both = meshtest.Together(t, m, other)
	for f := range mesh.FaceID(both.NumFaces()) {
		if int(f) < m.NumFaces() {
			a = append(a, f)
		} else {
			b = append(b, f)
		}
	}
	return both, a, b
}

// bracket is a thing that has no symmetry.
func bracket(t *testing.T) *mesh.Mesh {
	return meshtest.Prism(t, 1, r2.Vec{}, r2.Vec{X: 5}, r2.Vec{X: 5, Y: 1}, r2.Vec{X: 2, Y: 1.3}, r2.Vec{X: 1, Y: 4}, r2.Vec{Y: 4})
}

func TestKinOfOtherSizes(t *testing.T) {
	turn := r3.NewRotation(2.1, r3.Vec{X: 1, Y: 2, Z: -0.5})
	away := func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 40}) }
	vase := meshtest.Lathe(t, 20, r2.Vec{X: 1}, r2.Vec{X: 1.4, Y: 1}, r2.Vec{X: 0.8, Y: 2}, r2.Vec{X: 1, Y: 2.5})
	for name, c := range map[string]struct {
		of       *mesh.Mesh
		to       func(r3.Vec) r3.Vec
		mirrored bool
	}{
		"larger":            {bracket(t), func(p r3.Vec) r3.Vec { return r3.Scale(2.5, p) }, false},
		"longer and turned": {bracket(t), func(p r3.Vec) r3.Vec { return turn.Rotate(r3.Vec{X: 1.7 * p.X, Y: p.Y, Z: 0.8 * p.Z}) }, false},
		"a mirror image":    {bracket(t), func(p r3.Vec) r3.Vec { return turn.Rotate(r3.Vec{X: 3 * p.X, Y: 2 * p.Y, Z: 2 * p.Z}) }, true},
		"round":             {vase, func(p r3.Vec) r3.Vec { return r3.Vec{X: 2 * p.X, Y: 3 * p.Y, Z: 2 * p.Z} }, false},
		"a tilted round":    {vase, func(p r3.Vec) r3.Vec { return r3.NewRotation(0.3, r3.Vec{X: 1}).Rotate(r3.Scale(2, p)) }, false},
	} {
		base, to := c.of, func(p r3.Vec) r3.Vec { return away(c.to(p)) }
		other := meshtest.Mapped(t, base, to)
		if c.mirrored {
			other = meshtest.Mapped(t, meshtest.Reflected(t, base), to)
			inner := to
			to = func(p r3.Vec) r3.Vec { return inner(r3.Vec{X: -p.X, Y: p.Y, Z: p.Z}) }
		}
		m, a, b := pairOf(t, base, other)
		k, ok := parts.NewFamily(m, a).Kin(b)
		if !ok {
			t.Errorf("%s: no kin", name)
			continue
		}
		if k.Mirrored != c.mirrored || len(k.Corner) == 0 {
			t.Errorf("%s: mirrored %v", name, k.Mirrored)
		}
		for h, g := range k.Corner {
			p := m.Points[m.From(h)]
			if d := r3.Norm(r3.Sub(m.Points[m.From(g)], to(p))); d > 1e-6 {
				t.Errorf("%s: a corner at %v lies %g beside its like", name, p, d)
				break
			}
		}
		for e, g := range k.Edges(m) {
			f, o := m.EdgeFaces(e)
			p, q := m.EdgeFaces(g)
			if (f == mesh.None || o == mesh.None) != (p == mesh.None || q == mesh.None) {
				t.Errorf("%s: a border edge answers one within", name)
				break
			}
		}
	}
}

func TestWhatIsNoKin(t *testing.T) {
	can := func(n int) *mesh.Mesh { return meshtest.Lathe(t, n, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 2}) }
	far := func(m *mesh.Mesh) *mesh.Mesh {
		return meshtest.Mapped(t, m, func(p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 30}) })
	}
	hollow := meshtest.Prism(t, 1, r2.Vec{}, r2.Vec{X: 5}, r2.Vec{X: 5, Y: 1}, r2.Vec{X: 2, Y: 0.2}, r2.Vec{X: 1, Y: 4}, r2.Vec{Y: 4})
	round := meshtest.Prism(t, 1, r2.Vec{}, r2.Vec{X: 4}, r2.Vec{X: 5, Y: 2}, r2.Vec{X: 4, Y: 4}, r2.Vec{X: 1, Y: 4.5}, r2.Vec{Y: 4})
	for name, c := range map[string][2]*mesh.Mesh{"of more faces": {can(16), far(can(18))}, "bent the other way": {hollow, far(round)}} {
		m, a, b := pairOf(t, c[0], c[1])
		if _, ok := parts.NewFamily(m, a).Kin(b); ok {
			t.Errorf("%s: it is kin", name)
		}
	}
}

func TestDirectionsTurnWithKin(t *testing.T) {
	turn := r3.NewRotation(1.2, r3.Vec{X: 1, Y: 1, Z: 2})
	m, a, b := pairOf(t, bracket(t), meshtest.Mapped(t, bracket(t), func(p r3.Vec) r3.Vec { return r3.Add(turn.Rotate(r3.Scale(3, p)), r3.Vec{X: 40}) }))
	k, ok := parts.NewFamily(m, a).Kin(b)
	if !ok {
		t.Fatal("no kin")
	}
	v := r3.Unit(r3.Vec{X: 1, Y: 0.3, Z: -2})
	if d := r3.Norm(r3.Sub(k.Turned(m, v), turn.Rotate(v))); d > 1e-6 || math.IsNaN(d) {
		t.Errorf("it points %g beside", d)
	}
}
