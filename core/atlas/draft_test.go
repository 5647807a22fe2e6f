package atlas_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

// scribble changes a draft at random, and some of it back again.
func scribble(r *rand.Rand, c *atlas.Map) {
	m := c.Mesh()
	for range r.IntN(12) {
		switch r.IntN(4) {
		case 0:
			c.SetCut(mesh.EdgeID(r.IntN(m.NumEdges())), r.IntN(2) == 0)
		case 1:
			c.SetMapped(mesh.FaceID(r.IntN(m.NumFaces())), r.IntN(2) == 0)
		case 2:
			h := mesh.HalfedgeID(r.IntN(m.NumCorners()))
			was := c.At(h)
			c.Put(h, r2.Vec{X: r.Float64(), Y: math.Copysign(0, -1)})
			if r.IntN(2) == 0 {
				c.Put(h, was)
			}
		default:
			c.Unmap(mesh.FaceID(r.IntN(m.NumFaces())))
		}
	}
}

func equal(a, b *atlas.Map) bool {
	for h, q := range a.UV() {
		p := b.At(mesh.HalfedgeID(h))
		if math.Float64bits(p.X) != math.Float64bits(q.X) || math.Float64bits(p.Y) != math.Float64bits(q.Y) {
			return false
		}
	}
	for f, is := range a.Mapped() {
		if b.IsMapped(mesh.FaceID(f)) != is {
			return false
		}
	}
	for e, is := range a.Cuts() {
		if b.IsCut(mesh.EdgeID(e)) != is {
			return false
		}
	}
	return true
}

// However many drafts lie between two maps: what differs leads there and back to the bit,
// is what a comparison of everything finds, and the earlier map never changes. The shells
// are those a map has that knows nothing of its past.
func TestDiffLeadsThereAndBack(t *testing.T) {
	m := meshtest.Grid(t, 6, 5, func(u, v float64) r3.Vec { return r3.Vec{X: u, Y: v} })
	for seed := range uint64(200) {
		r := rand.New(rand.NewPCG(seed, 1))
		first := atlas.FromSource(m, 1)
		scribble(r, first)
		old := first.Freeze()
		kept := old.Draft()
		scribble(r, kept)
		before := old.Draft().Freeze()
		now := kept.Freeze()
		for range r.IntN(3) {
			d := now.Draft()
			scribble(r, d)
			if r.IntN(2) == 0 {
				d.Shells()
			}
			now = d.Freeze()
		}
		diff := atlas.Diff(old, now)
		there, back := old.Draft(), now.Draft()
		there.Apply(diff, false)
		back.Apply(diff, true)
		if !equal(there, now) || !equal(back, old) || !equal(before, old) {
			t.Fatalf("seed %d: %+v does not lead from one to the other", seed, diff)
		}
		fresh, ok := atlas.Of(m, now.UV(), now.Mapped(), now.Cuts())
		if !ok {
			t.Fatal("does not fit its own mesh")
		}
		whole := atlas.Diff(old, fresh)
		if len(whole.Corners) != len(diff.Corners) || len(whole.Cut) != len(diff.Cut) || len(whole.Mapped) != len(diff.Mapped) {
			t.Fatalf("seed %d: %+v, by comparing all %+v", seed, diff, whole)
		}
		a, ofA := now.Shells()
		b, ofB := fresh.Shells()
		if len(a) != len(b) {
			t.Fatalf("seed %d: %d shells, searched anew %d", seed, len(a), len(b))
		}
		for f := range ofA {
			if ofA[f] != ofB[f] {
				t.Fatalf("seed %d: face %d is of shell %d, searched anew of %d", seed, f, ofA[f], ofB[f])
			}
		}
	}
}

func TestWhatIsFrozenDoesNotChange(t *testing.T) {
	_, c := strip(t, 2)
	frozen := c.Freeze()
	d := frozen.Draft()
	if d.Freeze() != frozen {
		t.Error("a draft that changed nothing is another map")
	}
	defer func() {
		if recover() == nil {
			t.Error("a frozen map was changed")
		}
	}()
	frozen.Put(0, r2.Vec{X: 7})
}

// A shell that only moves is found where it was, without a search.
func TestShellsOfWhatOnlyMovedStay(t *testing.T) {
	_, c := strip(t, 4)
	old := c.Freeze()
	shells, of := old.Shells()
	d := old.Draft()
	d.Transform(shells[0].Faces, func(q r2.Vec) r2.Vec { return r2.Vec{X: q.X + 0.25, Y: q.Y} })
	now, nowOf := d.Freeze().Shells()
	if &now[0] != &shells[0] || &nowOf[0] != &of[0] {
		t.Error("they were searched anew")
	}
}
