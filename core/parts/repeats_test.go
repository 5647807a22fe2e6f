package parts_test

import (
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/models/modeltest"
)

func partFaces(found []parts.Part) [][]mesh.FaceID {
	out := make([][]mesh.FaceID, len(found))
	for i, p := range found {
		out[i] = p.Faces
	}
	return out
}

// All bolts of the winch are one, its cheeks are mirror images, and every corner
// of a repeat lies where the corner of the first does.
func TestRepeatsOfTheWinch(t *testing.T) {
	m := modeltest.Mesh(t, "line-winch")
	faces := partFaces(recognise(t, m))
	list := parts.Repeats(m, faces)
	tops, mirrored := map[int]int{}, 0
	for i, r := range list {
		if r.Of == mesh.None {
			continue
		}
		if r.Of >= i {
			t.Fatalf("part %d repeats a later one, %d", i, r.Of)
		}
		name := m.ObjectName(faces[i][0])
		if name[:4] == "bolt" && m.ObjectName(faces[r.Of][0])[:4] == "bolt" {
			tops[r.Of]++
		}
		if r.Mirrored {
			mirrored++
		}
		pair, ok := parts.Correspond(m, faces[r.Of], faces[i], r.Mirrored)
		if !ok {
			t.Fatalf("part %d is a repeat of %d but has no correspondence", i, r.Of)
		}
		checkRigid(t, m, pair)
	}
	if len(tops) == 0 || mirrored == 0 {
		t.Errorf("%d kinds of repeated bolt faces, %d mirrored parts", len(tops), mirrored)
	}
	for first, n := range tops {
		if n < 23 {
			t.Errorf("bolt part %d has only %d repeats, 23 bolts more exist", first, n)
		}
	}
}

// checkRigid compares the distances of corners with those of their images.
func checkRigid(t *testing.T, m *mesh.Mesh, pair map[mesh.HalfedgeID]mesh.HalfedgeID) {
	t.Helper()
	var from, to []r3.Vec
	for a, b := range pair {
		from, to = append(from, m.Points[m.From(a)]), append(to, m.Points[m.From(b)])
	}
	for i := 1; i < len(from); i += 1 + len(from)/40 {
		a, b := r3.Norm(r3.Sub(from[i], from[0])), r3.Norm(r3.Sub(to[i], to[0]))
		if d := a - b; d > 1e-6 || d < -1e-6 {
			t.Fatalf("corners %g apart correspond to corners %g apart", a, b)
		}
	}
}

func TestMirrorPlane(t *testing.T) {
	for slug, want := range map[string]bool{"storm-lamp": true, "survey-case": true} {
		m := modeltest.Mesh(t, slug)
		mirror, ok := parts.FindMirror(m)
		if ok != want {
			t.Errorf("%s: mirror plane %v with %.2f of the area, want %v", slug, mirror.Normal, mirror.Share, want)
		}
	}
	// A lone scalene triangle has none.
	b := mesh.NewBuilder()
	b.Face(b.Point(r3.Vec{}), b.Point(r3.Vec{X: 3}), b.Point(r3.Vec{Y: 1, Z: 0.5}))
	m, err := b.Build()
	if err != nil {
		t.Fatal(err)
	}
	if mirror, ok := parts.FindMirror(m); ok && mirror.Share < 1 {
		t.Errorf("a scalene triangle mirrors in %v", mirror)
	}
}
