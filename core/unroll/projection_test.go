package unroll

import (
	"context"
	"errors"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
)

func upright(kind Kind) Projection {
	return Projection{Kind: kind, Axis: r3.Vec{Y: 1}, Up: r3.Vec{Y: 1}, Width: 1, Height: 1}
}

// laid cuts all faces of a mesh as a projection says and lays what hangs together.
func laid(t *testing.T, m *mesh.Mesh, pr Projection) (patches []*mesh.Patch, maps [][]r2.Vec) {
	t.Helper()
	if err := pr.Check(); err != nil {
		t.Fatal(err)
	}
	faces := meshtest.All(m)
	cut := map[mesh.EdgeID]bool{}
	for _, e := range pr.Seams(m, faces) {
		cut[e] = true
	}
	for _, group := range m.Connected(faces, func(e mesh.EdgeID) bool { return cut[e] }) {
		p := mesh.NewPatch(m, group, func(e mesh.EdgeID) bool { return cut[e] })
		uv, err := pr.Lay(context.Background(), p)
		if err != nil {
			t.Fatal(err)
		}
		patches, maps = append(patches, p), append(maps, uv)
	}
	return patches, maps
}

func size(uv []r2.Vec) r2.Vec {
	lo, hi := uv[0], uv[0]
	for _, q := range uv {
		lo, hi = r2.Vec{X: min(lo.X, q.X), Y: min(lo.Y, q.Y)}, r2.Vec{X: max(hi.X, q.X), Y: max(hi.Y, q.Y)}
	}
	return r2.Sub(hi, lo)
}

// Every kind that unrolls gives an isometry of closed walls that can lie flat, wherever
// they stand and however large they are, as wide as their chords are long.
func TestProjectionsOfWallsAreIsometries(t *testing.T) {
	star := []r2.Vec{}
	var outline float64
	for i := range 10 {
		s, c := math.Sincos(2 * math.Pi * float64(i) / 10)
		r := 1 + 0.4*float64(i%2)
		star = append(star, r2.Vec{X: r * c, Y: -r * s})
	}
	for i := range star {
		outline += r2.Norm(r2.Sub(star[i], star[(i+1)%10]))
	}
	const n = 20
	side := 2 * math.Sin(math.Pi/n)
	prism := func(w *meshtest.Welder) *mesh.Mesh {
		for i := range star {
			a, b := star[i], star[(i+1)%10]
			p := func(q r2.Vec, y float64) mesh.PointID { return w.Point(r3.Vec{X: q.X, Y: y, Z: q.Y}) }
			w.Face(p(a, 0), p(b, 0), p(b, 2), p(a, 2))
		}
		return w.Mesh(t)
	}
	for _, c := range []struct {
		name string
		kind Kind
		m    *mesh.Mesh
		wide float64 // 0: as it comes
		high float64
	}{
		{"cylinder", Cylindrical, meshtest.Lathe(t, n, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 2}), n * side, 2},
		{"cylinder as turned", Profiled, meshtest.Lathe(t, n, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 2}), n * side, 2},
		{"cylinder as prism", Prismatic, meshtest.Lathe(t, n, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 2}), n * side, 2},
		{"cone", Conical, meshtest.Lathe(t, n, r2.Vec{X: 2}, r2.Vec{X: 0.5, Y: 1}), 0, 0},
		{"funnel", Conical, meshtest.Lathe(t, n, r2.Vec{X: 0.5}, r2.Vec{X: 2, Y: 1}), 0, 0},
		{"star prism", Prismatic, prism(meshtest.NewWelder()), outline, 2},
	} {
		for _, turn := range []float64{0, 37, 190} {
			for _, k := range []float64{1, 1000, 1e-3} {
				place := r3.NewRotation(turn*math.Pi/180, r3.Vec{X: 1, Y: 2, Z: -1})
				m := meshtest.Mapped(t, c.m, func(q r3.Vec) r3.Vec { return r3.Add(r3.Scale(k, place.Rotate(q)), r3.Vec{X: 3 * k}) })
				pr := Projection{Kind: c.kind, Axis: place.Rotate(r3.Vec{Y: 1}), Up: place.Rotate(r3.Vec{Y: 1}),
					Origin: r3.Vec{X: 3 * k}, TurnDeg: turn, Width: 1, Height: 1}
				patches, maps := laid(t, m, pr)
				if len(patches) != 1 {
					t.Fatalf("%s: falls into %d", c.name, len(patches))
				}
				if w := worstStretch(patches[0], maps[0]); w > 1e-6 || flatten.Flips(patches[0], maps[0]) > 0 {
					t.Errorf("%s, turned by %g°, × %g: stretch off by %g, %d flips", c.name, turn, k, w, flatten.Flips(patches[0], maps[0]))
				}
				got := size(maps[0])
				if c.wide > 0 && (math.Abs(got.X/k-c.wide) > 1e-6 || math.Abs(got.Y/k-c.high) > 1e-6) {
					t.Errorf("%s, turned by %g°, × %g: %v for %g × %g", c.name, turn, k, r2.Scale(1/k, got), c.wide, c.high)
				}
			}
		}
	}
}

// The opening is where the turn says, and what lies right of it comes first.
func TestOpeningFollowsTheTurn(t *testing.T) {
	m := meshtest.Lathe(t, 36, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1})
	for _, turn := range []float64{0, 40, -130} {
		pr := upright(Cylindrical)
		pr.TurnDeg = turn
		cuts := pr.Seams(m, meshtest.All(m))
		if len(cuts) != 1 {
			t.Fatalf("%d cuts at %g°", len(cuts), turn)
		}
		p := m.Points[m.From(m.EdgeHalf(cuts[0]))]
		at := r3.Rotate(r3.Vec{Z: -1}, turn*math.Pi/180, r3.Vec{Y: 1}) // counted from the back
		if d := math.Hypot(p.X-at.X, p.Z-at.Z); d > 0.12 {
			t.Errorf("at %g° it is cut at %v, expected about %v", turn, p, at)
		}
	}
}

// A wall seen from within comes out mirrored, and turned over it reads.
func TestInnerWallsAreTurnedOverByFlip(t *testing.T) {
	m := meshtest.Lathe(t, 16, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1})
	patches, maps := laid(t, m, upright(Cylindrical))
	if !Mirrored(patches[0], maps[0]) {
		t.Error("the inside of a wall should be mirrored as it is")
	}
	pr := upright(Cylindrical)
	pr.Flip, pr.Width, pr.Height = true, 4, 4
	pr.OnSheet(maps[0])
	if flatten.Flips(patches[0], maps[0]) != 0 {
		t.Error("turned over it should read")
	}
	if got := size(maps[0]); math.Abs(got.Y-0.25) > 1e-9 {
		t.Errorf("a height of 1 is %g of a sheet that covers 4", got.Y)
	}
}

func TestPlanarLooksAlongItsAxis(t *testing.T) {
	m := meshtest.Grid(t, 3, 2, func(u, v float64) r3.Vec { return r3.Vec{X: 3 * u, Y: 2 * v, Z: 1} })
	pr := Projection{Kind: Flat, Axis: r3.Vec{Z: 2}, Up: r3.Vec{Y: 1}, Origin: r3.Vec{X: 1, Y: 1}, Width: 1, Height: 1}
	patches, maps := laid(t, m, pr)
	for v, q := range patches[0].Pos {
		if want := (r2.Vec{X: q.X - 1, Y: q.Y - 1}); r2.Norm(r2.Sub(maps[0][v], want)) > 1e-12 {
			t.Fatalf("%v lies at %v", q, maps[0][v])
		}
	}
	pr.TurnDeg = 90 // the top goes to the left, so what was right is up
	_, maps = laid(t, m, pr)
	for v, q := range patches[0].Pos {
		if want := (r2.Vec{X: q.Y - 1, Y: 1 - q.X}); r2.Norm(r2.Sub(maps[0][v], want)) > 1e-12 {
			t.Fatalf("turned, %v lies at %v, not %v", q, maps[0][v], want)
		}
	}
}

// Front and back of a plate land on each other: it is said, and they can be laid apart,
// both readable.
func TestFrontAndBackAreLaidApart(t *testing.T) {
	m := meshtest.Prism(t, 0.2, meshtest.Circle(1, 12)...)
	pr := Projection{Kind: Flat, Axis: r3.Vec{Y: 1}, Up: r3.Vec{Z: -1}, Width: 1, Height: 1}
	if away := pr.Away(m, meshtest.All(m)); len(away) != 1 {
		t.Errorf("%d faces look away, of the one underside", len(away))
	}
	pr.Apart = true
	if away := pr.Away(m, meshtest.All(m)); len(away) != 0 {
		t.Errorf("apart, %d faces still look away", len(away))
	}
	patches, maps := laid(t, m, pr)
	if len(patches) != 2 {
		t.Fatalf("%d shells", len(patches))
	}
	for i, p := range patches {
		for k, f := range p.TriFace {
			tri := p.Tris[k]
			a := r2.Cross(r2.Sub(maps[i][tri[1]], maps[i][tri[0]]), r2.Sub(maps[i][tri[2]], maps[i][tri[0]]))
			if math.Abs(m.FaceNormals()[p.Faces[f]].Y) > 0.5 && a <= 0 {
				t.Errorf("shell %d is mirrored", i)
			}
		}
	}
}

// A ball in a box falls into six sides, each a whole, though its faces near the edges
// are uneven.
func TestBoxSidesDoNotFlicker(t *testing.T) {
	k := 0
	m := meshtest.Mapped(t, meshtest.Lathe(t, 24, ball(12)...), func(p r3.Vec) r3.Vec {
		k++
		return r3.Add(p, r3.Vec{X: 0.02 * math.Sin(float64(37*k)), Y: 0.02 * math.Cos(float64(91*k))})
	})
	pr := upright(Boxed)
	patches, maps := laid(t, m, pr)
	if len(patches) != 6 {
		t.Errorf("falls into %d shells", len(patches))
	}
	for i, p := range patches {
		if n := flatten.Flips(p, maps[i]); n > 0 {
			t.Errorf("shell %d: %d faces turned over", i, n)
		}
	}
}

func ball(n int) (profile []r2.Vec) {
	for i := range n + 1 {
		s, c := math.Sincos(math.Pi * float64(i) / float64(n))
		profile = append(profile, r2.Vec{X: s, Y: -c})
	}
	profile[0].X, profile[n].X = 0, 0
	return profile
}

// A ball by longitude and latitude: as wide as its girth, half as high, nothing over.
func TestSphericalIsLongitudeAndLatitude(t *testing.T) {
	m := meshtest.Lathe(t, 32, ball(16)...)
	patches, maps := laid(t, m, upright(Spherical))
	if len(patches) != 1 {
		t.Fatalf("falls into %d", len(patches))
	}
	got := size(maps[0])
	if math.Abs(got.X-2*math.Pi) > 0.01 || math.Abs(got.Y-math.Pi) > 0.01 || flatten.Flips(patches[0], maps[0]) > 0 {
		t.Errorf("%v, %d flips", got, flatten.Flips(patches[0], maps[0]))
	}
}

// A bent strip of quads comes out as a rectangle, rows as high as they are on the mean.
func TestStripsAreLaidStraight(t *testing.T) {
	m := meshtest.Grid(t, 20, 3, func(u, v float64) r3.Vec {
		s, c := math.Sincos(2 * u)
		return r3.Vec{X: (3 + 0.5*v) * c, Y: 0.2 * v, Z: -(3 + 0.5*v) * s}
	})
	patches, maps := laid(t, m, upright(Strips))
	at := map[float64]bool{}
	for _, q := range maps[0] {
		at[math.Round(q.Y*1e6)] = true
	}
	uv, ok := Grid(patches[0])
	if !ok {
		t.Fatal("not seen as a grid")
	}
	us, vs := map[float64]bool{}, map[float64]bool{}
	for _, q := range uv {
		us[math.Round(q.X*1e6)], vs[math.Round(q.Y*1e6)] = true, true
	}
	if len(us)*len(vs) != 21*4 || flatten.Flips(patches[0], uv) != 0 {
		t.Errorf("%d × %d lines", len(us), len(vs))
	}
	mean := 0.0
	for j := range 4 {
		mean += 20 * 2 * (3 + 0.5*float64(j)/3) * math.Sin(0.05) / 4 // chords
	}
	if got := size(maps[0]); math.Abs(max(got.X, got.Y)-mean) > 0.02*mean {
		t.Errorf("%v for a mean length of %g", got, mean)
	}
	if _, ok := Grid(meshtest.Whole(meshtest.Lathe(t, 8, ball(6)...))); ok {
		t.Error("a ball is no grid")
	}
}

func TestImpossibleProjectionsAreRefused(t *testing.T) {
	for name, change := range map[string]func(*Projection){
		"width":  func(p *Projection) { p.Width = 0 },
		"height": func(p *Projection) { p.Height = -1 },
		"locked": func(p *Projection) { p.Height = 2 },
		"nan":    func(p *Projection) { p.Width, p.Height = math.NaN(), math.NaN() },
		"axis":   func(p *Projection) { p.Axis = r3.Vec{} },
		"up":     func(p *Projection) { p.Up = r3.Vec{X: math.Inf(1)} },
		"turn":   func(p *Projection) { p.TurnDeg = math.NaN() },
		"origin": func(p *Projection) { p.Origin.X = math.NaN() },
		"kind":   func(p *Projection) { p.Kind = "wished" },
	} {
		pr := upright(Cylindrical)
		change(&pr)
		if err := pr.Check(); !errors.Is(err, ErrProjection) {
			t.Errorf("%s: %v", name, err)
		}
	}
	pr := upright(Cylindrical)
	pr.Free, pr.Height = true, 2
	if err := pr.Check(); err != nil {
		t.Errorf("unlocked: %v", err)
	}
}

// A vase is divided where its radius changes too much for one rectangle; its foot, a
// cone, and its wall are laid without stretch, the belly with as little as is allowed.
func TestTurnedWallsAreDividedByRadius(t *testing.T) {
	m := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1, Y: 1}, r2.Vec{X: 1.1, Y: 1.5}, r2.Vec{X: 1.2, Y: 2}, r2.Vec{X: 2.2, Y: 2.5}, r2.Vec{X: 2.2, Y: 4})
	pr := upright(Profiled)
	patches, maps := laid(t, m, pr)
	if len(patches) != 4 { // foot, neck, shoulder, belly
		t.Fatalf("falls into %d", len(patches))
	}
	for i, p := range patches {
		if _, angular := p.Stretch(maps[i]); angular > wallStretch || flatten.Flips(p, maps[i]) > 0 {
			t.Errorf("piece %d of %d faces: angular %g, %d flips", i, len(p.Faces), angular, flatten.Flips(p, maps[i]))
		}
		if len(p.Faces) == 24 {
			if w := worstStretch(p, maps[i]); w > 1e-6 {
				t.Errorf("a piece of one row is off by %g", w)
			}
		}
	}
	even := meshtest.Lathe(t, 24, r2.Vec{X: 1}, r2.Vec{X: 1.05, Y: 1}, r2.Vec{X: 1, Y: 2})
	if patches, _ := laid(t, even, pr); len(patches) != 1 {
		t.Errorf("a wall that hardly bulges falls into %d", len(patches))
	}
}
