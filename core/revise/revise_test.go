package revise_test

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/partedits"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/pipeline/pipelinetest"
	"morvek/core/proof"
	"morvek/core/revise"
	"morvek/models/modeltest"
)

func finished(t *testing.T, m *mesh.Mesh) *document.Document {
	t.Helper()
	return pipelinetest.Finished(t, m, document.DefaultSettings())
}

func compare(t *testing.T, d *document.Document, now *mesh.Mesh) revise.Match {
	t.Helper()
	m, err := revise.Compare(context.Background(), d.State.Map, now)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// again builds a mesh anew: its faces in another order, each from another corner on, its points
// renumbered and put elsewhere by place; each face is given as several if cut does so.
func again(t *testing.T, m *mesh.Mesh, rng *rand.Rand, place func(f mesh.FaceID, p r3.Vec) r3.Vec, cut func(corners []mesh.HalfedgeID) [][]mesh.HalfedgeID) (now *mesh.Mesh, of []mesh.HalfedgeID) {
	t.Helper()
	b := mesh.NewBuilder()
	at := map[r3.Vec]mesh.PointID{}
	for _, k := range rng.Perm(m.NumFaces()) {
		f := mesh.FaceID(k)
		lo, hi := m.Corners(f)
		var corners []mesh.HalfedgeID
		turn := rng.IntN(int(hi - lo))
		for i := range int(hi - lo) {
			corners = append(corners, lo+mesh.HalfedgeID((i+turn)%int(hi-lo)))
		}
		b.Object(m.ObjectName(f))
		b.Material(m.MaterialName(f))
		for _, c := range cut(corners) {
			for _, h := range c {
				p := place(f, m.Points[m.From(h)])
				id, ok := at[p]
				if !ok {
					id = b.Point(p)
					at[p] = id
				}
				b.Corner(id, mesh.None, mesh.None)
				of = append(of, h)
			}
			b.EndFace()
		}
	}
	now, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return now, of
}

func whole(c []mesh.HalfedgeID) [][]mesh.HalfedgeID { return [][]mesh.HalfedgeID{c} }
func stay(_ mesh.FaceID, p r3.Vec) r3.Vec           { return p }

// A model that is only written in another order keeps every coordinate to the bit; cut into triangles
// it does too.
func TestAnotherOrderAndOtherFacesKeepTheMap(t *testing.T) {
	m := modeltest.Mesh(t, "survey-case")
	d := finished(t, m)
	fans := func(c []mesh.HalfedgeID) (out [][]mesh.HalfedgeID) {
		for i := 2; i < len(c); i++ {
			out = append(out, []mesh.HalfedgeID{c[0], c[i-1], c[i]})
		}
		return out
	}
	for name, c := range map[string]struct {
		cut   func([]mesh.HalfedgeID) [][]mesh.HalfedgeID
		kinds []revise.Kind
		most  int // faces that may be new: of polygons that are not convex
	}{"in another order": {whole, []revise.Kind{revise.Kept}, 0}, "in triangles": {fans, []revise.Kind{revise.Kept, revise.Remeshed}, 40}} {
		now, of := again(t, m, rand.New(rand.NewPCG(5, 6)), stay, c.cut)
		got := compare(t, d, now)
		if n := got.Count(revise.New); n > c.most {
			t.Errorf("%s: %d faces are new", name, n)
		}
		for f := range mesh.FaceID(now.NumFaces()) {
			if got.Kind[f] == revise.New {
				continue
			}
			if !slices.Contains(c.kinds, got.Kind[f]) {
				t.Fatalf("%s: face %d is %d", name, f, got.Kind[f])
			}
			lo, hi := now.Corners(f)
			for h := lo; h < hi; h++ {
				if got.UV[h] != d.State.Map.At(of[h]) {
					t.Fatalf("%s: a corner of face %d lies at %v, was at %v", name, f, got.UV[h], d.State.Map.At(of[h]))
				}
			}
		}
	}
}

// Objects that are moved and turned, each its own way, keep their coordinates: every face has those of
// one that is congruent to it.
func TestWhatMovedKeepsItsMap(t *testing.T) {
	m := modeltest.Mesh(t, "line-winch")
	d := finished(t, m)
	for seed := range uint64(3) {
		rng := rand.New(rand.NewPCG(seed, 7))
		type pose struct {
			turn  r3.Rotation
			shift r3.Vec
		}
		poses := map[string]pose{}
		now, _ := again(t, m, rng, func(f mesh.FaceID, p r3.Vec) r3.Vec {
			k, ok := poses[m.ObjectName(f)]
			if !ok {
				k = pose{r3.NewRotation(rng.Float64()*6, r3.Vec{X: rng.NormFloat64(), Y: rng.NormFloat64(), Z: rng.NormFloat64()}), r3.Vec{X: rng.NormFloat64(), Y: rng.NormFloat64()}}
				poses[m.ObjectName(f)] = k
			}
			return r3.Add(k.turn.Rotate(p), k.shift)
		}, whole)
		got := compare(t, d, now)
		if n := got.Count(revise.New); n > now.NumFaces()/50 {
			t.Errorf("seed %d: %d of %d faces are new", seed, n, now.NumFaces())
		}
		areas, before := now.FaceAreas(), m.FaceAreas()
		for f, of := range got.Of {
			if of != mesh.None && math.Abs(areas[f]-before[of]) > 1e-6*(before[of]+1e-9) {
				t.Fatalf("seed %d: face %d has an area of %g, what it is said to be one of %g", seed, f, areas[f], before[of])
			}
		}
		seen := map[mesh.FaceID]bool{}
		for _, of := range got.Of {
			if of != mesh.None && seen[of] {
				t.Fatal("two faces are said to be the same one")
			}
			seen[of] = true
		}
	}
}

// An object that is mirrored is told as the same one, corner by corner, though its map would read
// backwards: what was said of it holds, and it is laid anew.
func TestWhatIsMirroredIsToldAndLaidAnew(t *testing.T) {
	w := meshtest.NewWelder()
	w.Object("crate")
	box := func(x, y, z float64) mesh.PointID { return w.Point(r3.Vec{X: x, Y: y, Z: z}) }
	for _, q := range [][4][3]float64{{{0, 0, 0}, {0, 1, 0}, {1, 1, 0}, {1, 0, 0}}, {{0, 0, 1}, {1, 0, 1}, {1, 1, 1}, {0, 1, 1}}, {{0, 0, 0}, {1, 0, 0}, {1, 0, 1}, {0, 0, 1}},
		{{1, 0, 0}, {1, 1, 0}, {1, 1, 1}, {1, 0, 1}}, {{1, 1, 0}, {0, 1, 0}, {0, 1, 1}, {1, 1, 1}}, {{0, 1, 0}, {0, 0, 0}, {0, 0, 1}, {0, 1, 1}}} {
		w.Face(box(q[0][0], q[0][1], q[0][2]), box(q[1][0], q[1][1], q[1][2]), box(q[2][0], q[2][1], q[2][2]), box(q[3][0], q[3][1], q[3][2]))
	}
	w.Object("wedge") // no side of it is like another, so it is another one in the mirror
	p, q, r, o := box(3, 0, 0), box(5, 0.2, 0.1), box(3.3, 1.1, 0), box(3.2, 0.3, 0.7)
	w.Face(p, r, q)
	w.Face(p, q, o)
	w.Face(q, r, o)
	w.Face(r, p, o)
	m := w.Mesh(t)
	d := finished(t, m)
	wedge := func(f mesh.FaceID) bool { return m.ObjectName(f) == "wedge" }
	now, of := again(t, m, rand.New(rand.NewPCG(8, 9)), func(f mesh.FaceID, p r3.Vec) r3.Vec {
		if wedge(f) {
			p = r3.Vec{X: -p.X, Y: p.Y, Z: p.Z}
		}
		return p
	}, func(c []mesh.HalfedgeID) [][]mesh.HalfedgeID {
		if wedge(m.FaceOf(c[0])) {
			slices.Reverse(c)
		}
		return whole(c)
	})
	got := compare(t, d, now)
	mirrored, wrong, all := 0, 0, 0
	for f := range mesh.FaceID(now.NumFaces()) {
		lo, _ := now.Corners(f)
		if !wedge(m.FaceOf(of[lo])) {
			if got.Kind[f] != revise.Kept {
				t.Fatalf("face %d is %d", f, got.Kind[f])
			}
			continue
		}
		if all++; got.Kind[f] == revise.Mirrored {
			mirrored++
		}
		for h := lo; h < lo+3; h++ {
			if got.Corner[h] != of[h] {
				wrong++
			}
		}
	}
	if mirrored != 4 || all != 4 || wrong > 0 {
		t.Fatalf("%d of %d faces are told as mirrored, %d corners as others", mirrored, all, wrong)
	}
	look := revise.Foresee(d, document.New(now, d.State.Settings), got)
	if look.New != all || look.Kept != now.NumFaces()-all {
		t.Errorf("%+v of %d", look.Carried, now.NumFaces())
	}
}

// sheetWith is a flat sheet of six by six faces without those that are left out, and a small one beside it.
func sheetWith(t *testing.T, out func(x, y int) bool) *mesh.Mesh {
	t.Helper()
	w := meshtest.NewWelder()
	quad := func(x, y, size float64) {
		at := func(u, v float64) mesh.PointID { return w.Point(r3.Vec{X: u, Z: v}) }
		w.Face(at(x, y), at(x, y+size), at(x+size, y+size), at(x+size, y))
	}
	w.Object("sheet")
	for x := range 6 {
		for y := range 6 {
			if !out(x, y) {
				quad(float64(x), float64(y), 1)
			}
		}
	}
	w.Object("tag")
	quad(9, 0, 3)
	return w.Mesh(t)
}

func window(x, y int) bool { return (x == 2 || x == 3) && (y == 2 || y == 3) }

// A window that is closed in the next revision is laid where it was, true to size, in one with what is
// around it; where something else lies in it, it goes elsewhere and nothing overlaps.
func TestWhatFitsIsLaidInItsPlace(t *testing.T) {
	ctx := context.Background()
	old := finished(t, sheetWith(t, window))
	now := finished(t, sheetWith(t, func(int, int) bool { return false }))
	m := compare(t, old, now.Mesh)
	s, c, err := revise.Carry(ctx, old, now, m)
	if err != nil {
		t.Fatal(err)
	}
	r := proof.Measure(now.With(s).ProofInput())
	if c.New != 4 || c.InPlace != 4 || r.Totals.Shells != 2 || len(r.Findings) > 0 || r.Totals.AngularP95 > 1+1e-6 || math.Abs(r.Totals.L2-1) > 1e-6 {
		t.Errorf("%+v, %d shells, stretch %g, %v", c, r.Totals.Shells, r.Totals.AngularP95, r.Findings)
	}
	// The tag is laid into the window first.
	tag := mesh.FaceID(old.Mesh.NumFaces() - 1)
	tx := old.Begin()
	middle := r2.Vec{}
	for f := range tag {
		lo, hi := old.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			middle = r2.Add(middle, r2.Scale(1/float64(4*int(tag)), old.State.Map.At(h)))
		}
	}
	box := old.State.Map.Box([]mesh.FaceID{tag})
	tx.Map.Transform([]mesh.FaceID{tag}, func(q r2.Vec) r2.Vec { return r2.Add(r2.Scale(0.3, r2.Sub(q, box.Middle())), middle) })
	busy := old.With(tx.Done())
	m = compare(t, busy, now.Mesh)
	if s, c, err = revise.Carry(ctx, busy, now, m); err != nil {
		t.Fatal(err)
	}
	if r = proof.Measure(now.With(s).ProofInput()); c.InPlace != 0 || r.Totals.OverlapShare > 0 || r.Totals.Shells != 3 {
		t.Errorf("with the tag in the window it is %+v, %d shells, %g overlap", c, r.Totals.Shells, r.Totals.OverlapShare)
	}
}

// What is round and was only shifted is not turned about itself: every corner keeps its own place.
func TestWhatIsRoundIsNotTurned(t *testing.T) {
	m := modeltest.Mesh(t, "storm-lamp")
	d := finished(t, m)
	now, of := again(t, m, rand.New(rand.NewPCG(1, 2)), func(_ mesh.FaceID, p r3.Vec) r3.Vec { return r3.Add(p, r3.Vec{X: 0.5, Z: 2}) }, whole)
	got := compare(t, d, now)
	turned := 0
	for h, was := range of {
		if got.Kind[now.FaceOf(mesh.HalfedgeID(h))] != revise.New && got.UV[h] != d.State.Map.At(was) {
			turned++
		}
	}
	if turned > len(of)/100 || got.Count(revise.New) > now.NumFaces()/100 {
		t.Errorf("%d of %d corners lie elsewhere, %d faces are new", turned, len(of), got.Count(revise.New))
	}
}

// The winch in its next revision: what did not change keeps its coordinates to the bit, the rest is
// laid where there is room, and nothing is wrong that was not before.
func TestTheNextRevisionOfTheWinch(t *testing.T) {
	old := finished(t, modeltest.Mesh(t, "line-winch"))
	now := finished(t, modeltest.Mesh(t, "line-winch-b"))
	m := compare(t, old, now.Mesh)
	crowded, c, err := revise.Carry(context.Background(), old, now, m)
	if err != nil {
		t.Fatal(err)
	}
	if got := proof.Measure(now.With(crowded).ProofInput()).Totals; c.Waiting == 0 && c.Smaller == 0 || got.OverlapShare > 1e-6 || got.Unmapped > 0 {
		t.Errorf("on a sheet that is full it is %+v, %+v", c, got)
	}
	room := now.State.Begin()
	room.Settings.Sheet.Tiles = 2
	now = now.With(room.Done())
	s, c, err := revise.Carry(context.Background(), old, now, m)
	if err != nil {
		t.Fatal(err)
	}
	if c.Kept+c.Moved+c.Remeshed+c.New != now.Mesh.NumFaces() || c.New == 0 || c.Gone == 0 {
		t.Errorf("it is %+v of %d faces", c, now.Mesh.NumFaces())
	}
	// Unchanged is a face of which the middle, area and corners are in both; told apart from the matching.
	type look struct{ x, y, z, area int64 }
	round := func(v float64) int64 { return int64(math.Round(v * 1e6)) }
	looks := func(m *mesh.Mesh, f mesh.FaceID) look {
		p := m.FaceCentre(f)
		return look{round(p.X), round(p.Y), round(p.Z), round(m.FaceAreas()[f])}
	}
	there := map[look]mesh.FaceID{}
	for f := range mesh.FaceID(old.Mesh.NumFaces()) {
		there[looks(old.Mesh, f)] = f
	}
	var unchanged, kept float64
	for f := range mesh.FaceID(now.Mesh.NumFaces()) {
		if _, ok := there[looks(now.Mesh, f)]; !ok {
			continue
		}
		a := now.Mesh.FaceAreas()[f]
		unchanged += a
		same := m.Kind[f] == revise.Kept
		lo, hi := now.Mesh.Corners(f)
		for h := lo; h < hi; h++ {
			same = same && s.Map.At(h) == m.UV[h]
		}
		if same {
			kept += a
		}
	}
	t.Logf("%.2f %% of the unchanged area, which is %.1f %% of all", 100*kept/unchanged, 100*unchanged/sum(now.Mesh.FaceAreas()))
	if kept < 0.95*unchanged {
		t.Errorf("%.1f %% of the unchanged area keeps its coordinates", 100*kept/unchanged)
	}
	foreseen(t, old, now, s, m, c)
	before, after := proof.Measure(old.ProofInput()), proof.Measure(now.With(s).ProofInput())
	if a := after.Totals; a.Unmapped+a.Mirrored+a.NoArea+a.Outside > 0 || a.OverlapShare > before.Totals.OverlapShare+1e-6 {
		t.Errorf("afterwards it is %+v", a)
	}
	if c.Waiting > 0 || c.Smaller > 0 || after.Totals.DensitySpread > 1.02 {
		t.Errorf("with another tile it is %+v, density %g", c, after.Totals.DensitySpread)
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := revise.Compare(ctx, old.State.Map, now.Mesh); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled: %v", err)
	}
}

// foreseen holds what is told before against what was made: it is known as soon as the parts are.
func foreseen(t *testing.T, old, now *document.Document, made *document.State, m revise.Match, c revise.Carried) {
	t.Helper()
	d := document.New(now.Source, now.State.Settings)
	s, err := edit.Apply(context.Background(), d, &partedits.Recognise{}, nil)
	if err != nil {
		t.Fatal(err)
	}
	look := revise.Foresee(old, d.With(s), m)
	if !reflect.DeepEqual(look.Carried, foretold(c)) || !reflect.DeepEqual(look, revise.Foresee(old, now, m)) {
		t.Errorf("it was to be %+v and is %+v", look.Carried, c)
	}
	for f, fate := range look.After {
		lo, hi := now.Mesh.Corners(mesh.FaceID(f))
		for h := lo; h < hi && fate != revise.Anew; h++ {
			if made.Map.At(h) != m.UV[h] {
				t.Fatalf("face %d was to stay", f)
			}
		}
	}
	var faces [4]int
	names := map[string]bool{}
	for _, p := range made.Parts {
		names[p.Name] = true
	}
	for _, p := range look.Parts {
		for k, n := range p.Faces {
			faces[k] += n
		}
		if there := p.Now != mesh.None; there && !names[p.Name] || !there && p.Faces != [4]int{revise.Gone: p.Faces[revise.Gone]} {
			t.Errorf("%s is told as %+v", p.Name, p)
		}
	}
	if want := [4]int{c.Kept, c.Moved + c.Remeshed, c.New, c.Gone}; faces != want {
		t.Errorf("part by part it is %v, in all %v", faces, want)
	}
}

// foretold is what can be known of a revision before it is made.
func foretold(c revise.Carried) revise.Carried {
	c.InPlace, c.Smaller, c.Waiting, c.Maps = 0, 0, 0, nil
	return c
}

func sum(all []float64) (s float64) {
	for _, v := range all {
		s += v
	}
	return s
}
