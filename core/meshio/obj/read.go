package obj

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"strconv"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

const reexport = "export the model again as Wavefront OBJ"

// maxElements keeps what is read within the memory of a usual machine.
const maxElements = 2 * format.MostFaces

// Read reads the polygon part of a Wavefront OBJ file: v, vt, vn, f with
// absolute and relative indices, o, g, s, usemtl, mtllib, continuation lines, LF and CRLF,
// in UTF-8 with or without a mark, or UTF-16 with one. Comments, wires (l, p) and what
// stands behind the coordinates of points are kept as they are; curves, free-form
// surfaces and display statements are named as lost. Errors are *format.Error with the line.
func Read(ctx context.Context, in format.Input) (*mesh.Mesh, error) {
	p := objReader{b: mesh.NewBuilder()}
	rest, err := plain(in.Data)
	if err != nil {
		return nil, fail(0, "the text is no UTF-16: %v", err)
	}
	if head := rest[:min(len(rest), 512)]; bytes.IndexByte(head, 0) >= 0 || bytes.HasPrefix(head, []byte("\x89PNG")) {
		return nil, &format.Error{What: "this is a binary file, not Wavefront OBJ text", Hint: reexport}
	}
	p.b.Reserve(counted(rest))
	size := max(1, len(rest))
	var joined []byte
	for end := false; !end; {
		if p.line&0xfff == 0 {
			if err := in.At(ctx, 1-float64(len(rest))/float64(size)); err != nil {
				return nil, err
			}
		}
		line := rest
		if k := bytes.IndexByte(rest, '\n'); k >= 0 {
			line, rest = rest[:k], rest[k+1:]
		} else {
			end = true
		}
		p.line++
		text := bytes.TrimRight(line, "\r \t")
		if n := len(text); n > 0 && text[n-1] == '\\' && !end {
			joined = append(append(joined, text[:n-1]...), ' ')
			continue
		}
		if len(joined) > 0 {
			joined = append(joined, text...)
			text = joined
		}
		if err := p.statement(text); err != nil {
			return nil, err
		}
		joined = joined[:0]
	}
	if p.b.NumFaces() == 0 {
		what := "the file is empty"
		switch {
		case p.b.NumPoints() > 0:
			what = "the file has points but no faces"
		case p.seen:
			what = "no faces found; this does not look like Wavefront OBJ"
		}
		return nil, &format.Error{What: what, Hint: reexport + " with its faces"}
	}
	p.looks(in.Beside)
	m, err := p.b.Build()
	if err != nil {
		return nil, &format.Error{What: err.Error(), Hint: reexport}
	}
	return m, nil
}

// counted is about how many points, coordinates, normals and faces there are.
func counted(text []byte) (points, uvs, normals, faces int) {
	whole := len(text)
	for len(text) > 2 {
		switch {
		case text[0] == 'f':
			faces++
		case text[0] != 'v':
		case text[1] == 't':
			uvs++
		case text[1] == 'n':
			normals++
		case text[1] == ' ':
			points++
		}
		k := bytes.IndexByte(text, '\n')
		if k < 0 {
			break
		}
		text = text[k+1:]
	}
	most := min(whole/8, format.MostFaces) // a face takes eight letters at least
	return min(points, most), min(uvs, most), min(normals, most), min(faces, most)
}

type objReader struct {
	b      *mesh.Builder
	line   int
	seen   bool // anything at all besides blank lines and comments
	asides int
	fields [][]byte
}

func (p *objReader) fail(text string, args ...any) error { return fail(p.line, text, args...) }

func fail(line int, text string, args ...any) error {
	return &format.Error{Line: line, What: fmt.Sprintf(text, args...), Hint: reexport}
}

func (p *objReader) statement(text []byte) error {
	if i := bytes.IndexByte(text, '#'); i >= 0 {
		if len(bytes.TrimSpace(text[:i])) == 0 {
			p.aside(string(legible(bytes.ToValidUTF8(text, []byte("?")))))
		}
		text = text[:i]
	}
	p.split(text)
	if len(p.fields) == 0 {
		return nil
	}
	p.seen = true
	args := p.fields[1:]
	switch string(p.fields[0]) {
	case "v":
		x, err := p.numbers("point", args, 3)
		if err != nil {
			return err
		}
		if p.b.NumPoints() >= maxElements {
			return p.fail("more than %d points", maxElements)
		}
		p.b.Point(r3.Vec{X: x[0], Y: x[1], Z: x[2]})
		if len(args) > 3 { // a weight, a colour
			p.b.Tail(bytes.Join(args[3:], []byte(" ")))
		}
	case "vn":
		x, err := p.numbers("normal", args, 3)
		if err != nil {
			return err
		}
		p.b.Normal(r3.Vec{X: x[0], Y: x[1], Z: x[2]})
	case "vt":
		x, err := p.numbers("map coordinate", args, 1)
		if err != nil {
			return err
		}
		p.b.UV(r2.Vec{X: x[0], Y: x[1]})
	case "f":
		return p.face(args)
	case "l", "p":
		return p.wire(string(p.fields[0]), args)
	case "o":
		p.b.Object(joinFields(args))
	case "g":
		p.b.Group(joinFields(args))
	case "s":
		p.b.Smoothing(joinFields(args))
	case "usemtl":
		p.b.Material(joinFields(args))
	case "mtllib":
		p.b.Library(joinFields(args))
	case "vp", "cstype", "deg", "bmat", "step", "curv", "curv2", "surf", "parm", "trim", "hole", "scrv", "sp", "end", "con":
		p.b.Lost("free-form curves and surfaces")
	case "mg", "bevel", "c_interp", "d_interp", "lod", "shadow_obj", "trace_obj", "ctech", "stech", "usemap", "maplib", "call", "csh":
		p.b.Lost("display statements such as " + string(p.fields[0]))
	}
	return nil
}

func (p *objReader) split(text []byte) {
	p.fields = p.fields[:0]
	for i := 0; i < len(text); {
		for i < len(text) && (text[i] == ' ' || text[i] == '\t' || text[i] == '\r') {
			i++
		}
		j := i
		for j < len(text) && text[j] != ' ' && text[j] != '\t' && text[j] != '\r' {
			j++
		}
		if j > i {
			p.fields = append(p.fields, text[i:j])
		}
		i = j
	}
}

func joinFields(f [][]byte) string { return string(legible(bytes.Join(f, []byte(" ")))) }

// legible is text that is kept without zero bytes: a file that has one near its beginning is no text.
func legible(text []byte) []byte { return bytes.ReplaceAll(text, []byte{0}, []byte("?")) }

// numbers parses up to three coordinates, of which at least need must be there.
func (p *objReader) numbers(what string, args [][]byte, need int) (x [3]float64, err error) {
	if len(args) < need {
		return x, p.fail("a %s needs %d numbers, found %d", what, need, len(args))
	}
	for i := range min(3, len(args)) {
		x[i], err = strconv.ParseFloat(string(args[i]), 64)
		if err != nil || math.IsNaN(x[i]) || math.IsInf(x[i], 0) {
			return x, p.fail("%s coordinate %q is not a finite number", what, clip(args[i]))
		}
	}
	return x, nil
}

func clip(b []byte) string {
	if len(b) > 40 {
		return string(b[:40]) + "…"
	}
	return string(b)
}

func (p *objReader) face(args [][]byte) error {
	if len(args) < 3 {
		return p.fail("a face needs at least 3 corners, found %d", len(args))
	}
	if p.b.NumFaces() >= format.MostFaces {
		return p.fail("more than %d faces", format.MostFaces)
	}
	for _, a := range args {
		var idx [3]int32
		for k, part := 0, a; k < 3; k++ {
			idx[k] = mesh.None
			word := part
			cut := bytes.IndexByte(part, '/')
			if cut >= 0 {
				word, part = part[:cut], part[cut+1:]
			}
			if len(word) > 0 {
				count := [3]int{p.b.NumPoints(), p.b.NumUVs(), p.b.NumNormals()}[k]
				i, err := p.index([3]string{"point", "map coordinate", "normal"}[k], word, count)
				if err != nil {
					return err
				}
				idx[k] = i
			} else if k == 0 {
				return p.fail("corner %q has no point", clip(a))
			}
			if cut < 0 {
				part = nil
			}
		}
		p.b.Corner(mesh.PointID(idx[0]), idx[1], idx[2])
	}
	p.b.EndFace()
	return nil
}

// mostAsides bounds what is kept of comments and wires.
const mostAsides = 1 << 20

func (p *objReader) aside(text string) {
	if p.asides++; p.asides <= mostAsides {
		p.b.Aside(text)
	}
}

// wire keeps a line or points that belong to no face, by the numbers of their points.
func (p *objReader) wire(key string, args [][]byte) error {
	line := []byte(key)
	for _, a := range args {
		word, _, _ := bytes.Cut(a, []byte("/"))
		i, err := p.index("point", word, p.b.NumPoints())
		if err != nil {
			return err
		}
		line = strconv.AppendInt(append(line, ' '), int64(i)+1, 10)
	}
	p.aside(string(line))
	return nil
}

// number reads a whole number, as most words of a file are.
func number(word []byte) (n int, ok bool) {
	digits := word
	if len(digits) > 0 && (digits[0] == '-' || digits[0] == '+') {
		digits = digits[1:]
	}
	if len(digits) == 0 || len(digits) > 18 {
		return 0, false
	}
	for _, c := range digits {
		if c < '0' || c > '9' {
			return 0, false
		}
		n = 10*n + int(c-'0')
	}
	if word[0] == '-' {
		n = -n
	}
	return n, true
}

// index turns a 1-based or negative relative index into a 0-based one.
func (p *objReader) index(what string, word []byte, count int) (int32, error) {
	i, ok := number(word)
	if !ok {
		return 0, p.fail("%q is not a %s index", clip(word), what)
	}
	k := i - 1
	if i < 0 {
		k = count + i
	}
	if i == 0 || k < 0 || k >= count {
		return 0, p.fail("%s index %d is out of range, %d were given before this line", what, i, count)
	}
	return int32(k), nil
}
