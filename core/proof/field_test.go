package proof_test

import (
	"math"
	"reflect"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
)

// squeezed is a flat square of n by n faces that lies on the sheet the denser the further along X: its
// area there is (1+x) times that in space, times a constant.
func squeezed(t *testing.T, n int, at func(u, v float64) r3.Vec) (*mesh.Mesh, *atlas.Map) {
	t.Helper()
	m := meshtest.Grid(t, n, n, at)
	flat := meshtest.Grid(t, n, n, func(u, v float64) r3.Vec { return r3.Vec{X: u, Y: v} })
	c := atlas.New(m)
	for h, p := range m.CornerPoint {
		q := flat.Points[p]
		c.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.1 + 0.3*(q.X+q.X*q.X/2), Y: 0.1 + 0.3*q.Y})
	}
	for f := range mesh.FaceID(m.NumFaces()) {
		c.SetMapped(f, true)
	}
	return m, c
}

func plane(u, v float64) r3.Vec { return r3.Vec{X: u, Y: v} }

func field(t *testing.T, m *mesh.Mesh, c *atlas.Map, of proof.Measured) proof.Field {
	t.Helper()
	f, ok := measure(m, c, nil).Field(m, of, nil)
	if !ok {
		t.Fatalf("%s is not measured", of)
	}
	return f
}

// place is where a place is on the square.
func place(m *mesh.Mesh, o proof.On) r3.Vec {
	a, b := m.Points[m.From(o.From)], m.Points[m.From(o.To)]
	return r3.Add(a, r3.Scale(o.At, r3.Sub(b, a)))
}

// Iso-lines lie where the value is known to be, each one line from border to border.
func TestIsolinesLieWhereTheValueIs(t *testing.T) {
	const n = 40
	m, c := squeezed(t, n, plane)
	const mean = 1.5 // of 1+x
	lines := field(t, m, c, proof.OfArea).Isolines()
	var found []float64
	for _, l := range lines {
		found = append(found, l.Level)
		want := mean/l.Level - 1
		low, high := math.Inf(1), math.Inf(-1)
		for i, o := range l.Places {
			p := place(m, o)
			if math.Abs(p.X-want) > 0.6/n {
				t.Fatalf("at %g a place lies at x = %.4f, it should be %.4f", l.Level, p.X, want)
			}
			if i > 0 && i%2 == 0 && r3.Norm(r3.Sub(p, place(m, l.Places[i-1]))) > 1e-9 {
				t.Fatalf("at %g the line is torn", l.Level)
			}
			low, high = min(low, p.Y), max(high, p.Y)
		}
		if low > 1e-9 || high < 1-1e-9 {
			t.Errorf("the line at %g goes from %g to %g", l.Level, low, high)
		}
	}
	if want := []float64{0.8, 0.9, 0.95, 1.05, 1.1, 1.25}; !slices.Equal(found, want) {
		t.Errorf("lines at %v, want one at each of %v", found, want)
	}
}

// The model may be turned and scaled; what is true has no lines and no bad places.
func TestFieldsDoNotAskHowTheModelStands(t *testing.T) {
	m, c := squeezed(t, 12, plane)
	turned, d := squeezed(t, 12, func(u, v float64) r3.Vec {
		return r3.Scale(250, r3.NewRotation(1, r3.Vec{X: 1, Y: 2, Z: 3}).Rotate(r3.Vec{X: u, Y: v}))
	})
	for _, of := range []proof.Measured{proof.OfStretch, proof.OfArea, proof.OfDensity} {
		a, b := field(t, m, c, of), field(t, turned, d, of)
		for i := range a.Values {
			if math.Abs(a.Values[i]-b.Values[i]) > 1e-6 {
				t.Fatalf("%s of face %d is %g and %g", of, i, a.Values[i], b.Values[i])
			}
		}
		if len(a.Isolines()) != len(b.Isolines()) || !reflect.DeepEqual(a.Worst(10), field(t, m, c, of).Worst(10)) {
			t.Errorf("%s: other lines or places", of)
		}
	}
	flat, e := two(t)
	for _, of := range []proof.Measured{proof.OfStretch, proof.OfArea, proof.OfDensity, proof.OfGrain} {
		if f := field(t, flat, e, of); len(f.Isolines()) != 0 || len(f.Worst(10)) != 0 {
			t.Errorf("a true map has %d lines, %v of %s", len(f.Isolines()), f.Worst(10), of)
		}
	}
	r := measure(flat, e, nil)
	for _, of := range []proof.Measured{"beauty", proof.OfExposure} {
		if _, ok := r.Field(flat, of, nil); ok {
			t.Errorf("%q is measured", of)
		}
	}
	seen, _ := r.Field(flat, proof.OfExposure, []float32{0.2, 0.8})
	if seen.Values[1] != float64(float32(0.8)) || len(seen.Worst(3)) != 0 {
		t.Errorf("exposure: %+v", seen)
	}
}

// The worst places come first, are whole, apart from each other, and no more than asked.
func TestTheWorstPlaces(t *testing.T) {
	const n = 12
	m, c := squeezed(t, n, plane)
	f := field(t, m, c, proof.OfArea)
	all := f.Worst(10)
	if len(all) < 2 || len(all[0].Faces) < n || len(f.Worst(1)) != 1 {
		t.Fatalf("%+v", all)
	}
	low, high := slices.Min(f.Values), slices.Max(f.Values)
	if v := all[0].Value; v != low && v != high {
		t.Errorf("the worst is %g; values go from %g to %g", v, low, high)
	}
	seen := map[mesh.FaceID]bool{}
	last := math.Inf(1)
	for _, w := range all {
		bad := math.Abs(math.Log(w.Value))
		if bad > last {
			t.Errorf("%g comes after a better one", w.Value)
		}
		last = bad
		for _, g := range w.Faces {
			if seen[g] || math.Abs(math.Log(f.Values[g])) > bad {
				t.Fatalf("face %d is in two places, or worse than its place", g)
			}
			seen[g] = true
		}
	}
}
