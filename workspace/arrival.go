package workspace

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/mend"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/seam"
	"morvek/store"
)

// Arrival is how somebody wants a model that came in: its unit and its up, what is to be repaired,
// and which of the maps that came along go.
type Arrival struct {
	Unit    string           `json:"unit"`
	Up      string           `json:"up"`
	Repairs []string         `json:"repairs,omitempty"`
	Weld    float64          `json:"weld,omitempty"`  // distance, in model units; 0 for the usual one
	Drop    []document.MapID `json:"drop,omitempty"`  // by the order of the maps in the file, from 1
	Merge   bool             `json:"merge,omitempty"` // triangles are worked on as the polygons they were once
}

// repairs is what is stored of the repairs of a model.
type repairs struct {
	Kinds []string `json:"kinds"`
	Weld  float64  `json:"weld,omitempty"`

	Drop []document.MapID `json:"drop,omitempty"` // maps of the file that are left out, by their order there
}

// model reads the model of a document as it was stored, with what was repaired.
func (d *Documents) model(ctx context.Context, row store.Document) (*mesh.Mesh, error) {
	m, r, err := d.file(ctx, row)
	if err != nil {
		return nil, err
	}
	m, _, err = r.made(ctx, m)
	return m, err
}

// file reads the model of a document as it came, and what was done to it.
func (d *Documents) file(ctx context.Context, row store.Document) (m *mesh.Mesh, r repairs, err error) {
	src, done, err := d.store.Source(ctx, row.ModelHash)
	if err != nil {
		return nil, r, err
	}
	if err := r.read(done); err != nil {
		return nil, r, err
	}
	if m, err = meshio.Read(ctx, row.FileName, meshio.Input{Data: src}); err != nil {
		return nil, r, fmt.Errorf("the stored model: %w", err)
	}
	return m, r, nil
}

// read takes what is stored, "" for nothing.
func (r *repairs) read(stored string) error {
	if stored == "" {
		return nil
	}
	if err := json.Unmarshal([]byte(stored), r); err != nil {
		return fmt.Errorf("the stored repairs: %w", err)
	}
	return nil
}

// made makes the repairs of a mesh that nobody else has yet.
func (r repairs) made(ctx context.Context, m *mesh.Mesh) (*mesh.Mesh, []mend.Change, error) {
	m, done, err := mend.Do(ctx, m, r.Kinds, mend.Options{Weld: r.Weld})
	if err != nil {
		return nil, nil, err
	}
	dropMaps(m, r.Drop)
	return m, done, nil
}

// Arrived tells what was done to the model of a document on arrival: repairs, the distance within
// which points were welded (0 for the usual one), and the maps of its file that were left out.
func (d *Documents) Arrived(ctx context.Context, row store.Document) (a Arrival, err error) {
	_, done, err := d.store.Source(ctx, row.ModelHash)
	if err != nil {
		return a, err
	}
	var r repairs
	if err := r.read(done); err != nil {
		return a, err
	}
	return Arrival{Repairs: r.Kinds, Weld: r.Weld, Drop: r.Drop}, nil
}

// MeshKey names the mesh that is worked on, for caches.
func (o *Opened) MeshKey() string {
	if o.Doc.State.Settings.Merged {
		return o.Row.ModelHash + "-merged"
	}
	return o.Row.ModelHash
}

// Arrive lets a document on which nothing was done yet begin as somebody wants it, from its file
// as it came.
func (d *Documents) Arrive(ctx context.Context, id, base int64, a Arrival) (*Opened, error) {
	if err := mend.Check(a.Repairs); err != nil {
		return nil, document.Refuse("%v", err)
	}
	if !(a.Weld >= 0) {
		return nil, document.Refuse("a distance of %g is not possible", a.Weld)
	}
	row, err := d.store.Document(ctx, id)
	if err != nil {
		return nil, err
	}
	m, _, err := d.file(ctx, row)
	if err != nil {
		return nil, err
	}
	m, done, err := repairs{Kinds: a.Repairs, Weld: a.Weld, Drop: a.Drop}.made(ctx, m)
	if err != nil {
		return nil, document.Refuse("%v", err)
	}
	set := document.Guess(m, meshio.Habit(row.FileName), document.DefaultSettings())
	if a.Unit != "" {
		set.Unit = a.Unit
	}
	if a.Up != "" {
		set.Up = seam.Up(a.Up)
	}
	set.Merged = a.Merge
	if err := set.Check(); err != nil {
		return nil, err
	}
	state, err := document.New(m, set).State.MarshalBinary()
	if err != nil {
		return nil, err
	}
	next := store.Beginning{State: state, Faces: m.NumFaces(), Points: m.NumPoints()}
	if len(done) > 0 || len(a.Drop) > 0 {
		r := repairs{Weld: a.Weld, Drop: a.Drop}
		for _, c := range done {
			r.Kinds = append(r.Kinds, c.Kind)
		}
		text, err := json.Marshal(r)
		if err != nil {
			return nil, err
		}
		next.Repairs = string(text)
	}
	if _, err := d.store.Begin(ctx, id, base, next); err != nil {
		return nil, err
	}
	return d.Get(ctx, id)
}

// dropMaps takes maps out of a mesh that nobody else has yet.
func dropMaps(m *mesh.Mesh, gone []document.MapID) {
	var left []mesh.Layer
	for k, l := range m.Layers {
		if !slices.Contains(gone, document.MapID(k+2)) {
			left = append(left, l)
		}
	}
	m.Layers = left
	if !slices.Contains(gone, 1) {
		return
	}
	m.SourceUV, m.CornerUV = nil, nil
	if len(left) > 0 { // the next is the first then
		m.SourceUV, m.CornerUV, m.Layers = left[0].UV, left[0].Corner, left[1:]
	}
}
