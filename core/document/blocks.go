package document

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"math"

	"gonum.org/v1/gonum/spatial/r2"
)

// A block of bytes that is stored begins with four letters, what it is and its version, so
// that what was stored by an older program can be read for ever. The first version had none:
// it began with the length of a JSON text; the second knew one map.
const (
	stateHead    = "MVS2"
	deltaHead    = "MVD3"
	pinsDelta    = "MVD2" // knew no other marks than pins
	oneMapsState = "MVS1"
	oneMapsDelta = "MVD1"
)

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

func (w *blockWriter) flags(n int, at func(int) bool) {
	w.count(n)
	for i := range n {
		x := byte(0)
		if at(i) {
			x = 1
		}
		w.b = append(w.b, x)
	}
}

// json writes a value as JSON, nothing for a nil pointer or an empty list.
func (w *blockWriter) json(v any) error {
	b, err := json.Marshal(v)
	if err != nil {
		return err
	}
	if s := string(b); s == "null" || s == "[]" {
		b = nil
	}
	w.bytes(b)
	return nil
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

// skip takes the letters a block begins with, if it does.
func (r *blockReader) skip(head string) bool {
	if !bytes.HasPrefix(r.b, []byte(head)) {
		return false
	}
	r.b = r.b[len(head):]
	return true
}

// json reads a value, which stays as it is where nothing was written.
func (r *blockReader) json(into any) error {
	b := r.bytes()
	if b == nil {
		return nil
	}
	return json.Unmarshal(b, into)
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
