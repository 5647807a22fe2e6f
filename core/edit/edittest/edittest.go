package edittest

import (
	"context"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/projectedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/lay"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/proof"
	"morvek/core/shape"
	"morvek/core/sheet"
	"morvek/core/unroll"
)

// Attached recognises, opens, attaches and flattens m with the dial as given.
func Attached(t testing.TB, m *mesh.Mesh, dial float64) *document.Document {
	t.Helper()
	set := document.DefaultSettings()
	set.Dial = dial
	return Apply(t, document.New(m, set), &partedits.Recognise{}, &seamedits.Open{}, &seamedits.Attach{}, &flowedits.Flatten{}, &sheetedits.Pack{})
}

func CheckAttached(t *testing.T, d *document.Document, shells int) {
	t.Helper()
	r := Measure(d)
	if len(r.Shells) != shells {
		t.Errorf("%d shells, want %d", len(r.Shells), shells)
	}
	if o := r.Totals.OverlapShare; o != 0 {
		t.Errorf("overlap of %g", o)
	}
	for i, s := range r.Shells {
		p := mesh.NewPatch(d.Mesh, s.Faces, d.State.Map.IsCut)
		if !p.IsDisk() || math.Abs(s.L2-1) > 1e-9 || s.Mirrored > 0 || s.GrainErrDeg > 0.5 {
			t.Errorf("shell %d: disk %v, L2 %.12g, %d mirrored, %.2f° off the grain", i, p.IsDisk(), s.L2, s.Mirrored, s.GrainErrDeg)
		}
	}
}

// Cuboid is a box of a × b × c with its corner in the origin.
func Cuboid(t testing.TB, a, b, c float64) *mesh.Mesh {
	return meshtest.Prism(t, b, r2.Vec{}, r2.Vec{X: a}, r2.Vec{X: a, Y: c}, r2.Vec{Y: c})
}

// Bollard is an open tube of three walls with two cones between them, radius 1, 1.06, 1.
func Bollard(t *testing.T) *document.Document {
	t.Helper()
	m := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 2}, r2.Vec{X: 1.06, Y: 2.1}, r2.Vec{X: 1.06, Y: 3}, r2.Vec{X: 1, Y: 3.1}, r2.Vec{X: 1, Y: 5})
	return document.New(m, document.DefaultSettings())
}

func AtDetail(x float64) document.Reading { return document.Reading{Detail: &x} }

// Plates are two of ash and one of steel, 2 by 1 each, apart.
func Plates(t *testing.T) *document.Document {
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
	return Apply(t, document.New(m, document.DefaultSettings()), &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
}

// Halves is a jar cut all the way at half its height, both halves flat on the sheet.
func Halves(t *testing.T) (d *document.Document, ring []mesh.EdgeID) {
	d = Apply(t, Jar(t, 24), &partedits.Recognise{}, &seamedits.Open{})
	for e := range d.Mesh.NumEdges() {
		h := d.Mesh.EdgeHalf(mesh.EdgeID(e))
		if a, b := d.Mesh.Points[d.Mesh.From(h)], d.Mesh.Points[d.Mesh.To(h)]; a.Y == 1 && b.Y == 1 {
			ring = append(ring, mesh.EdgeID(e))
		}
	}
	return Apply(t, d, &seamedits.Cut{Edges: ring}, &flowedits.Flatten{}, &sheetedits.Pack{}), ring
}

func Ptr[T any](v T) *T { return &v }

// Strips is a flat board of 4 × 1 quads, the last column another part.
func Strips(t *testing.T) *document.Document {
	b := meshtest.NewWelder()
	at := func(x, z float64) mesh.PointID { return b.Point(r3.Vec{X: x, Z: z, Y: 0.2 * math.Max(0, x-2)}) }
	for x := range 4 {
		b.Face(at(float64(x), 0), at(float64(x), 1), at(float64(x+1), 1), at(float64(x+1), 0))
	}
	d := document.New(b.Mesh(t), document.DefaultSettings())
	return Apply(t, d, &partedits.PartOff{Faces: []mesh.FaceID{2, 3}}, &flowedits.Flatten{}, &sheetedits.Pack{})
}

// Box is a block with all of its job done.
func Box(t *testing.T, turns sheet.Turns) *document.Document {
	t.Helper()
	set := document.DefaultSettings()
	set.Turns = turns
	d := document.New(meshtest.Prism(t, 2, r2.Vec{}, r2.Vec{X: 3}, r2.Vec{X: 3, Y: -1}, r2.Vec{Y: -1}), set)
	return Apply(t, d, &partedits.Recognise{}, &flowedits.Flatten{}, &sheetedits.Pack{})
}

// Side returns the faces that look along n.
func Side(d *document.Document, n r3.Vec) (out []mesh.FaceID) {
	for f, m := range d.Mesh.FaceNormals() {
		if r3.Dot(m, n) > 0.99 {
			out = append(out, mesh.FaceID(f))
		}
	}
	return out
}

func Coverage(d *document.Document) (sum float64) {
	for _, t := range d.State.Map.Triangles(meshtest.All(d.Mesh)) {
		sum += math.Abs(t.Area())
	}
	return sum
}

func ShellCount(d *document.Document) int {
	shells, _ := d.State.Map.Shells()
	return len(shells)
}

// Strip is the faces of the belt.
func Strip(d *document.Document) (out []mesh.FaceID) {
	for f := range mesh.FaceID(d.Mesh.NumFaces()) {
		if d.Mesh.FaceCentre(f).Z > -1 {
			out = append(out, f)
		}
	}
	return out
}

// Jar is an open wall of n sides, radius 1, height 2 in four rows: what a label goes round.
func Jar(t testing.TB, n int) *document.Document {
	t.Helper()
	const rows = 4
	b := mesh.NewBuilder()
	for r := range rows + 1 {
		for i := range n {
			s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
			b.Point(r3.Vec{X: s, Y: 2 * float64(r) / rows, Z: c})
		}
	}
	at := func(r, i int) mesh.PointID { return mesh.PointID(r*n + i%n) }
	for r := range rows {
		for i := range n {
			b.Face(at(r, i), at(r, i+1), at(r+1, i+1), at(r+1, i))
		}
	}
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	return document.New(m, document.DefaultSettings())
}

func Apply(t testing.TB, d *document.Document, edits ...edit.Edit) *document.Document {
	t.Helper()
	for _, e := range edits {
		b, err := edit.Encode(e) // every edit goes through its JSON form
		if err != nil {
			t.Fatal(err)
		}
		if e, err = edit.Decode(b); err != nil {
			t.Fatal(err)
		}
		s, err := e.Apply(context.Background(), d, nil)
		if err != nil {
			t.Fatalf("%s: %v", e.Kind(), err)
		}
		d = d.With(s)
	}
	return d
}

func Measure(d *document.Document) proof.Report { return proof.Measure(d.ProofInput()) }

// Restored is a document as it comes back from the store.
func Restored(t *testing.T, d *document.Document) *document.Document {
	t.Helper()
	b, err := d.State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	back, err := document.Restore(d.Source, b)
	if err != nil {
		t.Fatal(err)
	}
	if left := document.Diff(d.State, back.State); !left.Empty() {
		t.Errorf("comes back from the store changed: %+v", left)
	}
	return back
}

// Moved is a document with all corners of its map somewhere else.
func Moved(d *document.Document, to func(r2.Vec) r2.Vec) *document.Document {
	tx := d.Begin()
	tx.Map.Transform(meshtest.All(d.Mesh), to)
	return d.With(tx.Done())
}

// Wings is two scalene plates, one the mirror image of the other at X = 0.
func Wings(t *testing.T) *document.Document {
	t.Helper()
	w := meshtest.NewWelder()
	outline := []r3.Vec{{X: 1}, {X: 4}, {X: 3, Y: 2}, {X: 1, Y: 0.7}}
	var right, left []mesh.PointID
	for i := range outline {
		right = append(right, w.Point(outline[i]))
		q := outline[len(outline)-1-i]
		left = append(left, w.Point(r3.Vec{X: -q.X, Y: q.Y}))
	}
	w.Face(right...)
	w.Face(left...)
	return document.New(w.Mesh(t), document.DefaultSettings())
}

// Cans is a row of n equal cans with lids, the last one narrower.
func Cans(t *testing.T, n int) *document.Document {
	t.Helper()
	w := meshtest.NewWelder()
	for k := range n {
		r := 1.0
		if k == n-1 && n > 1 {
			r = 0.7
		}
		o := r3.Vec{X: 4 * float64(k)}
		const sides = 16
		ring := func(y float64) (out []mesh.PointID) {
			for i := range sides {
				s, c := math.Sincos(2 * math.Pi * float64(i) / sides)
				out = append(out, w.Point(r3.Add(o, r3.Vec{X: r * s, Y: y, Z: r * c})))
			}
			return out
		}
		low, high := ring(0), ring(2)
		for i := range sides {
			j := (i + 1) % sides
			w.Face(low[i], low[j], high[j], high[i])
		}
		slices.Reverse(low)
		w.Face(low...)
		w.Face(high...)
	}
	return document.New(w.Mesh(t), document.DefaultSettings())
}

func Refused(t *testing.T, d *document.Document, e edit.Edit, says string) {
	t.Helper()
	_, err := e.Apply(context.Background(), d, nil)
	if !errors.Is(err, document.ErrRefused) || !strings.Contains(err.Error(), says) {
		t.Errorf("%s: error %v, want a refusal that says %q", e.Kind(), err, says)
	}
}

func PartOf(t *testing.T, d *document.Document, k shape.Kind) document.PartID {
	t.Helper()
	for i, p := range d.State.Parts {
		if p.Fit.Kind == k {
			return document.PartID(i)
		}
	}
	t.Fatalf("no part is %s", k)
	return 0
}

// CheckParts holds what is true of every state: faces belong to parts that exist,
// parts have faces, and cuts run along their borders.
func CheckParts(t *testing.T, d *document.Document) {
	t.Helper()
	if err := d.State.Fits(); err != nil {
		t.Fatal(err)
	}
	for i, f := range d.State.PartFaces() {
		if len(f) == 0 {
			t.Errorf("part %d, %s, has no faces", i, d.State.Parts[i].Name)
		}
	}
	for e := range d.Mesh.NumEdges() {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(e))
		if b != mesh.None && d.State.PartOf(a) != d.State.PartOf(b) && !d.State.Map.IsCut(mesh.EdgeID(e)) {
			t.Errorf("edge %d between two parts is not cut", e)
		}
	}
	for i, p := range d.State.Parts {
		if q := p.RepeatOf; q != nil && (*q < 0 || int(*q) >= len(d.State.Parts) || int(*q) == i) {
			t.Errorf("part %d refers to part %d of %d", i, *q, len(d.State.Parts))
		}
	}
}

func Project(d *document.Document, kind unroll.Kind, change func(*unroll.Projection)) *projectedits.Project {
	faces := meshtest.All(d.Mesh)
	pr := lay.Fitted(d, faces, kind)
	if change != nil {
		change(&pr)
	}
	return &projectedits.Project{Faces: faces, Projection: pr}
}

func SizeOf(d *document.Document, faces []mesh.FaceID) r2.Vec {
	lo, hi := r2.Vec{X: math.Inf(1), Y: math.Inf(1)}, r2.Vec{X: math.Inf(-1), Y: math.Inf(-1)}
	for _, f := range faces {
		a, b := d.Mesh.Corners(f)
		for _, q := range d.State.Map.UV()[a:b] {
			lo, hi = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}, r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
		}
	}
	return r2.Sub(hi, lo)
}

// Hood is a bulging panel, flattened and packed.
func Hood(t testing.TB) *document.Document {
	m := meshtest.Grid(t, 12, 9, func(u, v float64) r3.Vec {
		return r3.Vec{X: 4 * u, Z: -3 * v, Y: 0.6 * math.Sin(math.Pi*u) * math.Sin(math.Pi*v)}
	})
	return Apply(t, document.New(m, document.DefaultSettings()), &flowedits.Flatten{}, &sheetedits.Pack{})
}

// CornerAt returns a corner of the point nearest to a place in space.
func CornerAt(d *document.Document, p r3.Vec) mesh.HalfedgeID {
	best := mesh.HalfedgeID(0)
	for c := range mesh.HalfedgeID(d.Mesh.NumCorners()) {
		if r3.Norm(r3.Sub(d.Mesh.Points[d.Mesh.From(c)], p)) < r3.Norm(r3.Sub(d.Mesh.Points[d.Mesh.From(best)], p)) {
			best = c
		}
	}
	return best
}

// Torn counts edges that are apart on the sheet without a cut.
func Torn(d *document.Document) (n int) {
	for e := range mesh.EdgeID(d.Mesh.NumEdges()) {
		if _, b := d.Mesh.EdgeFaces(e); b != mesh.None && !d.State.Map.IsCut(e) && d.State.Map.Torn(e) {
			n++
		}
	}
	return n
}

func Worst(d *document.Document) float64 { return Measure(d).Shells[0].Linf }

// Openings are the cuts between two faces of one part.
func Openings(d *document.Document) (out []mesh.EdgeID) {
	for i, c := range d.State.Map.Cuts() {
		a, b := d.Mesh.EdgeFaces(mesh.EdgeID(i))
		if c && b != mesh.None && d.State.PartOf(a) == d.State.PartOf(b) {
			out = append(out, mesh.EdgeID(i))
		}
	}
	return out
}

func Disks(t *testing.T, d *document.Document) {
	t.Helper()
	for _, s := range Measure(d).Shells {
		if p := mesh.NewPatch(d.Mesh, s.Faces, d.State.Map.IsCut); !p.IsDisk() {
			t.Errorf("shell of %s: Euler %d, %d borders", d.State.Parts[s.Part].Name, p.Euler(), len(p.Borders()))
		}
	}
}

// Bar is a bent bar of a section along a quarter arc, open at both ends.
func Bar(t *testing.T, sides int) *document.Document {
	return document.New(meshtest.Tube(t, 0.2, sides, meshtest.Arc(r3.Vec{}, 2, 0, 12)...), document.DefaultSettings())
}

// Guard is a panel that bends in its own plane and bulges a little, flattened and packed.
func Guard(t testing.TB) *document.Document {
	m := meshtest.Grid(t, 20, 4, func(u, v float64) r3.Vec {
		s, c := math.Sincos(0.6 * (u - 0.5))
		r := 4 + 0.5*v
		return r3.Vec{X: r * s, Y: 0.1 * math.Sin(math.Pi*u) * math.Sin(math.Pi*v), Z: -r * c}
	})
	return Apply(t, document.New(m, document.DefaultSettings()), &flowedits.Flatten{}, &sheetedits.Pack{})
}
