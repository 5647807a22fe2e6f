package models_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mend"
	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/models"
)

func TestModelsAreSoundAndTheSameEveryTime(t *testing.T) {
	for _, model := range models.Models() {
		m, truth, err := model.Known()
		if err != nil {
			t.Fatalf("%s: %v", model.Slug, err)
		}
		again, err := model.Mesh()
		if err != nil || !slices.Equal(m.Points, again.Points) || m.NumFaces() != again.NumFaces() {
			t.Errorf("%s differs when built again, %v", model.Slug, err)
		}
		if len(truth.Piece) != m.NumFaces() {
			t.Fatalf("%s: truth for %d of %d faces", model.Slug, len(truth.Piece), m.NumFaces())
		}
		used := make([]bool, len(truth.Pieces))
		for f, p := range truth.Piece {
			if p == models.Anything {
				continue
			}
			used[p] = true
			// The normals of a plane are its axis.
			if q := truth.Pieces[p]; q.Kind == shape.Plane {
				if a := mesh.Angle(m.FaceNormals()[f], q.Axis); min(a, math.Pi-a) > 1e-6 {
					t.Errorf("%s: face %d lies %g rad off its plane", model.Slug, f, a)
				}
			}
			if m.FaceAreas()[f] <= 0 {
				t.Errorf("%s: face %d has no area", model.Slug, f)
			}
		}
		for i, q := range truth.Pieces {
			if used[i] && q.Axis != (r3.Vec{}) && math.Abs(r3.Norm(q.Axis)-1) > 1e-9 {
				t.Errorf("%s: the axis of piece %d has length %g", model.Slug, i, r3.Norm(q.Axis))
			}
		}
	}
}

func TestFindRefusesUnknownModels(t *testing.T) {
	if _, err := models.Find("teapot"); err == nil {
		t.Error("a model nobody made was found")
	}
}

// told is the recognition that finds just what is true.
func told(m *mesh.Mesh, truth models.Truth) []parts.Part {
	out := make([]parts.Part, len(truth.Pieces))
	for i, p := range truth.Pieces {
		out[i].Fit = shape.Fit{Kind: p.Kind, Axis: p.Axis, Radius: p.Radius}
	}
	for f, p := range truth.Piece {
		if p != models.Anything {
			out[p].Faces = append(out[p].Faces, mesh.FaceID(f))
		}
	}
	return out
}

func TestJudgeKnowsRightFromWrong(t *testing.T) {
	model, err := models.Find("valve-block")
	if err != nil {
		t.Fatal(err)
	}
	m, truth, err := model.Known()
	if err != nil {
		t.Fatal(err)
	}
	right := truth.Judge(m, told(m, truth))
	if math.Abs(right.Rand-1) > 1e-9 || right.Shape != 1 || right.WorstAxisDeg > 1e-5 || right.WorstRadius != 0 || len(right.Wrong) != 0 {
		t.Errorf("the truth scores %+v", right)
	}

	// The largest cylinder stands for one piece that is found wrong.
	areas := m.FaceAreas()
	big, most := -1, 0.0
	for i, p := range told(m, truth) {
		var a float64
		for _, f := range p.Faces {
			a += areas[f]
		}
		if p.Fit.Kind == shape.Cylinder && a > most {
			big, most = i, a
		}
	}
	bent := told(m, truth)
	axis := bent[big].Fit.Axis
	side := r3.Unit(r3.Cross(axis, r3.Vec{X: 0.3, Y: 0.5, Z: 0.8}))
	bent[big].Fit.Axis = r3.NewRotation(3*math.Pi/180, side).Rotate(axis)
	bent[big].Fit.Radius *= 1.1
	if s := truth.Judge(m, bent); math.Abs(s.WorstAxisDeg-3) > 1e-6 || math.Abs(s.WorstRadius-0.1) > 1e-9 || s.AxisDeg <= 0 || s.Rand < 1-1e-9 {
		t.Errorf("3° and 10 %% off score %g° and %g", s.WorstAxisDeg, s.WorstRadius)
	}

	mistaken := told(m, truth)
	mistaken[big].Fit.Kind = shape.Cone
	s := truth.Judge(m, mistaken)
	if w := s.Wrong[[2]shape.Kind{shape.Cylinder, shape.Cone}]; w <= 0 || math.Abs(w-(1-s.Shape)) > 1e-9 {
		t.Errorf("a cylinder taken for a cone scores %+v", s)
	}

	whole := []parts.Part{{Fit: shape.Fit{Kind: shape.Free}}}
	for f := range m.NumFaces() {
		whole[0].Faces = append(whole[0].Faces, mesh.FaceID(f))
	}
	if s := truth.Judge(m, whole); math.Abs(s.Rand) > 1e-9 {
		t.Errorf("all in one has a Rand index of %g, want 0", s.Rand)
	}
	// Pieces count, not the part that unites them.
	united := []parts.Part{{Fit: shape.Fit{Kind: shape.Turned}, Pieces: told(m, truth)}}
	if s := truth.Judge(m, united); math.Abs(s.Rand-1) > 1e-9 || s.Shape != 1 {
		t.Errorf("united pieces score %+v", s)
	}
}

func TestJunkMapIsJunk(t *testing.T) {
	model, err := models.Find("storm-lamp")
	if err != nil {
		t.Fatal(err)
	}
	m, err := model.Mesh()
	if err != nil {
		t.Fatal(err)
	}
	c := models.JunkMap(m)
	var front, back int
	for f := range m.NumFaces() {
		lo, hi := m.Corners(mesh.FaceID(f))
		var twice float64
		for h := lo; h < hi; h++ {
			a, b := c.At(h), c.At(m.Next(h))
			twice += a.X*b.Y - b.X*a.Y
			if a.X < 0 || a.X > 1 || a.Y < 0 || a.Y > 1 {
				t.Fatalf("corner %d lies at %v", h, a)
			}
		}
		if twice > 0 {
			front++
		} else if twice < 0 {
			back++
		}
	}
	if front == 0 || back == 0 {
		t.Errorf("%d faces the right way, %d mirrored: both wanted", front, back)
	}
}

// The revision is a sound mesh: another length, one part more, two bolts fewer.
func TestTheRevisedWinch(t *testing.T) {
	count := func(slug string) (m *mesh.Mesh, bolts int) {
		model, err := models.Find(slug)
		if err != nil {
			t.Fatal(err)
		}
		if m, err = model.Mesh(); err != nil {
			t.Fatal(err)
		}
		for _, o := range m.Objects {
			if strings.HasPrefix(o, "bolt_") && !strings.HasSuffix(o, "washer") {
				bolts++
			}
		}
		return m, bolts
	}
	first, bolts := count("line-winch")
	m, left := count("line-winch-b")
	if left != bolts-2 || len(m.Objects) != len(first.Objects)-4+1 || !slices.Contains(m.Objects, "rib") {
		t.Errorf("%d bolts of %d, objects %q", left, bolts, m.Objects)
	}
	if found := mend.Find(m, mend.Options{}); len(found) > 0 {
		t.Errorf("it would be repaired: %+v", found[0])
	}
}
