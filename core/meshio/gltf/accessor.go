package gltf

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"math"
)

// raw is the elements of an accessor, one after the other, in the type they came in.
type raw struct {
	data          []byte
	count, n      int // elements, and numbers of each
	componentType int
	normalized    bool
	kind          string
}

func (r raw) size() int { return r.n * sizes[r.componentType] }

// element is the bytes of one.
func (r raw) element(i int) []byte { return r.data[i*r.size() : (i+1)*r.size()] }

// number is a number of an element, 0 to 1 or -1 to 1 where the type says so.
func (r raw) number(i, c int) float64 {
	at := r.data[i*r.size()+c*sizes[r.componentType]:]
	le := binary.LittleEndian
	var v, full float64
	switch r.componentType {
	case 5120:
		v, full = float64(int8(at[0])), 127
	case 5121:
		v, full = float64(at[0]), 255
	case 5122:
		v, full = float64(int16(le.Uint16(at))), 32767
	case 5123:
		v, full = float64(le.Uint16(at)), 65535
	case 5125:
		v, full = float64(le.Uint32(at)), 1<<32-1
	default:
		return float64(math.Float32frombits(le.Uint32(at)))
	}
	if r.normalized {
		return max(v/full, -1)
	}
	return v
}

// elements reads an accessor, with what it says sparsely put in.
func (s *source) elements(at int) (raw, error) {
	if at < 0 || at >= len(s.doc.Accessors) {
		return raw{}, fmt.Errorf("there is no accessor %d", at)
	}
	a := s.doc.Accessors[at]
	n, ok := components[a.Type]
	size := sizes[a.ComponentType]
	switch {
	case !ok || size == 0:
		return raw{}, fmt.Errorf("accessor %d holds %q of type %d, which is unknown", at, a.Type, a.ComponentType)
	case a.Count < 0 || a.Count > mostCount:
		return raw{}, fmt.Errorf("accessor %d says it has %d elements", at, a.Count)
	}
	r := raw{count: a.Count, n: n, componentType: a.ComponentType, normalized: a.Normalized, kind: a.Type}
	if a.BufferView != nil {
		data, err := s.strided(*a.BufferView, a.ByteOffset, a.Count, n*size)
		if err != nil {
			return raw{}, fmt.Errorf("accessor %d: %w", at, err)
		}
		r.data = data
	}
	if a.BufferView == nil { // zeros: as many as anything else in the file could be
		if a.Count > s.mostZeros() {
			return raw{}, fmt.Errorf("accessor %d has %d elements and no data for them", at, a.Count)
		}
		r.data = make([]byte, a.Count*n*size)
	}
	if a.Sparse == nil {
		return r, nil
	}
	r.data = bytes.Clone(r.data)
	sp := a.Sparse
	wide := sizes[sp.Indices.ComponentType]
	if sp.Count < 0 || sp.Count > a.Count || wide == 0 || sp.Indices.ComponentType == componentF {
		return raw{}, fmt.Errorf("accessor %d: its sparse part cannot be", at)
	}
	index, err := s.strided(sp.Indices.BufferView, sp.Indices.ByteOffset, sp.Count, wide)
	if err != nil {
		return raw{}, fmt.Errorf("accessor %d: %w", at, err)
	}
	values, err := s.strided(sp.Values.BufferView, sp.Values.ByteOffset, sp.Count, n*size)
	if err != nil {
		return raw{}, fmt.Errorf("accessor %d: %w", at, err)
	}
	ix := raw{data: index, count: sp.Count, n: 1, componentType: sp.Indices.ComponentType}
	for k := range sp.Count {
		i := ix.number(k, 0)
		if !(i >= 0 && i < float64(a.Count)) {
			return raw{}, fmt.Errorf("accessor %d: its sparse part names element %g of %d", at, i, a.Count)
		}
		copy(r.data[int(i)*n*size:], values[k*n*size:(k+1)*n*size])
	}
	return r, nil
}

// strided takes elements out of a view, one after the other; those that lie so are not copied.
func (s *source) strided(view, offset, count, size int) ([]byte, error) {
	if view < 0 || view >= len(s.doc.BufferViews) {
		return nil, fmt.Errorf("there is no buffer view %d", view)
	}
	v := s.doc.BufferViews[view]
	for x, what := range squeezed {
		if v.Extensions[x] != nil {
			return nil, fmt.Errorf("the file holds %s (%s), which is not read", what, x)
		}
	}
	if v.Buffer < 0 || v.Buffer >= len(s.buffers) || v.ByteOffset < 0 || v.ByteLength < 0 || offset < 0 ||
		v.ByteOffset > len(s.buffers[v.Buffer]) || v.ByteLength > len(s.buffers[v.Buffer])-v.ByteOffset {
		return nil, fmt.Errorf("buffer view %d lies outside its buffer", view)
	}
	data := s.buffers[v.Buffer][v.ByteOffset : v.ByteOffset+v.ByteLength]
	stride := v.ByteStride
	if stride == 0 {
		stride = size
	}
	if stride < size || stride > 1<<16 {
		return nil, fmt.Errorf("buffer view %d cannot have a stride of %d", view, stride)
	}
	if count == 0 {
		return nil, nil
	}
	if offset > len(data) || (len(data)-offset-size)/stride < count-1 || len(data)-offset < size {
		return nil, fmt.Errorf("%d elements do not fit into buffer view %d", count, view)
	}
	data = data[offset:]
	if stride == size {
		return data[:count*size], nil
	}
	out := make([]byte, 0, count*size)
	for i := range count {
		out = append(out, data[i*stride:i*stride+size]...)
	}
	return out, nil
}

// mostZeros is how many elements without data are believed: a file of few bytes must not fill the
// memory.
func (s *source) mostZeros() int {
	n := 1 << 12
	for _, b := range s.buffers {
		n += len(b)
	}
	return n
}
