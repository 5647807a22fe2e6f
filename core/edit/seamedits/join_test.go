package seamedits_test

import (
	"context"
	"errors"
	"math"
	"slices"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/segment"
)

func cost(t *testing.T, d *document.Document, j *seamedits.Join) (*document.Document, segment.JoinCost) {
	t.Helper()
	s, c, err := j.Cost(context.Background(), d)
	if err != nil {
		t.Fatal(err)
	}
	return d.With(s), c
}

func TestHalvesThatFitAreJoinedByMovingOne(t *testing.T) {
	d, ring := edittest.Halves(t)
	if n := len(edittest.Measure(d).Shells); n != 2 {
		t.Fatalf("%d shells before", n)
	}
	lower, upper := mesh.FaceID(0), mesh.FaceID(d.Mesh.NumFaces()-1)
	for _, stays := range []mesh.FaceID{lower, upper} {
		now, c := cost(t, d, &seamedits.Join{Edges: ring[:1], Stays: &stays, Chain: true})
		if !c.Rigid || c.Opposite || c.RimDifference > 1e-6 || math.Abs(c.After-1) > 1e-6 || c.Joined != 1 || math.Abs(c.Length-d.Mesh.Length(ring)) > 1e-9 {
			t.Errorf("cost %+v", c)
		}
		r := edittest.Measure(now)
		if len(r.Shells) != 1 || math.Abs(r.Totals.L2-1) > 1e-6 || r.Totals.Mirrored+r.Totals.Outside > 0 && !c.OnRack {
			t.Fatalf("%d shells, L2 %g", len(r.Shells), r.Totals.L2)
		}
		// What stays does so to the digit, unless the union has no room there.
		lo, hi := d.Mesh.Corners(stays)
		if same := slices.Equal(now.State.Map.UV()[lo:hi], d.State.Map.UV()[lo:hi]); same == c.OnRack {
			t.Errorf("the shell that stays moved: %v, on the rack: %v", !same, c.OnRack)
		}
		p := mesh.NewPatch(now.Mesh, meshtest.All(now.Mesh), now.State.Map.IsCut)
		if !p.IsDisk() {
			t.Errorf("Euler %d", p.Euler())
		}
		for _, e := range ring {
			if now.State.Map.IsCut(e) || !slices.Contains(now.State.Wishes.Held, e) {
				t.Fatalf("edge %d: cut %v, not remembered", e, now.State.Map.IsCut(e))
			}
		}
	}
	// Along one edge only they hang by it.
	now, c := cost(t, d, &seamedits.Join{Edges: ring[:1]})
	if r := edittest.Measure(now); len(r.Shells) != 1 || !c.Rigid || now.State.Map.IsCut(ring[0]) || !now.State.Map.IsCut(ring[1]) {
		t.Errorf("one edge: %d shells, cost %+v", len(r.Shells), c)
	}
}

func TestTheSmallerShellMoves(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1)
	areas := d.Mesh.FaceAreas()
	for e := range d.Mesh.NumEdges() {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(e))
		_, c := cost(t, d, &seamedits.Join{Edges: []mesh.EdgeID{mesh.EdgeID(e)}})
		if areas[c.Moves] > areas[c.Stays]+1e-12 || min(a, b) != min(c.Stays, c.Moves) || max(a, b) != max(c.Stays, c.Moves) {
			t.Errorf("edge %d between %d and %d: %d stays, %d moves", e, a, b, c.Stays, c.Moves)
		}
	}
}

// A cap on a wall: both rims bulge where they should meet, so the cost warns, and all
// around it is refused while along one chord it fits.
func TestAJoinThatCannotLieFlatSaysSo(t *testing.T) {
	outline := meshtest.Circle(1, 24)
	d := edittest.Attached(t, meshtest.Prism(t, 1, outline...), 1)
	m := d.Mesh
	var rim []mesh.EdgeID
	for e := range m.NumEdges() {
		h := m.EdgeHalf(mesh.EdgeID(e))
		if m.Points[m.From(h)].Y == 1 && m.Points[m.To(h)].Y == 1 {
			rim = append(rim, mesh.EdgeID(e))
		}
	}
	if len(rim) != 24 || len(edittest.Measure(d).Shells) != 3 {
		t.Fatalf("rim of %d, %d shells", len(rim), len(edittest.Measure(d).Shells))
	}
	now, c := cost(t, d, &seamedits.Join{Edges: rim[:1]})
	if !c.Rigid || c.Opposite || len(edittest.Measure(now).Shells) != 2 {
		t.Errorf("one chord: %+v, %d shells", c, len(edittest.Measure(now).Shells))
	}
	if _, c, err := (&seamedits.Join{Edges: rim[:6]}).Cost(context.Background(), d); err == nil {
		if !c.Opposite || c.Rigid || c.After < c.Before+1e-3 {
			t.Errorf("a quarter of the rim: %+v", c)
		}
		if c.TurnDeg[0]+c.TurnDeg[1] < 5*14 { // five corners of 15° on the cap, none on the wall
			t.Errorf("rims turn by %v", c.TurnDeg)
		}
	} else if !errors.Is(err, document.ErrRefused) {
		t.Error(err)
	}
}

func TestRefusedJoins(t *testing.T) {
	d, ring := edittest.Halves(t)
	heavy := edittest.Apply(t, d, &partedits.PartOff{Faces: meshtest.All(d.Mesh)[:48]}, &flowedits.Flatten{}, &partedits.Weigh{Parts: []document.PartID{1}, Weight: 2})
	for name, c := range map[string]struct {
		d *document.Document
		j seamedits.Join
	}{
		"no edges":         {d, seamedits.Join{}},
		"not there":        {d, seamedits.Join{Edges: []mesh.EdgeID{-1}}},
		"inside a shell":   {d, seamedits.Join{Edges: []mesh.EdgeID{mesh.EdgeID(slices.Index(d.State.Map.Cuts(), false))}}},
		"no such face":     {d, seamedits.Join{Edges: ring, Stays: edittest.Ptr(mesh.FaceID(1e6))}},
		"not flat yet":     {edittest.Apply(t, d, &sheetedits.Clear{}), seamedits.Join{Edges: ring}},
		"another density":  {heavy, seamedits.Join{Edges: ring}},
		"closes on itself": {edittest.Apply(t, d, &seamedits.Close{Edges: edittest.Openings(d)[:1]}), seamedits.Join{Edges: edittest.Openings(d)[:1]}},
	} {
		if _, err := c.j.Apply(context.Background(), c.d, nil); !errors.Is(err, document.ErrRefused) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func TestJoiningAGroupGoesAsFarAsTheLimit(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1)
	all := edittest.Apply(t, d, &seamedits.JoinGroup{Faces: meshtest.All(d.Mesh)}, &sheetedits.Pack{})
	edittest.CheckAttached(t, all, 1)
	three := edittest.Apply(t, d, &seamedits.JoinGroup{Faces: []mesh.FaceID{0, 1, 2}})
	if n := len(edittest.Measure(three).Shells); n != 4 {
		t.Errorf("three of six sides joined: %d shells, want 4", n)
	}
	if _, err := (&seamedits.JoinGroup{Faces: meshtest.All(d.Mesh)}).Apply(context.Background(), all, nil); !errors.Is(err, document.ErrRefused) {
		t.Errorf("nothing left to join: %v", err)
	}
	// The dial leaves alone what was joined by hand.
	if n := len(edittest.Measure(edittest.Apply(t, all, &seamedits.Dial{Dial: 1})).Shells); n != 1 {
		t.Errorf("%d shells after the dial went to less stretch", n)
	}
}

// What was parted off by hand comes back with its shell when the group is joined.
func TestAGroupTakesBackWhatWasCutByHand(t *testing.T) {
	d := edittest.Apply(t, edittest.Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
	d = edittest.Apply(t, d, &seamedits.ShellOff{Faces: []mesh.FaceID{30}})
	if n := len(edittest.Measure(d).Shells); n != 2 {
		t.Fatalf("%d shells", n)
	}
	d = edittest.Apply(t, d, &seamedits.JoinGroup{Faces: meshtest.All(d.Mesh), Limit: 1.02})
	r := edittest.Measure(d)
	if len(r.Shells) != 1 || math.Abs(r.Totals.L2-1) > 1e-6 {
		t.Errorf("%d shells, L2 %g", len(r.Shells), r.Totals.L2)
	}
}

func TestAStripIsHandedToTheNeighbour(t *testing.T) {
	d := edittest.Strips(t)
	if n := len(edittest.Measure(d).Shells); n != 2 {
		t.Fatalf("%d shells before", n)
	}
	d = edittest.Apply(t, d, &seamedits.HandOver{Faces: []mesh.FaceID{2}})
	r := edittest.Measure(d)
	sizes := []int{len(r.Shells[0].Faces), len(r.Shells[1].Faces)}
	if len(r.Shells) != 2 || !slices.Equal(sizes, []int{3, 1}) || d.State.PartOf(2) != d.State.PartOf(0) || math.Abs(r.Totals.L2-1) > 1e-9 {
		t.Errorf("shells of %v faces, part %d, L2 %g", sizes, d.State.PartOf(2), r.Totals.L2)
	}
	for _, e := range []*seamedits.HandOver{{}, {Faces: []mesh.FaceID{0}}, {Faces: []mesh.FaceID{2, 3}, To: edittest.Ptr(mesh.FaceID(2))}} {
		if _, err := e.Apply(context.Background(), d, nil); !errors.Is(err, document.ErrRefused) {
			t.Errorf("%+v: %v", e, err)
		}
	}
}

func TestFacesBecomeAShellOfTheirOwnAsTheyLie(t *testing.T) {
	d := edittest.Strips(t)
	now := edittest.Apply(t, d, &seamedits.ShellOff{Faces: []mesh.FaceID{3}})
	r := edittest.Measure(now)
	if len(r.Shells) != 3 || math.Abs(r.Totals.L2-1) > 1e-9 {
		t.Fatalf("%d shells, L2 %g", len(r.Shells), r.Totals.L2)
	}
	for c, q := range now.State.Map.UV() {
		if d.Mesh.FaceOf(mesh.HalfedgeID(c)) != 3 && q != d.State.Map.At(mesh.HalfedgeID(c)) {
			t.Errorf("corner %d moved with it", c)
		} else if d.Mesh.FaceOf(mesh.HalfedgeID(c)) == 3 && q.Y > 0 {
			t.Errorf("corner %d is not on the rack", c)
		}
	}
	if _, err := (&seamedits.ShellOff{Faces: []mesh.FaceID{3}}).Apply(context.Background(), now, nil); !errors.Is(err, document.ErrRefused) {
		t.Errorf("a shell already: %v", err)
	}
}

// What is joined and moved leaves room around itself, or waits on the rack.
func TestAJoinNeverLandsOnOthers(t *testing.T) {
	d := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 1)
	for e := range d.Mesh.NumEdges() {
		now, c := cost(t, d, &seamedits.Join{Edges: []mesh.EdgeID{mesh.EdgeID(e)}})
		r := edittest.Measure(now)
		if r.Totals.OverlapShare != 0 {
			t.Errorf("edge %d: overlap %g", e, r.Totals.OverlapShare)
		}
		low := math.Inf(1)
		for _, f := range []mesh.FaceID{c.Stays, c.Moves} {
			lo, hi := d.Mesh.Corners(f)
			for _, q := range now.State.Map.UV()[lo:hi] {
				low = min(low, q.Y)
			}
		}
		if c.OnRack != (low < 0) {
			t.Errorf("edge %d: on the rack %v, lowest at %g", e, c.OnRack, low)
		}
		if !c.OnRack && r.Totals.NearestPx() < 8-1e-6 {
			t.Errorf("edge %d: gap of %g px", e, r.Totals.NearestPx())
		}
	}
}
