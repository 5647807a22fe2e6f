package sparse

// Panels are stored by rows, so that what meets in a product lies side by side. The
// kernels work on two rows against four at once: eight sums in registers.

// dot2x4 returns the products of two rows with four, all of one length.
func dot2x4(a0, a1, b0, b1, b2, b3 []float64) (s00, s01, s02, s03, s10, s11, s12, s13 float64) {
	n := len(a0)
	a1, b0, b1, b2, b3 = a1[:n], b0[:n], b1[:n], b2[:n], b3[:n]
	for k, x := range a0 {
		y := a1[k]
		p, q, r, s := b0[k], b1[k], b2[k], b3[k]
		s00 += x * p
		s01 += x * q
		s02 += x * r
		s03 += x * s
		s10 += y * p
		s11 += y * q
		s12 += y * r
		s13 += y * s
	}
	return
}

// dot2x1 returns the products of two rows with one.
func dot2x1(a0, a1, b []float64) (s0, s1 float64) {
	n := len(b)
	a0, a1 = a0[:n], a1[:n]
	for k, x := range b {
		s0 += a0[k] * x
		s1 += a1[k] * x
	}
	return s0, s1
}

// dot returns the product of two rows.
func dot(a, b []float64) (s float64) {
	b = b[:len(a)]
	for k, x := range a {
		s += x * b[k]
	}
	return s
}

// products writes rows·weightedᵀ: out[i*w+j] for m rows and w weighted rows, each of
// length k and stored one after the other with the given strides.
func products(out, rows []float64, stride, m int, weighted []float64, w, k int) {
	row := func(i int) []float64 { return rows[i*stride : i*stride+k] }
	with := func(j int) []float64 { return weighted[j*k : j*k+k] }
	whole := 0 // how much of each row goes through the fused kernel
	if fused {
		whole = k &^ 3
	}
	var sums [8]float64
	i := 0
	for ; i+1 < m; i += 2 {
		a0, a1 := row(i), row(i+1)
		o0, o1 := out[i*w:i*w+w], out[(i+1)*w:(i+1)*w+w]
		j := 0
		for ; j+3 < w; j += 4 {
			b0, b1, b2, b3 := with(j), with(j+1), with(j+2), with(j+3)
			if whole == 0 {
				o0[j], o0[j+1], o0[j+2], o0[j+3], o1[j], o1[j+1], o1[j+2], o1[j+3] = dot2x4(a0, a1, b0, b1, b2, b3)
				continue
			}
			fmaDot2x4(&a0[0], &a1[0], &b0[0], &b1[0], &b2[0], &b3[0], whole, &sums)
			for c := whole; c < k; c++ {
				x, y := a0[c], a1[c]
				sums[0] += x * b0[c]
				sums[1] += x * b1[c]
				sums[2] += x * b2[c]
				sums[3] += x * b3[c]
				sums[4] += y * b0[c]
				sums[5] += y * b1[c]
				sums[6] += y * b2[c]
				sums[7] += y * b3[c]
			}
			copy(o0[j:j+4], sums[:4])
			copy(o1[j:j+4], sums[4:])
		}
		for ; j < w; j++ {
			o0[j], o1[j] = dot2x1(a0, a1, with(j))
		}
	}
	if i < m {
		a := row(i)
		for j := range w {
			out[i*w+j] = dot(a, with(j))
		}
	}
}
