package gltf

import (
	"bytes"
	"encoding/base64"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"path"
	"strings"

	"morvek/core/meshio/format"
)

const reexport = "export the model again as glTF"

func fail(text string, args ...any) error {
	return &format.Error{What: fmt.Sprintf(text, args...), Hint: reexport}
}

// source is a file that was read: its JSON, as it is and in fields, and its data.
type source struct {
	text    []byte
	doc     document
	buffers [][]byte
	files   map[string][]byte // pictures that lay beside it, by their URI
}

const (
	magicGLB  = 0x46546C67
	chunkJSON = 0x4E4F534A
	chunkBIN  = 0x004E4942
)

// open reads the container: JSON, buffers, files beside it.
func open(in format.Input) (*source, error) {
	text, bin, err := chunks(in.Data)
	if err != nil {
		return nil, err
	}
	if len(text) > mostJSON {
		return nil, fail("the description of the scene is larger than %d MB", mostJSON>>20)
	}
	text = exact(text)
	s := &source{text: text, files: map[string][]byte{}}
	var head struct {
		Asset struct {
			Version string `json:"version"`
		} `json:"asset"`
	}
	if err := json.Unmarshal(text, &head); err == nil && strings.HasPrefix(head.Asset.Version, "1") {
		return nil, otherVersion(head.Asset.Version)
	}
	if err := json.Unmarshal(text, &s.doc); err != nil {
		var kind *json.UnmarshalTypeError
		if errors.As(err, &kind) {
			return nil, fail("%s in the description of the scene cannot be: it is %q", kind.Field, kind.Value)
		}
		return nil, fail("the description of the scene is no JSON: %v", err)
	}
	if err := s.check(); err != nil {
		return nil, err
	}
	for i, b := range s.doc.Buffers {
		data, err := s.buffer(in, i, b, bin)
		if err != nil {
			return nil, err
		}
		if b.ByteLength < 0 || len(data) < b.ByteLength {
			return nil, fail("buffer %d has %d bytes, %d are said; the file is cut off", i, len(data), b.ByteLength)
		}
		s.buffers = append(s.buffers, data[:b.ByteLength])
	}
	for _, m := range s.doc.Images {
		if m.URI == nil || strings.HasPrefix(*m.URI, "data:") || in.Beside == nil {
			continue
		}
		if name, err := beside(*m.URI); err == nil {
			if data, err := in.Beside(name); err == nil {
				s.files[*m.URI] = data
			}
		}
	}
	return s, nil
}

func otherVersion(v string) error {
	return &format.Error{What: fmt.Sprintf("this is glTF %s; version 2.0 is read", v), Hint: "export the model as glTF 2.0"}
}

// chunks takes a binary file apart; a text file is its JSON.
func chunks(data []byte) (text, bin []byte, err error) {
	le := binary.LittleEndian
	if len(data) < 4 || le.Uint32(data) != magicGLB {
		data = bytes.TrimPrefix(data, []byte("\ufeff"))
		if t := bytes.TrimLeft(data, " \t\r\n"); len(t) == 0 || t[0] != '{' {
			return nil, nil, fail("this is no glTF file")
		}
		return data, nil, nil
	}
	if len(data) < 20 {
		return nil, nil, fail("the file is cut off within its head")
	}
	if v := le.Uint32(data[4:]); v != 2 {
		return nil, nil, otherVersion(fmt.Sprintf("binary %d", v))
	}
	if n := le.Uint32(data[8:]); uint64(n) > uint64(len(data)) {
		return nil, nil, fail("the file says it has %d bytes and holds %d; it is cut off", n, len(data))
	} else if n >= 12 {
		data = data[:n]
	}
	for rest := data[12:]; len(rest) >= 8; {
		n, kind := le.Uint32(rest), le.Uint32(rest[4:])
		if uint64(n) > uint64(len(rest)-8) {
			return nil, nil, fail("a chunk of the file is cut off")
		}
		switch {
		case kind == chunkJSON && text == nil:
			text = rest[8 : 8+n]
		case kind == chunkBIN && bin == nil && text != nil:
			bin = rest[8 : 8+n]
		}
		rest = rest[8+n:]
	}
	if text == nil {
		return nil, nil, fail("the file has no description of its scene")
	}
	return bytes.TrimRight(text, " \x00"), bin, nil
}

// check refuses what is not read, by name.
func (s *source) check() error {
	d := &s.doc
	if v := d.Asset.Version; v == "" || !strings.HasPrefix(v, "2.") && v != "2" {
		if v == "" {
			return fail("the file does not say which version of glTF it is")
		}
		return otherVersion(v)
	}
	for _, x := range d.ExtensionsRequired {
		if what, ok := squeezed[x]; ok {
			return &format.Error{What: fmt.Sprintf("the file holds %s (%s), which is not read", what, x), Hint: "export the model without compression"}
		}
		if !known[x] {
			return &format.Error{What: fmt.Sprintf("the file requires the extension %s, which is not read", x), Hint: "export the model without it"}
		}
	}
	if len(d.Nodes) > mostNodes {
		return fail("the file has %d nodes, more than %d", len(d.Nodes), mostNodes)
	}
	return nil
}

// buffer is the data of a buffer, wherever it lies.
func (s *source) buffer(in format.Input, i int, b buffer, bin []byte) ([]byte, error) {
	if b.URI == nil {
		if i == 0 && bin != nil {
			return bin, nil
		}
		for _, v := range s.doc.BufferViews { // buffers that only compressed views fill have no data
			if v.Buffer == i && v.Extensions["EXT_meshopt_compression"] == nil {
				return nil, fail("buffer %d has no data", i)
			}
		}
		return make([]byte, max(0, min(b.ByteLength, 1<<20))), nil
	}
	if strings.HasPrefix(*b.URI, "data:") {
		_, data, err := dataURI(*b.URI)
		if err != nil {
			return nil, fail("the data of buffer %d: %v", i, err)
		}
		return data, nil
	}
	name, err := beside(*b.URI)
	if err != nil {
		return nil, fail("buffer %d: %v", i, err)
	}
	missing := &format.Error{What: fmt.Sprintf("the data lies in another file, %q", name), Hint: "bring both in together, in a ZIP, or export the model as one .glb"}
	if in.Beside == nil {
		return nil, missing
	}
	data, err := in.Beside(name)
	if err != nil {
		return nil, missing
	}
	return data, nil
}

// dataURI takes the type and the data out of a URI that holds them.
func dataURI(uri string) (media string, data []byte, err error) {
	head, body, ok := strings.Cut(strings.TrimPrefix(uri, "data:"), ",")
	if !ok {
		return "", nil, errors.New("the URI holds no data")
	}
	if media, ok = strings.CutSuffix(head, ";base64"); !ok {
		text, err := url.PathUnescape(body)
		return head, []byte(text), err
	}
	data, err = base64.StdEncoding.DecodeString(body)
	if err != nil {
		data, err = base64.RawStdEncoding.DecodeString(strings.TrimRight(body, "="))
	}
	return media, data, err
}

// beside is the path of a file in the folder of this one.
func beside(uri string) (string, error) {
	name, err := url.PathUnescape(uri)
	if err != nil {
		name = uri
	}
	clean := path.Clean(strings.ReplaceAll(name, `\`, "/"))
	if strings.Contains(name, "://") || path.IsAbs(clean) || clean == ".." || strings.HasPrefix(clean, "../") || strings.ContainsRune(clean, 0) {
		return "", fmt.Errorf("the file %q is not beside this one", name)
	}
	return clean, nil
}
