package sparse

import "context"

// waiting are lists of supernodes with rows to give, by the supernode these belong to.
type waiting struct {
	head, next []int32
	seen       []int32 // rows of each that were given already
}

// gatherer adds up what earlier supernodes give to later ones.
type gatherer struct {
	f *Factor
	waiting
	local          []int32 // row of the panel under way, by column of L
	least          float64 // a pivot this small vanishes
	end            int32   // first supernode that is not this gatherer's
	beyond         []int32 // those that have something for one beyond the end
	weighted, sums []float64
}

func (g *gatherer) supernode(ctx context.Context, a *Symmetric, b int32) error {
	if b&0xff == 0 && ctx.Err() != nil {
		return ctx.Err()
	}
	g.assemble(a, int(b))
	for d := g.head[b]; d != none; {
		next := g.next[d]
		g.gather(int(d), int(b))
		d = next
	}
	if !g.f.panel(int(b), g.least, &g.weighted, &g.sums) {
		return ErrSingular
	}
	g.queue(b, 0)
	return nil
}

func (g *gatherer) queue(b, seen int32) {
	g.seen[b] = seen
	rows := g.f.s.below[b]
	if int(seen) == len(rows) {
		return
	}
	to := g.f.s.superOf[rows[seen]]
	if to >= g.end {
		g.beyond = append(g.beyond, b)
		return
	}
	g.next[b], g.head[to] = g.head[to], b
}

// assemble writes the entries of the matrix into the panel of a supernode.
func (g *gatherer) assemble(a *Symmetric, b int) {
	s := g.f.s
	lo, hi := s.first[b], s.first[b+1]
	cols := int(hi - lo)
	for j := lo; j < hi; j++ {
		g.local[j] = j - lo
	}
	for i, r := range s.below[b] {
		g.local[r] = int32(cols + i)
	}
	panel := g.f.val[s.at[b]:s.at[b+1]]
	for j := lo; j < hi; j++ {
		for p := s.loStart[j]; p < s.loStart[j+1]; p++ {
			panel[int(g.local[s.loRow[p]])*cols+int(j-lo)] += a.Val[s.source[p]]
		}
	}
}

// gather subtracts from the panel of b what supernode d gives to it.
func (g *gatherer) gather(d, b int) {
	s := g.f.s
	rows := s.below[d]
	from := int(g.seen[d])
	to := from
	for hi := s.first[b+1]; to < len(rows) && rows[to] < hi; to++ {
	}
	m, w, k := len(rows)-from, to-from, int(s.first[d+1]-s.first[d])
	source := g.f.val[s.at[d]+(k+from)*k : s.at[d+1]]
	g.weighted = grown(g.weighted, w*k)
	for j := range w {
		for c := range k {
			g.weighted[j*k+c] = source[j*k+c] * g.f.d[int(s.first[d])+c]
		}
	}
	g.sums = grown(g.sums, m*w)
	products(g.sums, source, k, m, g.weighted, w, k)
	panel := g.f.val[s.at[b]:s.at[b+1]]
	cols := int(s.first[b+1] - s.first[b])
	lo := s.first[b]
	for i, r := range rows[from:] {
		line := panel[int(g.local[r])*cols : int(g.local[r])*cols+cols]
		for j, v := range g.sums[i*w : i*w+w] {
			line[rows[from+j]-lo] -= v
		}
	}
	g.queue(int32(d), int32(to))
}

func grown(b []float64, n int) []float64 {
	if cap(b) < n {
		return make([]float64, n, n+n/2)
	}
	return b[:n]
}
