package layout_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flow"
	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

func grainError(d *layout.Document) float64 { return measure(d).Shells[0].GrainErrDeg }

func TestGrainTurnsItsShells(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	for _, of := range []layout.GrainOf{layout.GrainAlong, layout.GrainAround, layout.GrainLoops, layout.GrainByShape} {
		d = apply(t, d, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: of}})
		g := d.State.Parts[0].Grain
		if g.Mode == flow.None || grainError(d) > 0.1 {
			t.Errorf("%s: %+v, off by %g°", of, g, grainError(d))
		}
		if size := sizeOf(d, meshtest.All(d.Mesh)); (g.Mode == flow.Along) == (size.X > size.Y) {
			t.Errorf("%s: the wall is %v on the sheet", of, size)
		}
	}
	d = apply(t, d, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainNone}})
	if d.State.Parts[0].Grain.Mode != flow.None {
		t.Error("it should have no grain any more")
	}
	refused(t, d, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: "wished"}}, "no grain")
	refused(t, d, &layout.SetGrain{GrainWish: layout.GrainWish{Of: layout.GrainAlong}}, "no part is picked")
	refused(t, d, &layout.SetGrain{Parts: []layout.PartID{9}, GrainWish: layout.GrainWish{Of: layout.GrainAlong}}, "no part 9")
	refused(t, d, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainToward}}, "no direction")

	// A stroke on a plate: 30° off its edges.
	plate := apply(t, layout.New(meshtest.Grid(t, 6, 4, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Z: -2 * v} }), layout.DefaultSettings()),
		&layout.Recognise{}, &layout.Flatten{}, &layout.Pack{}, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainToward, Direction: r3.Vec{X: 2 * math.Cos(math.Pi/6), Z: -2 * math.Sin(math.Pi/6)}}})
	if e := grainError(plate); e > 0.1 {
		t.Errorf("the stroke is off the sheet's axis by %g°", e)
	}
	refused(t, plate, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainAround}}, "no axis")
	// One way: what points left in space goes to the right on the sheet, and back.
	for _, x := range []float64{1, -1} {
		one := apply(t, plate, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainToward, Direction: r3.Vec{X: x}, Sense: true}})
		a, b := cornerAt(one, r3.Vec{Z: -1}), cornerAt(one, r3.Vec{X: 3, Z: -1})
		if d := one.State.Map.At(b).X - one.State.Map.At(a).X; d*x <= 0 || grainError(one) > 0.1 {
			t.Errorf("pointing %g along X it runs %g on the sheet, off by %g°", x, d, grainError(one))
		}
	}
	// Along picked edges, whichever way they are stored.
	var across []mesh.EdgeID
	for e := range mesh.EdgeID(plate.Mesh.NumEdges()) {
		if v := plate.Mesh.EdgeVec(plate.Mesh.EdgeHalf(e)); math.Abs(v.Z) > 0.1 {
			across = append(across, e)
		}
	}
	chain := apply(t, plate, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainChain, Edges: across}})
	if g := chain.State.Parts[0].Grain; math.Abs(math.Abs(g.Axis.Z)-1) > 1e-9 || grainError(chain) > 0.1 {
		t.Errorf("along edges across: %+v, off by %g°", g, grainError(chain))
	}
	refused(t, plate, &layout.SetGrain{Parts: []layout.PartID{0}, GrainWish: layout.GrainWish{Of: layout.GrainChain}}, "no edges are picked")
}

func TestShellsAreTurnedByPickedEdges(t *testing.T) {
	d := apply(t, jar(t, 24), &layout.Recognise{}, &layout.Open{}, &layout.Flatten{}, &layout.Pack{})
	d = apply(t, d, &layout.Move{Faces: []mesh.FaceID{0}, TurnDeg: 33})
	m := d.Mesh
	var ruling mesh.EdgeID
	for e := range mesh.EdgeID(m.NumEdges()) {
		if v := m.EdgeVec(m.EdgeHalf(e)); math.Abs(v.Y) > 0.1 && !d.State.Map.IsCut(e) {
			ruling = e
		}
	}
	for _, v := range []bool{false, true} {
		now := apply(t, d, &layout.Orient{Faces: []mesh.FaceID{0}, Edges: []mesh.EdgeID{ruling}, AlongV: v})
		h := m.EdgeHalf(ruling)
		e := r2.Sub(now.State.Map.At(m.Next(h)), now.State.Map.At(h))
		if off := e.Y; v && math.Abs(e.X) > 1e-9 || !v && math.Abs(off) > 1e-9 {
			t.Errorf("along V %v: the edge runs %v", v, e)
		}
	}
	loops := apply(t, d, &layout.Orient{})
	if straight := measure(loops).Shells[0].Straight; straight < 1-1e-9 {
		t.Errorf("by its loops %.3f of it is straight", straight)
	}
	refused(t, d, &layout.Orient{Mirrored: true}, "no shell is mirrored")
	over := apply(t, d, &layout.Move{Faces: []mesh.FaceID{0}, Flip: true})
	if measure(over).Totals.Mirrored == 0 {
		t.Fatal("turned over it should be mirrored")
	}
	if n := measure(apply(t, over, &layout.Orient{Mirrored: true})).Totals.Mirrored; n != 0 {
		t.Errorf("%d faces are still mirrored", n)
	}
}

// plates are two of ash and one of steel, 2 by 1 each, apart.
func plates(t *testing.T) *layout.Document {
	t.Helper()
	b := mesh.NewBuilder()
	for i, material := range []string{"ash_wood", "ash_wood", "steel"} {
		b.Material(material)
		y := float64(i)
		var p [9]mesh.PointID
		for k := range p {
			p[k] = b.Point(r3.Vec{X: float64(k % 3), Y: y, Z: -float64(k / 3)})
		}
		for _, k := range []int{0, 1, 3, 4} {
			b.Face(p[k], p[k+1], p[k+4], p[k+3])
		}
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return apply(t, layout.New(m, layout.DefaultSettings()), &layout.Recognise{}, &layout.Flatten{}, &layout.Pack{})
}

// A grain of a material holds for its parts, for those that are recognised later too, but
// not for those with a wish of their own.
func TestGrainOfAMaterial(t *testing.T) {
	d := plates(t)
	wish := func(z float64) layout.GrainWish {
		return layout.GrainWish{Of: layout.GrainToward, Direction: r3.Vec{X: 1, Z: z}}
	}
	slope := func(d *layout.Document, p int) float64 {
		return d.State.Parts[p].Grain.Axis.Z / d.State.Parts[p].Grain.Axis.X
	}
	check := func(when string, d *layout.Document, want ...float64) {
		t.Helper()
		for p, z := range want {
			if got := slope(d, p); math.Abs(got-z) > 1e-9 {
				t.Errorf("%s: the grain of part %d runs %g, want %g", when, p, got, z)
			}
		}
		for i, s := range measure(d).Shells {
			if s.GrainErrDeg > 0.1 {
				t.Errorf("%s: shell %d is %g° off", when, i, s.GrainErrDeg)
			}
		}
	}
	d = apply(t, d, &layout.SetGrain{Parts: []layout.PartID{1}, GrainWish: wish(0.5)})
	d = apply(t, d, &layout.SetGrain{Materials: []string{"ash_wood"}, GrainWish: wish(-0.25)})
	check("set", d, -0.25, 0.5)
	if slope(d, 2) == -0.25 {
		t.Error("steel has the grain of ash")
	}
	d = apply(t, d, &layout.SetGrain{Parts: []layout.PartID{1}, GrainWish: layout.GrainWish{Of: layout.GrainByShape}})
	check("as its material asks", d, -0.25, -0.25)
	again := apply(t, d, &layout.Recognise{}, &layout.Flatten{}, &layout.Pack{})
	check("recognised again", again, -0.25, -0.25)
	// A state that is stored keeps it.
	if back := restored(t, again).State; len(back.Wishes.Grains) != 1 {
		t.Errorf("stored: %+v", back.Wishes.Grains)
	}
	d = apply(t, d, &layout.SetGrain{Materials: []string{"ash_wood"}, GrainWish: layout.GrainWish{Of: layout.GrainByShape}})
	if len(d.State.Wishes.Grains) != 0 || slope(d, 0) == -0.25 {
		t.Errorf("taken back: %+v", d.State.Parts[0].Grain)
	}
	refused(t, d, &layout.SetGrain{Materials: []string{"enamel"}, GrainWish: wish(1)}, "no part of this material")
	refused(t, d, &layout.SetGrain{Materials: []string{"steel"}, GrainWish: layout.GrainWish{Of: layout.GrainToward}}, "no direction")
	refused(t, d, &layout.SetGrain{Materials: []string{"steel"}, GrainWish: layout.GrainWish{Of: layout.GrainChain}}, "no edges are picked")
	refused(t, d, &layout.SetGrain{Materials: []string{"steel"}, GrainWish: layout.GrainWish{Of: "wished"}}, "no grain")
}

// What goes one way only is not turned round by packing.
func TestPackingKeepsTheSense(t *testing.T) {
	for _, x := range []float64{1, -1} {
		d := apply(t, plates(t), &layout.SetGrain{Materials: []string{"ash_wood", "steel"}, GrainWish: layout.GrainWish{Of: layout.GrainToward, Direction: r3.Vec{X: x}, Sense: true}}, &layout.Pack{})
		for i, s := range measure(d).Shells {
			if s.GrainErrDeg > 0.1 {
				t.Errorf("toward %g X: shell %d is off by %g°", x, i, s.GrainErrDeg)
			}
		}
	}
}

// A straight of a bent pipe that is as long as it is around runs along, as the elbow it
// goes on into does; by itself it would not.
func TestBalancedWallsFollowTheirNeighbours(t *testing.T) {
	const radius, bend = 1, 4
	arc := meshtest.Arc(r3.Vec{X: 6, Y: bend}, bend, -math.Pi/2, 12)
	path := append([]r3.Vec{{}, {X: 3}}, arc...)
	end := arc[len(arc)-1]
	path = append(path, r3.Vec{X: end.X, Y: end.Y + 3}, r3.Vec{X: end.X, Y: end.Y + 6})
	d := apply(t, layout.New(meshtest.Tube(t, radius, 24, path...), layout.DefaultSettings()), &layout.Recognise{})
	for len(d.State.Parts[0].Pieces) > 0 {
		d = apply(t, d, &layout.Split{Part: 0})
	}
	walls := 0
	for _, p := range d.State.Parts {
		if p.Fit.Kind == shape.Cylinder {
			walls++
			if p.Grain.Mode != flow.Along {
				t.Errorf("%s: the grain of a straight runs %q", p.Name, p.Grain.Mode)
			}
		}
	}
	if walls != 2 {
		t.Errorf("%d straights", walls)
	}
}
