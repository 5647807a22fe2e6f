package ids

// Forest are the numbers below its length, joined to sets that are named by their lowest number (disjoint
// sets by path halving, Tarjan and van Leeuwen 1984).
type Forest []int32

// NewForest has every number in a set of its own.
func NewForest(n int) Forest { return All[int32](n) }

// Root is the lowest number of a set.
func (f Forest) Root(i int32) int32 {
	for f[i] != i {
		f[i] = f[f[i]]
		i = f[i]
	}
	return i
}

// Join unites the sets of a and b; false if they were one already.
func (f Forest) Join(a, b int32) bool {
	a, b = f.Root(a), f.Root(b)
	if a == b {
		return false
	}
	f[max(a, b)] = min(a, b)
	return true
}
