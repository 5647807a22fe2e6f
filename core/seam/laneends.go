package seam

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/ids"
	"morvek/core/mesh"
)

// ends returns the border corners of a shell at its two ends: the banks of the cut that
// opened it, if it is longer the other way, or what lies between its two long sides; nil
// where it has no such ends.
func ends(p *mesh.Patch, borders [][]int32) (a, b []int32) {
	if len(borders) != 1 {
		return nil, nil
	}
	loop := borders[0]
	inside := make(map[mesh.EdgeID]int, len(loop))
	for _, c := range loop {
		inside[p.Mesh.Edge(p.Corner[c])]++
	}
	onBank := func(c int32) bool { return inside[p.Mesh.Edge(p.Corner[c])] == 2 }
	banks, rims := runsOf(loop, onBank), runsOf(loop, func(c int32) bool { return !onBank(c) })
	if len(banks) != 2 || len(rims) != 2 {
		return betweenSides(p, loop)
	}
	if rimLength(p, banks[0])+rimLength(p, banks[1]) > rimLength(p, rims[0])+rimLength(p, rims[1]) {
		return rims[0], rims[1]
	}
	return banks[0], banks[1]
}

func rimLength(p *mesh.Patch, rim []int32) (l float64) {
	for _, c := range rim {
		v, w := p.Ends(c)
		l += r3.Norm(r3.Sub(p.Pos[w], p.Pos[v]))
	}
	return l
}

// runsOf returns the longest pieces of a loop on which something holds.
func runsOf(loop []int32, is func(c int32) bool) (runs [][]int32) {
	first := -1
	for k, c := range loop {
		if !is(c) {
			first = k
			break
		}
	}
	if first < 0 {
		return [][]int32{loop}
	}
	before := false
	for k := range loop {
		c := loop[(first+k)%len(loop)]
		now := is(c)
		switch {
		case now && !before:
			runs = append(runs, []int32{c})
		case now:
			runs[len(runs)-1] = append(runs[len(runs)-1], c)
		}
		before = now
	}
	return runs
}

// sideCorner is the turn of a rim within its surface that ends a side, sideShare how much of
// the rim the long sides have at the least.
const (
	sideCorner = 40 * math.Pi / 180
	sideShare  = 0.6
)

// betweenSides returns what is left of a rim without its two long sides, if these lie apart.
func betweenSides(p *mesh.Patch, loop []int32) (a, b []int32) {
	defect, _ := p.Defects()
	side := make([]int, len(loop)) // of each corner of the loop
	var long []float64
	var rim float64
	first := -1
	for k, c := range loop {
		if v, _ := p.Ends(c); defect[v] > sideCorner {
			first = k
			break
		}
	}
	if first < 0 {
		return nil, nil
	}
	for k := range loop {
		at := (first + k) % len(loop)
		v, w := p.Ends(loop[at])
		if defect[v] > sideCorner {
			long = append(long, 0)
		}
		l := r3.Norm(r3.Sub(p.Pos[w], p.Pos[v]))
		long[len(long)-1] += l
		side[at] = len(long) - 1
		rim += l
	}
	if len(long) < 4 {
		return nil, nil
	}
	one, two := 0, -1
	for s := range long {
		if long[s] > long[one]*(1+1e-9) {
			one = s
		}
	}
	for s := range long {
		if apart := (s - one + len(long)) % len(long); apart > 1 && apart < len(long)-1 && (two < 0 || long[s] > long[two]*(1+1e-9)) {
			two = s
		}
	}
	of := make(map[int32]int, len(loop))
	for k, c := range loop {
		of[c] = side[k]
	}
	if two < 0 || long[one]+long[two] < sideShare*rim || long[two] < 0.4*long[one] {
		return shortSides(p, loop, of, long, rim)
	}
	runs := runsOf(loop, func(c int32) bool { return of[c] != one && of[c] != two })
	if len(runs) != 2 {
		return nil, nil
	}
	return runs[0], runs[1]
}

// shortSides returns the shortest sides at the two faces that are furthest apart: the ends of
// a fan whose walls meet at corners.
func shortSides(p *mesh.Patch, loop []int32, of map[int32]int, long []float64, rim float64) (a, b []int32) {
	far := furthest(p, reach(p, 0))
	ends := [2]int{-1, -1}
	for k, f := range [2]int{far, furthest(p, reach(p, far))} {
		for c := p.FaceStart[f]; c < p.FaceStart[f+1]; c++ {
			if s, ok := of[c]; ok && (ends[k] < 0 || long[s] < long[ends[k]]) {
				ends[k] = s
			}
		}
	}
	if ends[0] < 0 || ends[1] < 0 || ends[0] == ends[1] || long[ends[0]]+long[ends[1]] > (1-sideShare)*rim {
		return nil, nil
	}
	for _, c := range loop {
		switch of[c] {
		case ends[0]:
			a = append(a, c)
		case ends[1]:
			b = append(b, c)
		}
	}
	return a, b
}

// fromRim returns the distance over the faces, centre to centre, from some border corners.
func fromRim(p *mesh.Patch, rim []int32) []float64 {
	faceOf := p.CornerFaces()
	var from []way
	for _, c := range rim {
		v, w := p.Ends(c)
		q := p.Mesh.FaceCentre(p.Faces[faceOf[c]])
		e := r3.Sub(p.Pos[w], p.Pos[v])
		t := 0.0
		if l := r3.Norm2(e); l > 0 {
			t = max(0, min(1, r3.Dot(r3.Sub(q, p.Pos[v]), e)/l))
		}
		from = append(from, way{faceOf[c], r3.Norm(r3.Sub(q, r3.Add(p.Pos[v], r3.Scale(t, e))))})
	}
	return reachFrom(p, from)
}

// opened is the lane of a ring, cut where it is narrowest; nil for what is no ring or has no
// straight way across.
func (l *Lane) opened(borders [][]int32) *Lane {
	p := l.patch
	if len(borders) != 2 || p.Euler() != 0 {
		return nil
	}
	across := Lane{patch: p, uv: l.uv, along: make([]float64, len(p.Faces)), side: make([]int8, len(p.Pos)), hole: l.hole}
	var rim float64
	for i, loop := range borders {
		for _, c := range loop {
			across.side[p.CornerVert[c]] = []int8{left, right}[i]
		}
		rim += rimLength(p, loop)
	}
	across.Width = 2 * p.Area() / max(rim, 1e-300)
	start := across.across(0, 1, mostTurn, func(mesh.EdgeID) float64 { return 1 })
	if start == nil {
		return nil
	}
	cut := ids.Set(start)
	for _, loop := range borders {
		for _, c := range loop {
			cut[p.Mesh.Edge(p.Corner[c])] = true
		}
	}
	q := mesh.NewPatch(p.Mesh, p.Faces, func(e mesh.EdgeID) bool { return cut[e] })
	uv := make([]r2.Vec, len(q.Pos))
	for c, v := range q.CornerVert { // the same faces, so the same corners
		uv[v] = l.uv[p.CornerVert[c]]
	}
	ring := &Lane{patch: q, uv: uv, grain: l.grain, side: make([]int8, len(q.Pos)), hole: make([]int32, len(q.Pos)), start: start}
	again := q.Borders()
	ring.bent(again)
	return ring.measured(again)
}
