package ply

import (
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"strconv"

	"morvek/core/meshio/format"
)

// errShort is a file that ends too early.
var errShort = errors.New("the file ends")

// rows are numbers of the body of a file, one by one.
type rows interface {
	next() error // begins a row
	number(k kind) (float64, error)
	least(p *property) int // bytes a value of a property takes at least
	where(err error) error // an error with the place in the file
}

// textRows read numbers as text. A row usually has a line of its own, but need not.
type textRows struct {
	rest []byte
	line int
}

func (t *textRows) least(*property) int { return 1 }
func (t *textRows) next() error         { return nil }

func (t *textRows) where(err error) error {
	var bad *format.Error
	if errors.As(err, &bad) {
		bad.Line = t.line
	}
	return err
}

func (t *textRows) number(k kind) (float64, error) {
	i := 0
	for i < len(t.rest) && t.rest[i] <= ' ' {
		if t.rest[i] == '\n' {
			t.line++
		}
		i++
	}
	j := i
	for j < len(t.rest) && t.rest[j] > ' ' {
		j++
	}
	word := t.rest[i:j]
	t.rest = t.rest[j:]
	if len(word) == 0 {
		return 0, errShort
	}
	if v, ok := short(word); ok {
		return v, k.check(v)
	}
	v, err := strconv.ParseFloat(string(word), 64)
	if err != nil && !errors.Is(err, strconv.ErrRange) {
		return 0, fmt.Errorf("%q is not a number", word[:min(len(word), 40)])
	}
	return v, k.check(v)
}

// short reads a whole number of few digits, which most are.
func short(word []byte) (float64, bool) {
	if len(word) > 9 {
		return 0, false
	}
	n := 0
	for _, c := range word {
		if c < '0' || c > '9' {
			return 0, false
		}
		n = 10*n + int(c-'0')
	}
	return float64(n), true
}

// check refuses numbers that a type cannot hold.
func (k kind) check(v float64) error {
	if !k.whole() {
		return nil
	}
	lo := [...]float64{0, -128, 0, -32768, 0, -1 << 31, 0}[k]
	hi := [...]float64{0, 127, 255, 32767, 65535, 1<<31 - 1, 1<<32 - 1}[k]
	if v != math.Trunc(v) || !(v >= lo && v <= hi) {
		return fmt.Errorf("%g is no %s", v, kindNames[k])
	}
	return nil
}

// binaryRows read numbers as bytes.
type binaryRows struct {
	rest  []byte
	order binary.ByteOrder
}

func (b *binaryRows) next() error           { return nil }
func (b *binaryRows) where(err error) error { return err }

func (b *binaryRows) least(p *property) int {
	if p.length != none {
		return p.length.size()
	}
	return p.kind.size()
}

func (b *binaryRows) number(k kind) (float64, error) {
	n := k.size()
	if len(b.rest) < n {
		return 0, errShort
	}
	raw := b.rest[:n]
	b.rest = b.rest[n:]
	switch k {
	case int8s:
		return float64(int8(raw[0])), nil
	case uint8s:
		return float64(raw[0]), nil
	case int16s:
		return float64(int16(b.order.Uint16(raw))), nil
	case uint16s:
		return float64(b.order.Uint16(raw)), nil
	case int32s:
		return float64(int32(b.order.Uint32(raw))), nil
	case uint32s:
		return float64(b.order.Uint32(raw)), nil
	case float32s:
		return float64(math.Float32frombits(b.order.Uint32(raw))), nil
	}
	return math.Float64frombits(b.order.Uint64(raw)), nil
}
