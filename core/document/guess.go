package document

import (
	"cmp"
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
	"morvek/core/seam"
)

// largestInMetres is the diagonal, in model units, up to which a model is taken to be
// made in metres where its format knows no better: machines and products are smaller, and
// what is drawn in millimetres has larger numbers unless it is tiny.
const largestInMetres = 20

// restsOn is how much more of a model must lie flat on its lowest side along one axis than along
// the other for that one to be up, and standsOn the least share of its area that it can stand on.
const (
	restsOn  = 4
	standsOn = 1e-3
)

// Guess returns settings for a model that says nothing of its unit and its up: by its
// size and what is usual in its format, and by the side that it can stand on.
func Guess(m *mesh.Mesh, usual format.Habit, s Settings) Settings {
	if m.Diagonal() > cmp.Or(usual.Metres, largestInMetres) {
		s.Unit = "mm"
	}
	var all float64
	for _, a := range m.FaceAreas() {
		all += a
	}
	y, z := footing(m, r3.Vec{Y: 1}), footing(m, r3.Vec{Z: 1})
	stands := func(on, other float64) bool { return on > restsOn*other && on > standsOn*all }
	s.Up = seam.UpY
	if usual.Up == format.OftenZ && !stands(y, z) || usual.Up == format.OftenY && stands(z, y) {
		s.Up = seam.UpZ
	}
	return s
}

// footing returns how much more area lies flat at the lowest place than at the highest:
// sides are alike, a foot and a top seldom are.
func footing(m *mesh.Mesh, up r3.Vec) (area float64) {
	lo, hi := m.Bounds()
	floor, roof, slack := r3.Dot(lo, up), r3.Dot(hi, up), 1e-3*m.Diagonal()
	for f, n := range m.FaceNormals() {
		at, tilt := r3.Dot(m.FaceCentre(mesh.FaceID(f)), up), r3.Dot(n, up)
		if tilt < -0.999 && math.Abs(at-floor) <= slack {
			area += m.FaceAreas()[f]
		} else if tilt > 0.999 && math.Abs(at-roof) <= slack {
			area -= m.FaceAreas()[f]
		}
	}
	return max(0, area)
}
