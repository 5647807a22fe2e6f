package flowedits_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/flow"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/shape"
)

func grainError(d *document.Document) float64 { return edittest.Measure(d).Shells[0].GrainErrDeg }

func TestGrainTurnsItsShells(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	for _, of := range []document.GrainOf{document.GrainAlong, document.GrainAround, document.GrainLoops, document.GrainByShape} {
		d = edittest.Apply(t, d, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: of}})
		g := d.State.Parts[0].Grain
		if g.Mode == flow.None || grainError(d) > 0.1 {
			t.Errorf("%s: %+v, off by %g°", of, g, grainError(d))
		}
		if size := edittest.SizeOf(d, meshtest.All(d.Mesh)); (g.Mode == flow.Along) == (size.X > size.Y) {
			t.Errorf("%s: the wall is %v on the sheet", of, size)
		}
	}
	d = edittest.Apply(t, d, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainNone}})
	if d.State.Parts[0].Grain.Mode != flow.None {
		t.Error("it should have no grain any more")
	}
	edittest.Refused(t, d, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: "wished"}}, "no grain")
	edittest.Refused(t, d, &flowedits.SetGrain{GrainWish: document.GrainWish{Of: document.GrainAlong}}, "no part is picked")
	edittest.Refused(t, d, &flowedits.SetGrain{Parts: []document.PartID{9}, GrainWish: document.GrainWish{Of: document.GrainAlong}}, "no part 9")
	edittest.Refused(t, d, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainToward}}, "no direction")

	// A stroke on a plate: 30° off its edges.
	plate := edittest.Apply(t, document.New(meshtest.Grid(t, 6, 4, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Z: -2 * v} }), document.DefaultSettings()),
		&partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{}, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainToward, Direction: r3.Vec{X: 2 * math.Cos(math.Pi/6), Z: -2 * math.Sin(math.Pi/6)}}})
	if e := grainError(plate); e > 0.1 {
		t.Errorf("the stroke is off the sheet's axis by %g°", e)
	}
	edittest.Refused(t, plate, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainAround}}, "no axis")
	// One way: what points left in space goes to the right on the sheet, and back.
	for _, x := range []float64{1, -1} {
		one := edittest.Apply(t, plate, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainToward, Direction: r3.Vec{X: x}, Sense: true}})
		a, b := edittest.CornerAt(one, r3.Vec{Z: -1}), edittest.CornerAt(one, r3.Vec{X: 3, Z: -1})
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
	chain := edittest.Apply(t, plate, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainChain, Edges: across}})
	if g := chain.State.Parts[0].Grain; math.Abs(math.Abs(g.Axis.Z)-1) > 1e-9 || grainError(chain) > 0.1 {
		t.Errorf("along edges across: %+v, off by %g°", g, grainError(chain))
	}
	edittest.Refused(t, plate, &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainChain}}, "no edges are picked")
}

func TestShellsAreTurnedByPickedEdges(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	d = edittest.Apply(t, d, &sheetedits.Move{Faces: []mesh.FaceID{0}, TurnDeg: 33})
	m := d.Mesh
	var ruling mesh.EdgeID
	for e := range mesh.EdgeID(m.NumEdges()) {
		if v := m.EdgeVec(m.EdgeHalf(e)); math.Abs(v.Y) > 0.1 && !d.State.Map.IsCut(e) {
			ruling = e
		}
	}
	for _, v := range []bool{false, true} {
		now := edittest.Apply(t, d, &flowedits.Orient{Faces: []mesh.FaceID{0}, Edges: []mesh.EdgeID{ruling}, AlongV: v})
		h := m.EdgeHalf(ruling)
		e := r2.Sub(now.State.Map.At(m.Next(h)), now.State.Map.At(h))
		if off := e.Y; v && math.Abs(e.X) > 1e-9 || !v && math.Abs(off) > 1e-9 {
			t.Errorf("along V %v: the edge runs %v", v, e)
		}
	}
	loops := edittest.Apply(t, d, &flowedits.Orient{})
	if straight := edittest.Measure(loops).Shells[0].Straight; straight < 1-1e-9 {
		t.Errorf("by its loops %.3f of it is straight", straight)
	}
	edittest.Refused(t, d, &flowedits.Orient{Mirrored: true}, "no shell is mirrored")
	over := edittest.Apply(t, d, &sheetedits.Move{Faces: []mesh.FaceID{0}, Flip: true})
	if edittest.Measure(over).Totals.Mirrored == 0 {
		t.Fatal("turned over it should be mirrored")
	}
	if n := edittest.Measure(edittest.Apply(t, over, &flowedits.Orient{Mirrored: true})).Totals.Mirrored; n != 0 {
		t.Errorf("%d faces are still mirrored", n)
	}
}

// A grain of a material holds for its parts, for those that are recognised later too, but
// not for those with a wish of their own.
func TestGrainOfAMaterial(t *testing.T) {
	d := edittest.Plates(t)
	wish := func(z float64) document.GrainWish {
		return document.GrainWish{Of: document.GrainToward, Direction: r3.Vec{X: 1, Z: z}}
	}
	slope := func(d *document.Document, p int) float64 {
		return d.State.Parts[p].Grain.Axis.Z / d.State.Parts[p].Grain.Axis.X
	}
	check := func(when string, d *document.Document, want ...float64) {
		t.Helper()
		for p, z := range want {
			if got := slope(d, p); math.Abs(got-z) > 1e-9 {
				t.Errorf("%s: the grain of part %d runs %g, want %g", when, p, got, z)
			}
		}
		for i, s := range edittest.Measure(d).Shells {
			if s.GrainErrDeg > 0.1 {
				t.Errorf("%s: shell %d is %g° off", when, i, s.GrainErrDeg)
			}
		}
	}
	d = edittest.Apply(t, d, &flowedits.SetGrain{Parts: []document.PartID{1}, GrainWish: wish(0.5)})
	d = edittest.Apply(t, d, &flowedits.SetGrain{Materials: []string{"ash_wood"}, GrainWish: wish(-0.25)})
	check("set", d, -0.25, 0.5)
	if slope(d, 2) == -0.25 {
		t.Error("steel has the grain of ash")
	}
	d = edittest.Apply(t, d, &flowedits.SetGrain{Parts: []document.PartID{1}, GrainWish: document.GrainWish{Of: document.GrainByShape}})
	check("as its material asks", d, -0.25, -0.25)
	again := edittest.Apply(t, d, &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	check("recognised again", again, -0.25, -0.25)
	// A state that is stored keeps it.
	if back := edittest.Restored(t, again).State; len(back.Wishes.Grains) != 1 {
		t.Errorf("stored: %+v", back.Wishes.Grains)
	}
	d = edittest.Apply(t, d, &flowedits.SetGrain{Materials: []string{"ash_wood"}, GrainWish: document.GrainWish{Of: document.GrainByShape}})
	if len(d.State.Wishes.Grains) != 0 || slope(d, 0) == -0.25 {
		t.Errorf("taken back: %+v", d.State.Parts[0].Grain)
	}
	edittest.Refused(t, d, &flowedits.SetGrain{Materials: []string{"enamel"}, GrainWish: wish(1)}, "no part of this material")
	edittest.Refused(t, d, &flowedits.SetGrain{Materials: []string{"steel"}, GrainWish: document.GrainWish{Of: document.GrainToward}}, "no direction")
	edittest.Refused(t, d, &flowedits.SetGrain{Materials: []string{"steel"}, GrainWish: document.GrainWish{Of: document.GrainChain}}, "no edges are picked")
	edittest.Refused(t, d, &flowedits.SetGrain{Materials: []string{"steel"}, GrainWish: document.GrainWish{Of: "wished"}}, "no grain")
}

// What goes one way only is not turned round by packing.
func TestPackingKeepsTheSense(t *testing.T) {
	for _, x := range []float64{1, -1} {
		d := edittest.Apply(t, edittest.Plates(t), &flowedits.SetGrain{Materials: []string{"ash_wood", "steel"}, GrainWish: document.GrainWish{Of: document.GrainToward, Direction: r3.Vec{X: x}, Sense: true}}, &sheetedits.Pack{})
		for i, s := range edittest.Measure(d).Shells {
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
	d := edittest.Apply(t, document.New(meshtest.Tube(t, radius, 24, path...), document.DefaultSettings()), &partedits.Recognise{})
	for len(d.State.Parts[0].Pieces) > 0 {
		d = edittest.Apply(t, d, &partedits.Split{Part: 0})
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
