package layout

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// Delta is what an edit changed, in both directions: only the entries that
// differ, each with its old and its new value.
type Delta struct {
	Head     [2][]byte // settings, parts and wishes as JSON, old and new; nil if they did not change
	FacePart []FacePartChange
	Cut      []mesh.EdgeID // toggled
	Mapped   []mesh.FaceID // toggled
	UV       []UVChange
}

// FacePartChange is a face that went from one part to another.
type FacePartChange struct {
	Face     mesh.FaceID
	Old, New PartID
}

// UVChange is a corner whose coordinate changed.
type UVChange struct {
	Corner   mesh.HalfedgeID
	Old, New r2.Vec
}

// Diff returns what leads from one state to another of the same mesh.
func Diff(old, now *State) (Delta, error) {
	var d Delta
	a, err := old.head()
	if err != nil {
		return d, err
	}
	b, err := now.head()
	if err != nil {
		return d, err
	}
	if !bytes.Equal(a, b) {
		d.Head = [2][]byte{a, b}
	}
	for f, p := range now.FacePart {
		if old.FacePart[f] != p {
			d.FacePart = append(d.FacePart, FacePartChange{mesh.FaceID(f), old.FacePart[f], p})
		}
	}
	for e, c := range now.Map.Cut {
		if old.Map.Cut[e] != c {
			d.Cut = append(d.Cut, mesh.EdgeID(e))
		}
	}
	for f, c := range now.Map.Mapped {
		if old.Map.Mapped[f] != c {
			d.Mapped = append(d.Mapped, mesh.FaceID(f))
		}
	}
	for c, q := range now.Map.UV {
		if old.Map.UV[c] != q {
			d.UV = append(d.UV, UVChange{mesh.HalfedgeID(c), old.Map.UV[c], q})
		}
	}
	return d, nil
}

// Empty tells whether nothing changed.
func (d Delta) Empty() bool {
	return d.Head[0] == nil && len(d.FacePart)+len(d.Cut)+len(d.Mapped)+len(d.UV) == 0
}

// Faces returns the faces whose part or map changed, ascending.
func (d Delta) Faces(m *mesh.Mesh) []mesh.FaceID {
	out := slices.Clone(d.Mapped)
	for _, c := range d.FacePart {
		out = append(out, c.Face)
	}
	for _, c := range d.UV {
		out = append(out, m.FaceOf(c.Corner))
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// Redo returns the state after the change, Undo the one before it.
func (d Delta) Redo(s *State) (*State, error) { return d.apply(s, 1) }

// Undo returns the state before the change.
func (d Delta) Undo(s *State) (*State, error) { return d.apply(s, 0) }

func (d Delta) apply(s *State, to int) (*State, error) {
	out := s.Clone()
	if d.Head[to] != nil {
		if err := out.setHead(d.Head[to]); err != nil {
			return nil, err
		}
	}
	for _, c := range d.FacePart {
		out.FacePart[c.Face] = [2]PartID{c.Old, c.New}[to]
	}
	for _, e := range d.Cut {
		out.Map.Cut[e] = !out.Map.Cut[e]
	}
	for _, f := range d.Mapped {
		out.Map.Mapped[f] = !out.Map.Mapped[f]
	}
	for _, c := range d.UV {
		out.Map.UV[c.Corner] = [2]r2.Vec{c.Old, c.New}[to]
	}
	return out, nil
}

type head struct {
	Settings Settings `json:"settings"`
	Parts    []Part   `json:"parts"`
	Wishes   Wishes   `json:"wishes,omitzero"`
}

func (s *State) head() ([]byte, error) { return json.Marshal(head{s.Settings, s.Parts, s.Wishes}) }

func (s *State) setHead(data []byte) error {
	var h head
	if err := json.Unmarshal(data, &h); err != nil {
		return fmt.Errorf("layout: stored settings and parts: %w", err)
	}
	s.Settings, s.Parts, s.Wishes = h.Settings, h.Parts, h.Wishes
	return nil
}

// ErrCorrupt is returned for stored bytes that are not a state or a delta.
var ErrCorrupt = errors.New("layout: the stored data is damaged")

// MarshalBinary writes a delta in little-endian blocks, each with its length.
func (d Delta) MarshalBinary() ([]byte, error) {
	var w blockWriter
	w.bytes(d.Head[0])
	w.bytes(d.Head[1])
	w.count(len(d.FacePart))
	for _, c := range d.FacePart {
		w.int(int32(c.Face), int32(c.Old), int32(c.New))
	}
	w.count(len(d.Cut))
	for _, e := range d.Cut {
		w.int(int32(e))
	}
	w.count(len(d.Mapped))
	for _, f := range d.Mapped {
		w.int(int32(f))
	}
	w.count(len(d.UV))
	for _, c := range d.UV {
		w.int(int32(c.Corner))
		w.vec(c.Old)
		w.vec(c.New)
	}
	return w.b, nil
}

// UnmarshalBinary reads what MarshalBinary wrote.
func (d *Delta) UnmarshalBinary(data []byte) error {
	r := blockReader{b: data}
	*d = Delta{Head: [2][]byte{r.bytes(), r.bytes()}}
	for range r.count(12) {
		d.FacePart = append(d.FacePart, FacePartChange{mesh.FaceID(r.int()), PartID(r.int()), PartID(r.int())})
	}
	for range r.count(4) {
		d.Cut = append(d.Cut, mesh.EdgeID(r.int()))
	}
	for range r.count(4) {
		d.Mapped = append(d.Mapped, mesh.FaceID(r.int()))
	}
	for range r.count(36) {
		d.UV = append(d.UV, UVChange{mesh.HalfedgeID(r.int()), r.vec(), r.vec()})
	}
	return r.end()
}

// MarshalBinary writes a whole state.
func (s *State) MarshalBinary() ([]byte, error) {
	h, err := s.head()
	if err != nil {
		return nil, err
	}
	var w blockWriter
	w.bytes(h)
	w.count(len(s.FacePart))
	for _, p := range s.FacePart {
		w.int(int32(p))
	}
	w.flags(s.Map.Cut)
	w.flags(s.Map.Mapped)
	w.count(len(s.Map.UV))
	for _, q := range s.Map.UV {
		w.vec(q)
	}
	return w.b, nil
}

// UnmarshalBinary reads what MarshalBinary wrote.
func (s *State) UnmarshalBinary(data []byte) error {
	r := blockReader{b: data}
	*s = State{}
	h := r.bytes()
	for range r.count(4) {
		s.FacePart = append(s.FacePart, PartID(r.int()))
	}
	cut := r.flags()
	s.Map = atlas.Map{Mapped: r.flags(), Cut: cut}
	for range r.count(16) {
		s.Map.UV = append(s.Map.UV, r.vec())
	}
	if err := r.end(); err != nil {
		return err
	}
	return s.setHead(h)
}

// Fits tells whether a stored state belongs to a mesh.
func (s *State) Fits(m *mesh.Mesh) error {
	if len(s.FacePart) != m.NumFaces() || len(s.Map.Mapped) != m.NumFaces() || len(s.Map.Cut) != m.NumEdges() || len(s.Map.UV) != m.NumCorners() {
		return ErrCorrupt
	}
	for _, p := range s.FacePart {
		if p < NoPart || int(p) >= len(s.Parts) {
			return ErrCorrupt
		}
	}
	return s.Wishes.fits(m)
}

type blockWriter struct{ b []byte }

func (w *blockWriter) count(n int) { w.b = binary.LittleEndian.AppendUint32(w.b, uint32(n)) }
func (w *blockWriter) int(v ...int32) {
	for _, x := range v {
		w.b = binary.LittleEndian.AppendUint32(w.b, uint32(x))
	}
}
func (w *blockWriter) vec(q r2.Vec) {
	w.b = binary.LittleEndian.AppendUint64(w.b, math.Float64bits(q.X))
	w.b = binary.LittleEndian.AppendUint64(w.b, math.Float64bits(q.Y))
}
func (w *blockWriter) bytes(p []byte) {
	w.count(len(p))
	w.b = append(w.b, p...)
}
func (w *blockWriter) flags(f []bool) {
	w.count(len(f))
	for _, v := range f {
		x := byte(0)
		if v {
			x = 1
		}
		w.b = append(w.b, x)
	}
}

type blockReader struct {
	b   []byte
	bad bool
}

func (r *blockReader) take(n int) []byte {
	if r.bad || n < 0 || n > len(r.b) {
		r.bad = true
		return nil
	}
	p := r.b[:n]
	r.b = r.b[n:]
	return p
}

// count reads how many entries of at least size bytes follow.
func (r *blockReader) count(size int) int {
	p := r.take(4)
	if p == nil {
		return 0
	}
	n := int(binary.LittleEndian.Uint32(p))
	if n*size > len(r.b) {
		r.bad = true
		return 0
	}
	return n
}

func (r *blockReader) int() int32 {
	if p := r.take(4); p != nil {
		return int32(binary.LittleEndian.Uint32(p))
	}
	return 0
}

func (r *blockReader) float() float64 {
	if p := r.take(8); p != nil {
		return math.Float64frombits(binary.LittleEndian.Uint64(p))
	}
	return 0
}

func (r *blockReader) vec() r2.Vec { x := r.float(); return r2.Vec{X: x, Y: r.float()} }

func (r *blockReader) bytes() []byte {
	n := r.count(1)
	if n == 0 {
		return nil
	}
	return bytes.Clone(r.take(n))
}

func (r *blockReader) flags() []bool {
	p := r.take(r.count(1))
	out := make([]bool, len(p))
	for i, v := range p {
		out[i] = v != 0
	}
	return out
}

func (r *blockReader) end() error {
	if r.bad || len(r.b) > 0 {
		return ErrCorrupt
	}
	return nil
}
