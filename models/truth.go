package models

import (
	"math"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/shape"
)

// Anything is the piece of faces that may go with any neighbour: bevels.
const Anything = -1

// TruePiece is what some faces of a model were made as.
type TruePiece struct {
	Kind   shape.Kind
	Axis   r3.Vec  // zero where the kind has none
	Radius float64 // 0 where the kind has none
}

// Truth is what the faces of a model truly are, known from how they were made.
type Truth struct {
	Piece  []int32 // per face, or Anything
	Pieces []TruePiece
}

// Used counts the pieces that have a face.
func (t Truth) Used() int {
	seen := map[int32]bool{}
	for _, p := range t.Piece {
		if p != Anything {
			seen[p] = true
		}
	}
	return len(seen)
}

func (k *kit) add(p TruePiece) int32 {
	k.truth.Pieces = append(k.truth.Pieces, p)
	return int32(len(k.truth.Pieces) - 1)
}

func (k *kit) planeTruth(n r3.Vec) int32 { return k.add(TruePiece{Kind: shape.Plane, Axis: n}) }

func (k *kit) roundTruth(kind shape.Kind, axis, _ r3.Vec, radius float64) int32 {
	return k.add(TruePiece{Kind: kind, Axis: axis, Radius: radius})
}

// turnedTruth tells for each step of a lathe profile what it makes: straight
// runs are planes, cylinders and cones, short runs between longer ones are
// bevels. A profile declared smooth is one piece.
func (k *kit) turnedTruth(f frame, profile []r2.Vec) []int32 {
	out := make([]int32, len(profile)-1)
	if k.turned.Kind != "" {
		p := k.turned
		if p.Kind != shape.Sphere {
			p.Axis = f.y
		}
		id := k.add(p)
		for i := range out {
			out[i] = id
		}
		return out
	}
	type run struct {
		from, to int // steps
		length   float64
	}
	var runs []run
	dir := func(i int) r2.Vec { return r2.Unit(r2.Sub(profile[i+1], profile[i])) }
	for i := range out {
		l := r2.Norm(r2.Sub(profile[i+1], profile[i]))
		if n := len(runs); n > 0 && r2.Dot(dir(i), dir(i-1)) > math.Cos(1e-4) {
			runs[n-1].to, runs[n-1].length = i+1, runs[n-1].length+l
			continue
		}
		runs = append(runs, run{i, i + 1, l})
	}
	for n, r := range runs {
		id := int32(Anything)
		before, after := math.Inf(1), math.Inf(1)
		if n > 0 {
			before = runs[n-1].length
		}
		if n+1 < len(runs) {
			after = runs[n+1].length
		}
		if d := dir(r.from); !(n > 0 && n+1 < len(runs) && r.length < 0.6*min(before, after)) {
			p := TruePiece{Axis: f.y}
			switch {
			case math.Abs(d.X) < 1e-9:
				p.Kind, p.Radius = shape.Cylinder, profile[r.from].X
			case math.Abs(d.Y) < 1e-9:
				p.Kind = shape.Plane
			default:
				p.Kind, p.Radius = shape.Cone, max(profile[r.from].X, profile[r.to].X)
			}
			id = k.add(p)
		}
		for i := r.from; i < r.to; i++ {
			out[i] = id
		}
	}
	return out
}

// sweptTruth tells for each step of a path what a section makes on it: round
// sections make cylinders on straight runs and tori on arcs; anything else is
// one swept piece.
func (k *kit) sweptTruth(path []r3.Vec, section []r2.Vec) []int32 {
	out := make([]int32, len(path)-1)
	radius := r2.Norm(section[0])
	round := len(section) >= 9
	for _, q := range section {
		round = round && math.Abs(r2.Norm(q)-radius) < 1e-9
	}
	turn := func(i int) float64 { // at point i, between steps i-1 and i
		return math.Acos(min(1, r3.Dot(r3.Unit(r3.Sub(path[i], path[i-1])), r3.Unit(r3.Sub(path[i+1], path[i])))))
	}
	bent := make([]bool, len(out))
	steady := round
	for i := 2; i+1 < len(out); i++ { // inside an arc all turns are equal
		if a, b, c := turn(i-1), turn(i), turn(i+1); min(a, b, c) > 1e-6 && math.Abs(b-c) > 0.1*b && math.Abs(b-a) > 0.1*b {
			steady = false
		}
	}
	for i := range out {
		before, after := math.Inf(1), math.Inf(1) // an arc may begin and end the path
		if i > 0 {
			before = turn(i)
		}
		if i+1 < len(out) {
			after = turn(i + 1)
		}
		bent[i] = before > 1e-6 && after > 1e-6
	}
	if !steady || k.turned.Kind == shape.Swept {
		id := k.add(TruePiece{Kind: shape.Swept})
		for i := range out {
			out[i] = id
		}
		return out
	}
	for i := range out {
		if i > 0 && bent[i] == bent[i-1] {
			out[i] = out[i-1]
			continue
		}
		p := TruePiece{Kind: shape.Cylinder, Radius: radius, Axis: r3.Unit(r3.Sub(path[i+1], path[i]))}
		if bent[i] {
			p.Kind = shape.Torus
			p.Axis = r3.Unit(r3.Cross(r3.Sub(path[i+1], path[i]), r3.Sub(path[i+2], path[i+1])))
		}
		out[i] = k.add(p)
	}
	return out
}

// outlineTruth tells for each side of an outline what it makes when it is
// raised: straight runs planes, smoothly bending ones one extrusion, a toothed
// outline one extrusion altogether.
func (k *kit) outlineTruth(f frame, outline []r2.Vec) []int32 {
	n := len(outline)
	out := make([]int32, n)
	dir := func(i int) r2.Vec { return r2.Unit(r2.Sub(outline[(i+1)%n], outline[i%n])) }
	bend := func(i int) float64 { return math.Acos(min(1, r2.Dot(dir(i+n-1), dir(i)))) } // at the start of side i
	corners := 0
	first := -1
	for i := range n {
		if bend(i) > 31*math.Pi/180 {
			corners++
			if first < 0 {
				first = i
			}
		}
	}
	if first < 0 || corners > 24 {
		id := k.add(TruePiece{Kind: shape.Extruded, Axis: f.y})
		for i := range out {
			out[i] = id
		}
		return out
	}
	for s := 0; s < n; {
		e := s + 1
		bends := false
		for ; e < n && bend(first+e) <= 31*math.Pi/180; e++ {
			bends = bends || bend(first+e) > 1e-4
		}
		p := TruePiece{Kind: shape.Plane}
		if d := dir(first + s); !bends {
			p.Axis = r3.Add(r3.Scale(-d.Y, f.x), r3.Scale(d.X, f.z))
		} else {
			p = TruePiece{Kind: shape.Extruded, Axis: f.y}
		}
		id := int32(Anything) // a cut corner goes with either side
		long := func(i int) float64 { return r2.Norm(r2.Sub(outline[(i+1)%n], outline[i%n])) }
		if i := first + s; bends || e > s+1 || long(i) > 0.6*min(long(i+n-1), long(i+1)) || bend(i) > 1 || bend(i+1) > 1 {
			id = k.add(p)
		}
		for ; s < e; s++ {
			out[(first+s)%n] = id
		}
	}
	return out
}
