package delivery

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"
	"time"

	"morvek/core/bake"
	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/meshio/format"
	"morvek/core/meshio/obj"
	"morvek/core/report"
	"morvek/core/template"
)

// Source is the file a document came from.
type Source struct {
	Name string
	Data []byte // as it came; nil where that is not what the document is of, since it was repaired
}

// File is one that was delivered.
type File struct {
	Name   string `json:"name"`
	Bytes  int    `json:"bytes"`
	SHA256 string `json:"sha256"`
}

// packing is a delivery that is being made.
type packing struct {
	ctx   context.Context
	z     *zip.Writer
	d     *document.Document
	from  Source
	order Order
	base  string // of names of files
	seen  []*document.State
	files []File
	tell  func(share float64)

	reported map[*document.State]report.Report

	raster struct { // of the last tile that was asked for
		of   *document.State
		tile int
		r    *bake.Raster
	}
}

// epoch is the time of all files, so that the same delivery has the same bytes.
var epoch = time.Date(1980, 1, 1, 0, 0, 0, 0, time.UTC)

// put adds a file; what is packed already is stored as it is.
func (p *packing) put(name string, data []byte) error {
	method := zip.Deflate
	if ext := path.Ext(name); ext == ".png" || ext == ".ora" || ext == ".jpg" {
		method = zip.Store
	}
	f, err := p.z.CreateHeader(&zip.FileHeader{Name: name, Method: method, Modified: epoch})
	if err != nil {
		return err
	}
	if _, err := f.Write(data); err != nil {
		return err
	}
	sum := sha256.Sum256(data)
	p.files = append(p.files, File{name, len(data), hex.EncodeToString(sum[:])})
	return nil
}

// made adds a file that write writes.
func (p *packing) made(name string, write func(w io.Writer) error) error {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		return err
	}
	return p.put(name, b.Bytes())
}

// mesh adds the model in a format, in several files where one holds one map only, with its materials.
func (p *packing) mesh(f format.Format) error {
	ext := f.Extensions[0]
	name := p.base + ext
	maps := make([]format.Map, len(p.seen))
	for k, s := range p.seen {
		maps[k] = p.d.With(s).WrittenMap()
	}
	if strings.EqualFold(path.Ext(p.from.Name), ext) && p.from.Data != nil && format.Unchanged(p.d.Source, maps) {
		return p.put(name, p.from.Data)
	}
	begin, err := p.library(f)
	if err != nil {
		return err
	}
	for _, file := range meshio.Files(f, name, maps) {
		err := p.made(file.Name, func(w io.Writer) error {
			if _, err := io.WriteString(w, begin); err != nil {
				return err
			}
			return f.Write(w, p.d.Source, file.Maps)
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// library adds the material library of a model with its pictures, if it is known how its materials
// look, and returns the line that names it where the model does not.
func (p *packing) library(f format.Format) (line string, err error) {
	m := p.d.Source
	if f.Name != obj.Format.Name || !slices.ContainsFunc(m.Looks, func(l mesh.Look) bool { return l.Known }) {
		return "", nil
	}
	name := p.base + ".mtl"
	if len(m.Libraries) == 0 {
		line = "mtllib " + name + "\n"
	} else if name = path.Base(strings.ReplaceAll(m.Libraries[0], `\`, "/")); name != m.Libraries[0] {
		return "", nil // it lies elsewhere, and nothing may be written there
	}
	return line, p.made(name, func(w io.Writer) error {
		return obj.WriteLibrary(w, m, func(material int, ext string, data []byte) (string, error) {
			file := fmt.Sprintf("%s-%02d%s", p.base, material+1, ext)
			return file, p.put(file, data)
		})
	})
}

// template adds the templates of all maps.
func (p *packing) template(ext string) error {
	for _, s := range p.seen {
		name := p.base + Suffix(s) + "-template" + ext
		err := p.made(name, func(w io.Writer) error {
			return template.Write(w, name, report.Template(p.d.With(s)), template.Options{Size: p.order.size(s), Line: p.order.Line})
		})
		if err != nil {
			return err
		}
	}
	return nil
}
