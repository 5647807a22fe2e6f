package obj

import (
	"bytes"
	"errors"
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
