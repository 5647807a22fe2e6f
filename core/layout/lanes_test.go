package layout_test

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/planar"
)

// beltAndBoards is a strip 60 long and 1 wide with boards of 4 by 3 beside it.
func beltAndBoards(t *testing.T, boards int) *layout.Document {
	w := meshtest.NewWelder()
	grid := func(x, y, width, height float64, nx, ny int) {
		at := func(i, j int) mesh.PointID {
			return w.Point(r3.Vec{X: x + width*float64(i)/float64(nx), Z: -y - height*float64(j)/float64(ny)})
		}
		for i := range nx {
			for j := range ny {
				w.Face(at(i, j), at(i+1, j), at(i+1, j+1), at(i, j+1))
			}
		}
	}
	grid(0, 0, 60, 1, 60, 1)
	for k := range boards {
		grid(6*float64(k), 3, 4, 3, 4, 3)
	}
	return layout.New(w.Mesh(t), layout.DefaultSettings())
}

func coverage(d *layout.Document) (sum float64) {
	for _, t := range d.State.Map.Triangles(meshtest.All(d.Mesh)) {
		sum += math.Abs(t.Area())
	}
	return sum
}

func shellCount(d *layout.Document) int {
	shells, _ := d.State.Map.Shells()
	return len(shells)
}

// One strip rules the sheet; divided, everything is sharper, and nothing is stretched,
// turned over or moved off its grain.
func TestLanesFreeTheSheet(t *testing.T) {
	d := apply(t, beltAndBoards(t, 9), &layout.Recognise{}, &layout.Flatten{})
	whole := apply(t, d, &layout.Pack{})
	lanes := apply(t, d, &layout.Lanes{}, &layout.Pack{})
	if a, b := coverage(whole), coverage(lanes); b < 3*a {
		t.Errorf("coverage %.3f before and %.3f after", a, b)
	}
	if n := shellCount(lanes) - shellCount(whole); n < 2 || n > 8 {
		t.Errorf("%d more pieces", n)
	}
	q := measure(lanes)
	if q.Totals.L2 > 1+1e-9 || q.Totals.Mirrored+q.Totals.Outside+q.Totals.Unmapped > 0 || q.Totals.OverlapShare > 0 || q.Totals.GrainOverDeg > 0.1 {
		t.Errorf("%+v", q.Totals)
	}
	for e, cut := range lanes.State.Map.Cuts() { // cuts go straight across
		if v := d.Mesh.EdgeVec(d.Mesh.EdgeHalf(mesh.EdgeID(e))); cut && !d.State.Map.IsCut(mesh.EdgeID(e)) && math.Abs(v.X) > 1e-9 {
			t.Errorf("edge %d, which runs along, is cut", e)
		}
	}
	// What is whole stays whole, and where nothing rules there is nothing to do.
	held := apply(t, d, &layout.Keep{Faces: strip(d), Whole: true})
	refused(t, held, &layout.Lanes{}, "no shell rules")
	refused(t, lanes, &layout.Lanes{}, "no shell rules")
	tx := d.Begin()
	tx.Settings.Undivided = true
	refused(t, d.With(tx.Done()), &layout.Lanes{}, "keep shells undivided")
}

// strip is the faces of the belt.
func strip(d *layout.Document) (out []mesh.FaceID) {
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if d.Mesh.FaceCentre(f).Z > -1 {
			out = append(out, f)
		}
	}
	return out
}

// The dial says how much a piece must bring.
func TestLanesFollowTheDial(t *testing.T) {
	last := 0
	for _, dial := range []float64{0, 0.5, 1} {
		d := beltAndBoards(t, 5)
		tx := d.Begin()
		tx.Settings.Dial = dial
		d = apply(t, d.With(tx.Done()), &layout.Recognise{}, &layout.Flatten{}, &layout.Lanes{})
		n := shellCount(d)
		if n < last {
			t.Errorf("dial %g: %d shells, fewer than %d", dial, n, last)
		}
		last = n
	}
}

func TestLanesDivideAShellThatIsPicked(t *testing.T) {
	d := apply(t, beltAndBoards(t, 2), &layout.Recognise{}, &layout.Flatten{}, &layout.Pack{})
	belt := strip(d)
	three := apply(t, d, &layout.Lanes{Faces: belt[:1], Pieces: 3})
	if n := shellCount(three) - shellCount(d); n != 2 {
		t.Errorf("divided in 3 it has %d more shells", n)
	}
	shells, of := three.State.Map.Shells()
	seen := map[int32]bool{}
	for _, f := range belt {
		if seen[of[f]] {
			continue
		}
		seen[of[f]] = true
		var q []r2.Vec
		for _, tr := range three.State.Map.Triangles(shells[of[f]].Faces) {
			q = append(q, tr[:]...)
		}
		if size := planar.Bounds(q...).Size(); math.Abs(size.X/size.Y-20) > 4 {
			t.Errorf("a third is %g by %g", size.X, size.Y)
		}
	}
	refused(t, d, &layout.Lanes{Faces: belt[:1], Pieces: 1}, "cannot be divided")
	refused(t, d, &layout.Lanes{Faces: belt[:1], Pieces: 99}, "cannot be divided")
	refused(t, apply(t, d, &layout.Clear{}), &layout.Lanes{}, "nothing lies on the sheet")
	single := layout.New(meshtest.Grid(t, 1, 1, func(u, v float64) r3.Vec { return r3.Vec{X: u, Z: -v} }), layout.DefaultSettings())
	single = apply(t, single, &layout.Recognise{}, &layout.Flatten{})
	refused(t, single, &layout.Lanes{Faces: []mesh.FaceID{0}}, "no edges lead")
}
