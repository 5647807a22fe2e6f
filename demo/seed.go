// Package demo fills an empty database with the models of the workshop.
package demo

import (
	"bytes"
	"context"
	"fmt"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/pipeline"
	"morvek/models"
	"morvek/store"
	"morvek/workspace"
)

// ProjectTitle is the project of the demo workshop.
const ProjectTitle = "Fennhollow weather station"

// Seed fills an empty database with the workshop's models: each as it came,
// with its junk map, and the lamp once more with the job done. All or nothing is
// stored; a database that has a project already is left alone.
func Seed(ctx context.Context, s *store.Store, say func(string)) error {
	have, err := s.Projects(ctx)
	if err != nil || len(have) > 0 {
		return err
	}
	var all []store.NewDocument
	for i, m := range models.Models() {
		say("building " + m.Title)
		n, d, err := newDocument(ctx, m)
		if err != nil {
			return fmt.Errorf("%s: %w", m.Title, err)
		}
		all = append(all, n)
		if i > 0 {
			continue
		}
		res, err := pipeline.Run(ctx, d, nil)
		if err != nil {
			return fmt.Errorf("%s: %w", m.Title, err)
		}
		n.Title += ", finished"
		edits, states := res.Edits()
		if n.Edits, err = workspace.Rows(d.State, edits, states); err != nil {
			return fmt.Errorf("%s: %w", m.Title, err)
		}
		all = append(all, n)
	}
	for _, m := range models.Revised() {
		say("building " + m.Title)
		n, _, err := newDocument(ctx, m)
		if err != nil {
			return fmt.Errorf("%s: %w", m.Title, err)
		}
		all = append(all, n)
	}
	say("building Careless winch")
	n, err := careless(ctx)
	if err != nil {
		return fmt.Errorf("the careless winch: %w", err)
	}
	all = append(all, n)
	_, err = s.CreateProject(ctx, ProjectTitle, all...)
	return err
}

// newDocument is a model as it comes in from a file.
func newDocument(ctx context.Context, m models.Model) (n store.NewDocument, d *document.Document, err error) {
	built, err := m.Mesh()
	if err != nil {
		return n, nil, err
	}
	junk := models.JunkMap(built)
	var file bytes.Buffer
	name := m.Slug + ".obj"
	if err := meshio.Write(&file, name, built, []meshio.Map{{Name: "junk", UV: func(c mesh.HalfedgeID) (r2.Vec, bool) { return junk.At(c), true }}}); err != nil {
		return n, nil, err
	}
	read, err := meshio.Read(ctx, name, meshio.Input{Data: file.Bytes()})
	if err != nil {
		return n, nil, err
	}
	d = document.New(read, document.DefaultSettings())
	tx := d.Begin()
	tx.Wishes.Labels = labels(m, read)
	d = d.With(tx.Done())
	state, err := d.State.MarshalBinary()
	if err != nil {
		return n, nil, err
	}
	return store.NewDocument{Title: m.Title, About: m.About, FileName: name,
		Source: file.Bytes(), Faces: read.NumFaces(), Points: read.NumPoints(), State: state}, d, nil
}
