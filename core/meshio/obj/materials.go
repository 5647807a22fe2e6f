package obj

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"
	"path"
	"strconv"
	"strings"

	"morvek/core/mesh"
)

// mostLibraries bounds how many material libraries are read.
const mostLibraries = 16

// looks reads the material libraries that lie beside the file: colours and base pictures. What is
// not there or cannot be read is left out, since the model is whole without it.
func (p *objReader) looks(beside func(string) ([]byte, error)) {
	if beside == nil {
		return
	}
	read := func(name string) []byte {
		clean := path.Clean(strings.ReplaceAll(name, `\`, "/"))
		if path.IsAbs(clean) || clean == ".." || strings.HasPrefix(clean, "../") || strings.ContainsRune(clean, 0) {
			return nil
		}
		data, err := beside(clean)
		if err != nil {
			return nil
		}
		return data
	}
	for i, lib := range p.b.Libraries() {
		if i == mostLibraries {
			break
		}
		data := read(lib)
		for _, name := range strings.Fields(lib) { // a line may name several
			if data == nil {
				data, lib = read(name), name
			}
		}
		text, err := plain(data)
		if err != nil {
			continue
		}
		for _, l := range library(text) {
			if l.picture != "" {
				l.look.Picture = read(path.Join(path.Dir(strings.ReplaceAll(lib, `\`, "/")), strings.ReplaceAll(l.picture, `\`, "/")))
			}
			p.b.Look(l.name, l.look)
		}
	}
}

type material struct {
	name, picture string
	look          mesh.Look
}

// library is what a material library says of its materials.
func library(text []byte) (out []material) {
	var at *material
	for len(text) > 0 {
		line := text
		if k := bytes.IndexByte(text, '\n'); k >= 0 {
			line, text = text[:k], text[k+1:]
		} else {
			text = nil
		}
		words := strings.Fields(string(line))
		if len(words) < 2 {
			continue
		}
		if words[0] == "newmtl" {
			out = append(out, material{name: strings.Join(words[1:], " "), look: mesh.Look{Color: [4]float32{0.8, 0.8, 0.8, 1}}})
			at = &out[len(out)-1]
			continue
		}
		if at == nil {
			continue
		}
		switch words[0] {
		case "Kd":
			var c [3]float32
			for i := range c {
				v, err := share(words, min(i+1, len(words)-1)) // one number stands for all
				if err != nil {
					c = [3]float32{0.8, 0.8, 0.8}
					break
				}
				c[i] = v
			}
			copy(at.look.Color[:3], c[:])
		case "d":
			if v, err := share(words, len(words)-1); err == nil {
				at.look.Color[3] = v
			}
		case "Tr":
			if v, err := share(words, 1); err == nil {
				at.look.Color[3] = 1 - v
			}
		case "map_Kd":
			at.picture = words[len(words)-1] // options stand before it
		}
	}
	return out
}

// share is a number from 0 to 1.
func share(words []string, at int) (float32, error) {
	v, err := strconv.ParseFloat(words[at], 32)
	if err != nil || math.IsNaN(v) {
		return 0, errors.New("no number")
	}
	return float32(max(0, min(1, v))), nil
}

// WriteLibrary writes a material library: the colours of the materials of a mesh that are known, and
// their pictures by the names that put gives them. put gets the number of the material, and the
// picture with the ending of its kind.
func WriteLibrary(w io.Writer, m *mesh.Mesh, put func(material int, ext string, data []byte) (name string, err error)) error {
	b := bufio.NewWriter(w)
	for k, l := range m.Looks {
		if !l.Known {
			continue
		}
		fmt.Fprintf(b, "newmtl %s\nKd %g %g %g\nd %g\n", m.Materials[k], l.Color[0], l.Color[1], l.Color[2], l.Color[3])
		if l.Picture == nil {
			continue
		}
		ext := ".png"
		if bytes.HasPrefix(l.Picture, []byte("\xff\xd8")) {
			ext = ".jpg"
		}
		name, err := put(k, ext, l.Picture)
		if err != nil {
			return err
		}
		fmt.Fprintf(b, "map_Kd %s\n", name)
	}
	return b.Flush()
}
