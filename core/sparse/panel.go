package sparse

import "math"

// stripe is how many columns of a panel are brought up to date at once.
const stripe = 4

// panel factors a panel in place: the square of its own columns and the rows below.
// What stands above the diagonal is never read.
func (f *Factor) panel(b int, least float64, weighted, sums *[]float64) bool {
	s := f.s
	cols := int(s.first[b+1] - s.first[b])
	rows := cols + len(s.below[b])
	v := f.val[s.at[b]:s.at[b+1]]
	d := f.d[s.first[b]:s.first[b+1]]
	for j0 := 0; j0 < cols; j0 += stripe {
		w := min(stripe, cols-j0)
		if j0 > 0 {
			*weighted = grown(*weighted, w*j0)
			for j := range w {
				for c := range j0 {
					(*weighted)[j*j0+c] = v[(j0+j)*cols+c] * d[c]
				}
			}
			m := rows - j0
			*sums = grown(*sums, m*w)
			products(*sums, v[j0*cols:], cols, m, *weighted, w, j0)
			for i := range m {
				line := v[(j0+i)*cols+j0 : (j0+i)*cols+j0+w]
				for j := range line {
					line[j] -= (*sums)[i*w+j]
				}
			}
		}
		if !square(v[j0*cols+j0:], cols, w, d[j0:j0+w], least) {
			return false
		}
		below(v, cols, j0, w, rows, d)
	}
	return true
}

// square factors a small square in place, rows cols apart, its pivots into d.
func square(v []float64, cols, w int, d []float64, least float64) bool {
	for j := range w {
		own := v[j*cols : j*cols+j+1]
		for c := range j {
			x := own[c]
			for k, l := range v[c*cols : c*cols+c] {
				x -= own[k] * l * d[k]
			}
			own[c] = x / d[c]
		}
		pivot := own[j]
		for c, l := range own[:j] {
			pivot -= l * l * d[c]
		}
		if math.Abs(pivot) <= least || math.IsNaN(pivot) {
			return false
		}
		d[j] = pivot
	}
	return true
}

// below brings the rows below the square of columns j0 to j0+w in line with it.
func below(v []float64, cols, j0, w, rows int, d []float64) {
	var u [stripe][stripe]float64 // L·D of the square
	var inv [stripe]float64
	for j := range w {
		inv[j] = 1 / d[j0+j]
		for c := range j {
			u[j][c] = v[(j0+j)*cols+j0+c] * d[j0+c]
		}
	}
	for i := j0 + w; i < rows; i++ {
		line := v[i*cols+j0 : i*cols+j0+w]
		if w == stripe {
			a := line[0] * inv[0]
			b := (line[1] - a*u[1][0]) * inv[1]
			c := (line[2] - a*u[2][0] - b*u[2][1]) * inv[2]
			line[3] = (line[3] - a*u[3][0] - b*u[3][1] - c*u[3][2]) * inv[3]
			line[0], line[1], line[2] = a, b, c
			continue
		}
		for j := range line {
			x := line[j]
			for c := range j {
				x -= line[c] * u[j][c]
			}
			line[j] = x * inv[j]
		}
	}
}
