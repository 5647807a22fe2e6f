package workspace

import (
	"context"
	"path/filepath"
	"strings"

	"morvek/core/document"
	"morvek/core/meshio"
	"morvek/store"
)

// readShare is how much of bringing a file in is reading it; the rest looks it over.
const readShare = 0.7

// BringIn reads a file that somebody sent and makes a document of it, as it came. tell hears what is
// done and how far it is. Done again it makes no second one.
func (d *Documents) BringIn(ctx context.Context, upload int64, tell func(what string, done float64)) error {
	u, err := d.store.Upload(ctx, upload)
	if err != nil || u.DocumentID != nil {
		return err
	}
	src, err := d.store.UploadSource(ctx, upload)
	if err != nil {
		return err
	}
	m, err := meshio.Read(ctx, u.FileName, meshio.Input{Data: src, Progress: func(done float64) { tell("reading", readShare*done) }})
	if err != nil {
		return err
	}
	tell("looking it over", readShare)
	doc := document.New(m, document.Guess(m, meshio.Habit(u.FileName), document.DefaultSettings()))
	doc.Health() // the page that comes next shows it
	state, err := doc.State.MarshalBinary()
	if err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	tell("storing", 0.9)
	id, err := d.store.Land(ctx, upload, store.NewDocument{Project: u.ProjectID, Title: strings.TrimSuffix(u.FileName, filepath.Ext(u.FileName)), About: "brought in from " + u.FileName,
		FileName: u.FileName, Source: src, Faces: m.NumFaces(), Points: m.NumPoints(), State: state})
	if err != nil {
		return err
	}
	row, err := d.store.Document(ctx, id)
	if err != nil {
		return err
	}
	d.keep(opened(row, doc))
	return nil
}
