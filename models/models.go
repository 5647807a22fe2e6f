package models

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// Model is a model of the workshop.
type Model struct {
	Slug, Title, About string
	build              func(k *kit)
}

// Models lists the workshop's models, the hero first.
func Models() []Model {
	return []Model{
		{"storm-lamp", "Storm lamp", "Lamp with glass, cage and carrying handle", lamp},
		{"line-winch", "Line winch", "Winch with drum, gears, crank and guard", winch},
		{"survey-case", "Survey case", "Wooden case with irons, latches, strap and label", surveyCase},
		{"valve-block", "Valve block", "Block with crossing bores, elbow, flanges and hand wheel", valveBlock},
		{"wind-gauge", "Wind gauge", "Four cups on tapering arms over a turned mast", windGauge},
	}
}

// Revised are later revisions of models, by which one tries how much of a map is kept.
func Revised() []Model {
	return []Model{{"line-winch-b", "Line winch, revision B", "The same with a longer drum, one more rib and two bolts fewer", winchB}}
}

// Find returns a model by its slug.
func Find(slug string) (Model, error) {
	for _, m := range append(Models(), Revised()...) {
		if m.Slug == slug {
			return m, nil
		}
	}
	return Model{}, fmt.Errorf("there is no demo model %q", slug)
}

// Mesh builds the model.
func (m Model) Mesh() (*mesh.Mesh, error) {
	built, _, err := m.Known()
	return built, err
}

// Known builds the model together with what its faces truly are.
func (m Model) Known() (*mesh.Mesh, Truth, error) {
	k := newKit()
	m.build(k)
	built, err := k.b.Build()
	return built, k.truth, err
}

// JunkMap is the kind of map that comes along with models: everything seen from
// the front, squeezed together, backs on fronts.
func JunkMap(m *mesh.Mesh) *atlas.Map {
	c := atlas.New(m)
	lo, hi := m.Bounds()
	size := r3.Sub(hi, lo)
	for h, p := range m.CornerPoint {
		v := m.Points[p]
		c.Put(mesh.HalfedgeID(h), r2.Vec{X: 0.1 + 0.8*(v.X-lo.X)/math.Max(size.X, 1e-9), Y: 0.05 + 0.5*(v.Y-lo.Y)/math.Max(size.Y, 1e-9)})
	}
	for f := range c.Mapped() {
		c.SetMapped(mesh.FaceID(f), true)
	}
	return c
}

// Mast builds the Station mast: stacked turned sections with bolted flanges,
// about the given number of faces.
func Mast(faces int) (*mesh.Mesh, error) {
	k := newKit()
	v := func(r, y float64) r2.Vec { return r2.Vec{X: r, Y: y} }
	const perSection = 2400.0
	fine := math.Sqrt(max(1, float64(faces)/perSection/12))
	n := max(16, int(48*fine))
	y := 0.0
	for i := 0; k.b.NumFaces() < faces; i++ {
		r := 0.3 * math.Pow(0.985, float64(i))
		section := bevel([]r2.Vec{v(r, y), v(r*1.3, y), v(r*1.3, y+0.04), v(r, y+0.04), v(r*0.985, y+1.2), v(r*0.7, y+1.2)}, 0.006)
		k.lathe(fmt.Sprintf("section_%d", i+1), "painted_steel", world(), supported(section, 0.045/fine, 0.008), n, true, true)
		for b := range 12 {
			s, c := math.Sincos(2 * math.Pi * float64(b) / 12)
			k.bolt(fmt.Sprintf("section_%d_bolt_%d", i+1, b+1), world().moved(r*1.16*s, y+0.041, r*1.16*c))
		}
		y += 1.25
	}
	return k.b.Build()
}
