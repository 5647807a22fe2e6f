package meshio

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// archive is the row of a ZIP that holds a model with the files it names.
var archive = format.Format{
	Name:       zipName,
	Extensions: []string{".zip"},
	Media:      "application/zip",
	Magic:      [][]byte{[]byte("PK\x03\x04"), []byte("PK\x05\x06")},
	Read:       readArchive,
	Keeps:      "what the model in it keeps",
}

// zipName is that of the format.
const zipName = "ZIP"

// What an archive may hold.
const (
	mostFiles    = 10_000
	mostUnpacked = 1 << 30 // bytes of a file, and of all that are read
)

// readArchive reads the one model of a ZIP, with the files it names.
func readArchive(ctx context.Context, in format.Input) (*mesh.Mesh, error) {
	z, err := zip.NewReader(bytes.NewReader(in.Data), int64(len(in.Data)))
	if err != nil {
		return nil, &Error{What: "this is no ZIP, or it is cut off", Hint: "pack the model again"}
	}
	if len(z.File) > mostFiles {
		return nil, &Error{What: fmt.Sprintf("the ZIP holds %d files, more than %d", len(z.File), mostFiles), Hint: "pack only the model and its pictures"}
	}
	files := map[string]*zip.File{}
	var models []string
	for _, f := range z.File {
		name := path.Clean(strings.ReplaceAll(f.Name, `\`, "/"))
		if f.FileInfo().IsDir() || strings.HasPrefix(name, "__MACOSX/") || strings.HasPrefix(path.Base(name), ".") {
			continue
		}
		files[name] = f
		if k, ok := Of(name); ok && k.Read != nil && k.Name != zipName {
			models = append(models, name)
		}
	}
	models = slices.DeleteFunc(models, func(name string) bool { return isFurther(name, func(first string) bool { return files[first] != nil }) })
	slices.Sort(models)
	switch len(models) {
	case 0:
		return nil, &Error{What: "the ZIP holds no model", Hint: fmt.Sprintf("pack one that ends in %s", Endings(false))}
	case 1:
	default:
		shown := models[:min(3, len(models))]
		return nil, &Error{What: fmt.Sprintf("the ZIP holds %d models: %s", len(models), strings.Join(shown, ", ")), Hint: "pack one at a time"}
	}
	left := int64(mostUnpacked)
	unpack := func(name string) ([]byte, error) {
		f := files[path.Clean(name)]
		if f == nil {
			return nil, fmt.Errorf("%q is not in the ZIP", name)
		}
		r, err := f.Open()
		if err != nil {
			return nil, &Error{What: fmt.Sprintf("%s cannot be unpacked: %v", name, err), Hint: "pack the model again, without a password"}
		}
		defer r.Close()
		data, err := io.ReadAll(&stopping{ctx, io.LimitReader(r, left+1)})
		switch {
		case ctx.Err() != nil:
			return nil, ctx.Err()
		case int64(len(data)) > left:
			return nil, &Error{What: fmt.Sprintf("unpacked, the ZIP is larger than %d MB", mostUnpacked>>20), Hint: "split the model"}
		case err != nil && !errors.Is(err, io.EOF):
			return nil, &Error{What: fmt.Sprintf("%s cannot be unpacked: %v", name, err), Hint: "pack the model again"}
		}
		left -= int64(len(data))
		return data, nil
	}
	data, err := unpack(models[0])
	if err != nil {
		return nil, err
	}
	folder := path.Dir(models[0])
	m, err := Read(ctx, models[0], Input{Data: data, Progress: in.Progress, Beside: func(name string) ([]byte, error) { return unpack(path.Join(folder, name)) }})
	var bad *Error
	if errors.As(err, &bad) {
		return nil, &Error{Line: bad.Line, What: models[0] + ": " + bad.What, Hint: bad.Hint}
	}
	return m, err
}

// stopping is a reader that ends with a context.
type stopping struct {
	ctx context.Context
	r   io.Reader
}

func (s *stopping) Read(p []byte) (int, error) {
	if err := s.ctx.Err(); err != nil {
		return 0, err
	}
	return s.r.Read(p)
}
