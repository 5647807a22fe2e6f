package store

import (
	"context"
	"encoding/json"
)

// Jig is a projection kept for use on other faces of a project.
type Jig struct {
	ID         int64           `db:"id"`
	ProjectID  int64           `db:"project_id"`
	Name       string          `db:"name"`
	Projection json.RawMessage `db:"projection"`
}

// Jigs returns the jigs of a project by name.
func (s *Store) Jigs(ctx context.Context, project int64) ([]Jig, error) {
	var out []Jig
	err := s.db.SelectContext(ctx, &out, `select id, project_id, name, projection from jigs where project_id = $1 order by name`, project)
	return out, err
}

// KeepJig stores a jig under its name, in place of one that had it.
func (s *Store) KeepJig(ctx context.Context, project int64, name string, projection json.RawMessage) (id int64, err error) {
	err = s.db.GetContext(ctx, &id, `insert into jigs (project_id, name, projection) values ($1, $2, $3)
		on conflict (project_id, name) do update set projection = excluded.projection, changed_at = now() returning id`, project, name, string(projection))
	return id, err
}

// ChangeJig gives a jig another name and projection; ErrNotFound if there is none, ErrTaken if another one
// of the project has that name.
func (s *Store) ChangeJig(ctx context.Context, j Jig) error {
	err := found(s.db.GetContext(ctx, &j.ID, `update jigs set name = $3, projection = $4, changed_at = now() where project_id = $1 and id = $2 returning id`, j.ProjectID, j.ID, j.Name, string(j.Projection)))
	if taken(err) {
		return ErrTaken
	}
	return err
}

// DropJig forgets a jig of a project; ErrNotFound if there is none.
func (s *Store) DropJig(ctx context.Context, project, id int64) error {
	var gone int64
	return found(s.db.GetContext(ctx, &gone, `delete from jigs where project_id = $1 and id = $2 returning id`, project, id))
}
