package planar

// SetRun sets bits x0 to x1 of a row of cells, 64 a word, the lowest bit first; none if x1 is
// less than x0.
func SetRun(row []uint64, x0, x1 int) {
	if x0 > x1 {
		return
	}
	first, last := x0/64, x1/64
	lo, hi := ^uint64(0)<<(x0%64), ^uint64(0)>>(63-x1%64)
	if first == last {
		row[first] |= lo & hi
		return
	}
	row[first] |= lo
	for w := first + 1; w < last; w++ {
		row[w] = ^uint64(0)
	}
	row[last] |= hi
}
