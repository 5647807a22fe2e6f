package models

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
)

// Score holds a recognition against the truth. Faces that may be anything do not
// count; all shares are by area.
type Score struct {
	Rand    float64 // adjusted Rand index of the pieces (Hubert & Arabie 1985)
	Shape   float64 // share of area with the right shape
	AxisDeg float64 // mean error of an axis over pieces found with the right shape
	Radius  float64 // mean relative error of a radius, likewise

	WorstAxisDeg, WorstRadius float64 // the same for the worst piece of 0.2 % of the area or more
	Wrong                     map[[2]shape.Kind]float64
}

// level takes a part apart into its pieces where the truth agrees better with these than
// with the whole: by the overlap of each true piece with its best match.
func (t Truth) level(area []float64, found []parts.Part) (out []parts.Part) {
	true_ := map[int]float64{}
	for f, id := range t.Piece {
		true_[int(id)] += area[f]
	}
	agree := func(list []parts.Part) (sum float64) {
		best, within := map[int]float64{}, map[int]float64{}
		for _, p := range list {
			own, all := map[int]float64{}, 0.0
			for _, f := range p.Faces {
				if id := int(t.Piece[f]); id != Anything {
					own[id] += area[f]
					all += area[f]
				}
			}
			for id, a := range own {
				best[id] = max(best[id], a/(true_[id]+all-a))
				within[id] += a
			}
		}
		for id, b := range best {
			sum += b * within[id]
		}
		return sum
	}
	for _, p := range found {
		if len(p.Pieces) > 0 && agree(p.Pieces) >= agree([]parts.Part{p})*(1-1e-9) {
			out = append(out, t.level(area, p.Pieces)...)
		} else {
			out = append(out, p)
		}
	}
	return out
}

// Judge compares recognised parts with the truth, each or its pieces, whichever fits.
func (t Truth) Judge(m *mesh.Mesh, found []parts.Part) Score {
	area := m.FaceAreas()
	pieces := t.level(area, found)
	joint := map[[2]int]float64{}
	rows, cols := map[int]float64{}, map[int]float64{}
	var total, right float64
	s := Score{Wrong: map[[2]shape.Kind]float64{}}
	for k, p := range pieces {
		for _, f := range p.Faces {
			id := int(t.Piece[f])
			if id == Anything {
				continue
			}
			a := area[f]
			joint[[2]int{id, k}] += a
			rows[id] += a
			cols[k] += a
			total += a
			if want := t.Pieces[id].Kind; want == p.Fit.Kind {
				right += a
			} else {
				s.Wrong[[2]shape.Kind{want, p.Fit.Kind}] += a
			}
		}
	}
	for k := range s.Wrong {
		s.Wrong[k] /= total
	}
	s.Shape = right / total
	// Areas stand for counts: scaled to many small units, pairs become squares.
	var sum, a2, b2 float64
	for _, v := range joint {
		sum += v * v
	}
	for _, v := range rows {
		a2 += v * v
	}
	for _, v := range cols {
		b2 += v * v
	}
	expected := a2 * b2 / (total * total)
	s.Rand = (sum - expected) / ((a2+b2)/2 - expected)
	var withAxis, withRadius float64
	for key, v := range joint {
		p, want := pieces[key[1]].Fit, t.Pieces[key[0]]
		if p.Kind != want.Kind || v < 0.5*rows[key[0]] || v < 2e-3*total {
			continue
		}
		if want.Axis != (r3.Vec{}) {
			e := mesh.Angle(p.Axis, want.Axis)
			e = min(e, math.Pi-e) * 180 / math.Pi
			s.AxisDeg += v * e
			withAxis += v
			s.WorstAxisDeg = max(s.WorstAxisDeg, e)
		}
		if want.Radius > 0 {
			e := math.Abs(p.Radius-want.Radius) / want.Radius
			s.Radius += v * e
			withRadius += v
			s.WorstRadius = max(s.WorstRadius, e)
		}
	}
	s.AxisDeg /= max(withAxis, 1e-300)
	s.Radius /= max(withRadius, 1e-300)
	return s
}
