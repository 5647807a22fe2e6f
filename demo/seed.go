package demo

import (
	"bytes"
	"context"
	"fmt"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/layout"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/pipeline"
	"morvek/session"
	"morvek/store"
)

// ProjectTitle is the project of the demo workshop.
const ProjectTitle = "Fennhollow weather station"

// Seed fills an empty database with the workshop's models: each as it came,
// with its junk map, and the lamp once more with the job done. A database that
// has a project already is left alone.
func Seed(ctx context.Context, s *store.Store, docs *session.Documents, say func(string)) error {
	have, err := s.Projects(ctx)
	if err != nil || len(have) > 0 {
		return err
	}
	project, err := s.CreateProject(ctx, ProjectTitle)
	if err != nil {
		return err
	}
	for i, m := range Models() {
		say("building " + m.Title)
		if _, err := seedModel(ctx, s, project, m, m.Title); err != nil {
			return fmt.Errorf("%s: %w", m.Title, err)
		}
		if i > 0 {
			continue
		}
		twin, err := seedModel(ctx, s, project, m, m.Title+", finished")
		if err != nil {
			return err
		}
		o, err := docs.Get(ctx, twin)
		if err != nil {
			return err
		}
		res, err := pipeline.Run(ctx, o.Doc, nil)
		if err != nil {
			return err
		}
		if _, err := docs.AppendJob(ctx, o, res); err != nil {
			return err
		}
	}
	return nil
}

func seedModel(ctx context.Context, s *store.Store, project int64, m Model, title string) (int64, error) {
	built, err := m.Mesh()
	if err != nil {
		return 0, err
	}
	junk := JunkMap(built)
	var obj bytes.Buffer
	if err := meshio.WriteOBJ(&obj, built, func(c mesh.HalfedgeID) (r2.Vec, bool) { return junk.UV[c], true }); err != nil {
		return 0, err
	}
	read, err := meshio.ReadOBJ(ctx, bytes.NewReader(obj.Bytes()))
	if err != nil {
		return 0, err
	}
	d := layout.New(read, layout.DefaultSettings())
	d.State.Wishes.Labels = m.labels(read)
	state, err := d.State.MarshalBinary()
	if err != nil {
		return 0, err
	}
	return s.CreateDocument(ctx, store.NewDocument{Project: project, Title: title, About: m.About, FileName: m.Slug + ".obj",
		Source: obj.Bytes(), Faces: read.NumFaces(), Points: read.NumPoints(), State: state})
}
