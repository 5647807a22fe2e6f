package ply

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"strconv"
	"strings"

	"morvek/core/meshio/format"
)

const reexport = "export the model again as PLY"

// What a header may say.
const (
	mostElements   = 64
	mostProperties = 256
	mostHeader     = 1 << 20 // bytes
)

func fail(text string, args ...any) error {
	return &format.Error{What: fmt.Sprintf(text, args...), Hint: reexport}
}

// parse reads a file into columns.
func parse(ctx context.Context, from format.Input) (*file, error) {
	f, body, line, err := parseHeader(from.Data)
	if err != nil {
		return nil, err
	}
	var in rows
	if f.format == "ascii" {
		in = &textRows{rest: body, line: line + 1}
	} else {
		order := binary.ByteOrder(binary.LittleEndian)
		if f.format == "binary_big_endian" {
			order = binary.BigEndian
		}
		in = &binaryRows{rest: body, order: order}
	}
	total, done := 0.0, 0.0
	for _, e := range f.elements {
		total += float64(e.count)
	}
	for _, e := range f.elements {
		least := 0
		for _, p := range e.props {
			least += in.least(p)
		}
		if room := len(body) + 1; len(e.props) > 0 && e.count > room/max(1, least) { // before anything is set aside for it
			return nil, fail("the header says %d rows of %s, more than the file can hold; it is cut off", e.count, e.name)
		}
		for _, p := range e.props {
			if p.length == none {
				p.values = make([]float64, 0, e.count)
			} else {
				p.start = append(make([]int32, 0, e.count+1), 0)
			}
		}
		for i := range e.count {
			if i&0xfff == 0 {
				if err := from.At(ctx, (done+float64(i))/total); err != nil {
					return nil, err
				}
			}
			if err := in.next(); err != nil {
				return nil, fmt.Errorf("%w", cutOff(e, i))
			}
			for _, p := range e.props {
				if err := readValue(in, p); err != nil {
					if err == errShort {
						return nil, in.where(cutOff(e, i))
					}
					return nil, in.where(fail("%s %d: %s: %v", e.name, i+1, p.name, err))
				}
			}
		}
		done += float64(e.count)
	}
	return f, nil
}

func cutOff(e *element, row int) *format.Error {
	return &format.Error{What: fmt.Sprintf("the file ends in %s %d of %d", e.name, row+1, e.count), Hint: "it was cut off; copy or export it again"}
}

func readValue(in rows, p *property) error {
	if p.length == none {
		v, err := in.number(p.kind)
		p.values = append(p.values, v)
		return err
	}
	n, err := in.number(p.length)
	if err != nil {
		return err
	}
	if !(n >= 0 && n <= math.MaxInt32) || n != math.Trunc(n) || len(p.values)+int(n) > math.MaxInt32 {
		return fmt.Errorf("a list of %g values is not possible", n)
	}
	for range int(n) {
		v, err := in.number(p.kind)
		if err != nil {
			return err
		}
		p.values = append(p.values, v)
	}
	p.start = append(p.start, int32(len(p.values)))
	return nil
}

// parseHeader returns what the header says, the bytes behind it and its number of lines.
func parseHeader(data []byte) (f *file, body []byte, lines int, err error) {
	f = &file{}
	rest := data
	for {
		end := bytes.IndexByte(rest, '\n')
		if cr := bytes.IndexByte(rest, '\r'); cr >= 0 && (end < 0 || cr < end-1) { // lines that end in CR alone
			end = cr
		}
		if end < 0 || len(data)-len(rest) > mostHeader {
			return nil, nil, 0, fail("the header has no end; this is no PLY file or it is cut off")
		}
		text := strings.TrimSpace(string(bytes.ToValidUTF8(rest[:end], []byte("?"))))
		rest = rest[end+1:]
		lines++
		words := strings.Fields(text)
		if lines == 1 {
			if text != "ply" {
				return nil, nil, 0, fail("the first line is not \"ply\"; this is no PLY file")
			}
			continue
		}
		if len(words) == 0 {
			continue
		}
		if words[0] == "end_header" {
			break
		}
		if err := f.says(words, text); err != nil {
			err.Line = lines
			return nil, nil, 0, err
		}
	}
	if f.format == "" {
		return nil, nil, 0, fail("the header does not say whether the file is ascii or binary")
	}
	return f, rest, lines, nil
}

// says takes in a line of the header.
func (f *file) says(words []string, text string) *format.Error {
	bad := func(s string, args ...any) *format.Error { return fail(s, args...).(*format.Error) }
	switch words[0] {
	case "comment", "obj_info":
		f.notes = append(f.notes, text)
	case "format":
		if len(words) < 2 || words[1] != "ascii" && words[1] != "binary_little_endian" && words[1] != "binary_big_endian" {
			return bad("the format %q is unknown", text)
		}
		f.format = words[1]
	case "element":
		if len(words) != 3 {
			return bad("an element needs a name and a number, found %q", text)
		}
		n, err := strconv.Atoi(words[2])
		if err != nil || n < 0 || n > math.MaxInt32 {
			return bad("%q is no number of rows", words[2])
		}
		if len(f.elements) == mostElements || f.element(words[1]) != nil {
			return bad("more elements than can be, or %s twice", words[1])
		}
		f.elements = append(f.elements, &element{name: words[1], count: n})
	case "property":
		if len(f.elements) == 0 {
			return bad("a property before any element")
		}
		e := f.elements[len(f.elements)-1]
		p := &property{name: words[len(words)-1]}
		switch {
		case len(words) == 3:
			p.kind = kinds[words[1]]
		case len(words) == 5 && words[1] == "list":
			p.length, p.kind = kinds[words[2]], kinds[words[3]]
			if p.length == none || !p.length.whole() {
				return bad("a list cannot be counted in %q", words[2])
			}
		}
		if p.kind == none {
			return bad("a property of unknown type: %q", text)
		}
		if len(e.props) == mostProperties || e.property(p.name) != nil {
			return bad("more properties than can be, or %s twice", p.name)
		}
		e.props = append(e.props, p)
	default: // some programs forget to say that it is a comment
		if len(f.elements) > 0 {
			return bad("the header says %q, which is unknown", words[0])
		}
		f.notes = append(f.notes, "comment "+text)
	}
	return nil
}
