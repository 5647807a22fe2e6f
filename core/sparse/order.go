package sparse

// Order returns an elimination order with little fill: order[k] is the index
// eliminated k-th. Approximate minimum degree on a quotient graph (Amestoy,
// Davis & Duff 1996) with element absorption and indistinguishable variables
// eliminated together.
func Order(a *Symmetric) []int32 {
	q := newQuotient(a)
	order := make([]int32, 0, a.N)
	for len(order) < a.N {
		p := q.popLightest()
		q.eliminate(p)
		order = q.expand(order, p)
	}
	return order
}

// quotient is the graph during elimination. A variable has variables (adj) and
// elements (elems) as neighbours; an element is an eliminated variable whose
// neighbours (members) form a clique.
type quotient struct {
	adj, elems, members [][]int32
	weight              []int32 // variables merged into one; 0 once gone
	degree              []int32
	child, sibling      []int32 // variables merged into another, as linked lists
	deadElem            []bool
	mark                []int32 // stamp per variable
	outside             []int32 // per element: weight outside the current pivot's members
	outStamp            []int32
	stamp               int32

	head, next, prev []int32 // degree lists
	lightest         int32
}

const none = -1

func newQuotient(a *Symmetric) *quotient {
	n := a.N
	fill := func(v int32) []int32 {
		s := make([]int32, n)
		for i := range s {
			s[i] = v
		}
		return s
	}
	q := &quotient{
		adj: a.neighbours(), elems: make([][]int32, n), members: make([][]int32, n),
		weight: fill(1), degree: fill(0), child: fill(none), sibling: fill(none),
		deadElem: make([]bool, n), mark: fill(0), outside: fill(0), outStamp: fill(0),
		head: fill(none), next: fill(none), prev: fill(none),
	}
	for i := n - 1; i >= 0; i-- {
		q.degree[i] = int32(len(q.adj[i]))
		q.insert(int32(i))
	}
	return q
}

func (q *quotient) insert(i int32) {
	d := q.degree[i]
	q.next[i], q.prev[i] = q.head[d], none
	if h := q.head[d]; h != none {
		q.prev[h] = i
	}
	q.head[d] = i
	q.lightest = min(q.lightest, d)
}

func (q *quotient) remove(i int32) {
	if q.prev[i] != none {
		q.next[q.prev[i]] = q.next[i]
	} else {
		q.head[q.degree[i]] = q.next[i]
	}
	if q.next[i] != none {
		q.prev[q.next[i]] = q.prev[i]
	}
}

func (q *quotient) popLightest() int32 {
	for q.head[q.lightest] == none {
		q.lightest++
	}
	p := q.head[q.lightest]
	q.remove(p)
	return p
}

// eliminate turns variable p into an element and updates the degrees around it.
func (q *quotient) eliminate(p int32) {
	q.stamp++
	in := q.stamp // marks p and the members of the new element
	q.mark[p] = in
	var members []int32
	gather := func(list []int32) {
		for _, i := range list {
			if q.weight[i] > 0 && q.mark[i] != in {
				q.mark[i] = in
				members = append(members, i)
			}
		}
	}
	gather(q.adj[p])
	for _, e := range q.elems[p] {
		if !q.deadElem[e] {
			gather(q.members[e])
			q.deadElem[e] = true
			q.members[e] = nil
		}
	}
	q.adj[p], q.elems[p] = nil, nil
	q.members[p] = members

	var total int32
	for _, i := range members {
		q.remove(i)
		total += q.weight[i]
		for _, e := range q.elems[i] {
			if q.deadElem[e] {
				continue
			}
			if q.outStamp[e] != in {
				q.outStamp[e] = in
				q.outside[e] = q.liveWeight(e)
			}
			q.outside[e] -= q.weight[i]
		}
	}
	for _, i := range members {
		q.tidy(i, p, in)
	}
	q.mergeAlike(members)
	for _, i := range members {
		if q.weight[i] == 0 {
			continue
		}
		d := total - q.weight[i]
		for _, j := range q.adj[i] {
			d += q.weight[j]
		}
		for _, e := range q.elems[i] {
			if e != p {
				d += q.outside[e]
			}
		}
		q.degree[i] = min(d, int32(len(q.degree))-1)
		q.insert(i)
	}
	q.weight[p] = 0
}

func (q *quotient) liveWeight(e int32) int32 {
	var w int32
	live := q.members[e][:0]
	for _, i := range q.members[e] {
		if q.weight[i] > 0 {
			w += q.weight[i]
			live = append(live, i)
		}
	}
	q.members[e] = live
	return w
}

// tidy drops what the new element p covers from the neighbours of member i.
func (q *quotient) tidy(i, p, in int32) {
	elems := q.elems[i][:0]
	for _, e := range q.elems[i] {
		if q.deadElem[e] {
			continue
		}
		if q.outside[e] == 0 { // wholly inside p: absorbed
			q.deadElem[e] = true
			q.members[e] = nil
			continue
		}
		elems = append(elems, e)
	}
	q.elems[i] = append(elems, p)
	adj := q.adj[i][:0]
	for _, j := range q.adj[i] {
		if q.weight[j] > 0 && q.mark[j] != in {
			adj = append(adj, j)
		}
	}
	q.adj[i] = adj
}

// mergeAlike unites members with the same neighbours; they can be eliminated
// one after the other without more fill.
func (q *quotient) mergeAlike(members []int32) {
	byHash := make(map[uint64][]int32, len(members))
	for _, i := range members {
		var h uint64
		for _, j := range q.adj[i] {
			h += uint64(j) * 0x9e3779b97f4a7c15
		}
		for _, e := range q.elems[i] {
			h += uint64(e)*0xbf58476d1ce4e5b9 + 1
		}
		merged := false
		for _, j := range byHash[h] {
			if q.alike(i, j) {
				q.weight[j] += q.weight[i]
				q.weight[i] = 0
				q.adj[i], q.elems[i] = nil, nil
				q.sibling[i] = q.child[j]
				q.child[j] = i
				merged = true
				break
			}
		}
		if !merged {
			byHash[h] = append(byHash[h], i)
		}
	}
}

func (q *quotient) alike(i, j int32) bool {
	if len(q.adj[i]) != len(q.adj[j]) || len(q.elems[i]) != len(q.elems[j]) {
		return false
	}
	q.stamp++
	for _, k := range q.adj[j] {
		q.mark[k] = q.stamp
	}
	for _, k := range q.adj[i] {
		if q.mark[k] != q.stamp {
			return false
		}
	}
	for _, e := range q.elems[i] {
		found := false
		for _, f := range q.elems[j] {
			found = found || e == f
		}
		if !found {
			return false
		}
	}
	return true
}

// expand appends p and everything merged into it.
func (q *quotient) expand(order []int32, p int32) []int32 {
	order = append(order, p)
	for c := q.child[p]; c != none; c = q.sibling[c] {
		order = q.expand(order, c)
	}
	return order
}
