package sparse

import "slices"

// Symbolic is the analysis of a pattern: order, supernodes and the rows of each. It
// can factor any matrix of the same pattern. A supernode is a run of columns of L with
// the same rows below them; columns that nearly have are put together with a few zeros
// (relaxed amalgamation, Ashcraft & Grimes 1989), since dense blocks are quicker.
type Symbolic struct {
	n       int
	perm    []int32 // perm[k] is the original index eliminated k-th
	first   []int32 // first column of each supernode; one more than supernodes
	superOf []int32 // supernode of each column
	below   [][]int32
	at      []int // where the panel of each supernode starts; one more than supernodes
	// Permuted lower triangle: entry p of column j takes its value from a.Val[source[p]].
	loStart, loRow, source []int32
}

// Analyze orders and analyses the pattern of a.
func Analyze(a *Symmetric) *Symbolic { return AnalyzeOrdered(a, Order(a)) }

// AnalyzeOrdered analyses a for a given elimination order. Columns that do not depend
// on each other may change places, which leaves the fill as it is.
func AnalyzeOrdered(a *Symmetric, order []int32) *Symbolic {
	parent, count := eliminationTree(a, order)
	post := postorder(parent, count)
	perm, place := make([]int32, a.N), make([]int32, a.N)
	for k, j := range post {
		perm[k], place[j] = order[j], int32(k)
	}
	// The tree and its counts are the same, under other numbers.
	up, below := make([]int32, a.N), make([]int32, a.N)
	for k, j := range post {
		if up[k] = none; parent[j] != none {
			up[k] = place[parent[j]]
		}
		below[k] = count[j]
	}
	s := &Symbolic{n: a.N, perm: perm}
	s.supernodes(up, below)
	s.permute(a)
	s.rows()
	return s
}

// eliminationTree returns for each column of L, in the order given, the row of its
// first entry below the diagonal (none for a root) and how many entries it has there
// (Liu 1990).
func eliminationTree(a *Symmetric, order []int32) (parent, count []int32) {
	start, row, _ := permuted(a, order, true)
	parent, count = make([]int32, a.N), make([]int32, a.N)
	flag := make([]int32, a.N)
	for k := range a.N {
		parent[k], flag[k] = none, int32(k)
		for _, i := range row[start[k]:start[k+1]] {
			for ; flag[i] != int32(k); i = parent[i] {
				if parent[i] == none {
					parent[i] = int32(k)
				}
				count[i]++
				flag[i] = int32(k)
			}
		}
	}
	return parent, count
}

// permuted lists the entries of a permuted matrix by column: of the upper triangle or
// of the lower one, each with the place of its value in a.
func permuted(a *Symmetric, order []int32, upper bool) (start, row, source []int32) {
	inverse := make([]int32, a.N)
	for k, i := range order {
		inverse[i] = int32(k)
	}
	target := func(j int, p int32) (row, col int32) {
		row, col = inverse[a.Row[p]], inverse[j]
		if (row > col) == upper {
			row, col = col, row
		}
		return row, col
	}
	start = make([]int32, a.N+1)
	for j := range a.N {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			_, c := target(j, p)
			start[c+1]++
		}
	}
	for k := range a.N {
		start[k+1] += start[k]
	}
	fill := slices.Clone(start)
	row, source = make([]int32, len(a.Row)), make([]int32, len(a.Row))
	for j := range a.N {
		for p := a.ColStart[j]; p < a.ColStart[j+1]; p++ {
			r, c := target(j, p)
			row[fill[c]], source[fill[c]] = r, p
			fill[c]++
		}
	}
	return start, row, source
}

func (s *Symbolic) permute(a *Symmetric) { s.loStart, s.loRow, s.source = permuted(a, s.perm, false) }

// postorder lists the columns of a forest children first, each subtree in one run; the
// child with the most rows comes last, next to its parent, so that they can be one.
func postorder(parent, count []int32) []int32 {
	n := len(parent)
	child, sibling := make([]int32, n), make([]int32, n)
	for i := range child {
		child[i], sibling[i] = none, none
	}
	for j := n - 1; j >= 0; j-- {
		p := parent[j]
		if p == none {
			continue
		}
		// The largest stays at the front of the list: what is pushed first comes last.
		if c := child[p]; c != none && count[c] > count[j] {
			sibling[j], sibling[c] = sibling[c], int32(j)
			continue
		}
		sibling[j], child[p] = child[p], int32(j)
	}
	out := make([]int32, 0, n)
	var stack []int32
	for r := range n {
		if parent[r] != none {
			continue
		}
		stack = append(stack[:0], int32(r))
		for len(stack) > 0 {
			j := stack[len(stack)-1]
			if c := child[j]; c != none {
				child[j] = none
				for ; c != none; c = sibling[c] {
					stack = append(stack, c)
				}
				continue
			}
			stack = stack[:len(stack)-1]
			out = append(out, j)
		}
	}
	return out
}

// block is a supernode in the making.
type block struct {
	first, cols, rows int   // rows below the block
	filled            int64 // entries of L in it that are no padding
}

// entries of a block, its triangle included.
func (b block) entries() int64 {
	c := int64(b.cols)
	return c*int64(b.rows) + c*(c+1)/2
}

// padding tells whether a block may hold that share of zeros for its width.
func padding(b block) bool {
	zeros := float64(b.entries()-b.filled) / float64(b.entries())
	switch {
	case b.cols <= 4:
		return zeros < 0.5
	case b.cols <= 12:
		return zeros < 0.25
	case b.cols <= 40:
		return zeros < 0.1
	}
	return zeros < 0.04
}

// supernodes puts columns together, each into the block of its parent where they
// follow each other and little padding is needed.
func (s *Symbolic) supernodes(parent, count []int32) {
	var blocks []block
	for j := range s.n {
		b := block{first: j, cols: 1, rows: int(count[j]), filled: int64(count[j]) + 1}
		for len(blocks) > 0 {
			t := blocks[len(blocks)-1]
			// Its last column must hang on this block.
			if parent[t.first+t.cols-1] != int32(b.first) {
				break
			}
			u := block{first: t.first, cols: t.cols + b.cols, rows: b.rows, filled: t.filled + b.filled}
			if !padding(u) {
				break
			}
			b = u
			blocks = blocks[:len(blocks)-1]
		}
		blocks = append(blocks, b)
	}
	s.superOf = make([]int32, s.n)
	s.at = []int{0}
	for i, b := range blocks {
		s.first = append(s.first, int32(b.first))
		for j := b.first; j < b.first+b.cols; j++ {
			s.superOf[j] = int32(i)
		}
	}
	s.first = append(s.first, int32(s.n))
}

// rows finds the rows below each supernode: those of its entries and those below the
// supernodes that hang on it.
func (s *Symbolic) rows() {
	ns := len(s.first) - 1
	s.below = make([][]int32, ns)
	mark := make([]int32, s.n)
	for i := range mark {
		mark[i] = none
	}
	pending := make([][]int32, ns) // supernodes that hang on each
	for b := range ns {
		lo, hi := s.first[b], s.first[b+1]
		var rows []int32
		add := func(list []int32) {
			for _, r := range list {
				if r >= hi && mark[r] != int32(b) {
					mark[r] = int32(b)
					rows = append(rows, r)
				}
			}
		}
		add(s.loRow[s.loStart[lo]:s.loStart[hi]])
		for _, c := range pending[b] {
			add(s.below[c])
		}
		slices.Sort(rows)
		s.below[b] = rows
		if len(rows) > 0 {
			up := s.superOf[rows[0]]
			pending[up] = append(pending[up], int32(b))
		}
		cols := int(hi - lo)
		s.at = append(s.at, s.at[b]+cols*(cols+len(rows)))
	}
}

// Fill returns the number of entries of L below the diagonal, padding included.
func (s *Symbolic) Fill() (sum int) {
	for b, rows := range s.below {
		c := int(s.first[b+1] - s.first[b])
		sum += c*len(rows) + c*(c-1)/2
	}
	return sum
}
