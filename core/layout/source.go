package layout

import (
	"slices"

	"morvek/core/mesh"
)

// inSource makes a report speak of the faces of the mesh that came in, those that are
// carried along with the faces that carry them.
func (d *Document) inSource(r *Report) {
	for i := range r.Shells {
		r.Shells[i].Faces = d.SourceFaces(r.Shells[i].Faces)
	}
	for i := range r.Findings {
		r.Findings[i].Faces = d.SourceFaces(r.Findings[i].Faces)
	}
}

func (d *Document) partInSource(p *PartReport) {
	p.Faces = d.SourceFaces(p.Faces)
	for i := range p.Pieces {
		d.partInSource(&p.Pieces[i])
	}
}

// SourceFaces returns the faces of the source that faces stand for, ascending.
func (d *Document) SourceFaces(faces []mesh.FaceID) []mesh.FaceID {
	if d.reduced.From == nil {
		return faces
	}
	carried := d.carried()
	out := make([]mesh.FaceID, 0, len(faces))
	for _, f := range faces {
		out = append(append(out, d.reduced.Face[f]), carried[f]...)
	}
	slices.Sort(out)
	return out
}

// carried returns the faces of the source that each face carries.
func (d *Document) carried() map[mesh.FaceID][]mesh.FaceID {
	d.shared.carriedOnce.Do(func() {
		d.shared.carried = map[mesh.FaceID][]mesh.FaceID{}
		for f := range d.Source.NumFaces() {
			by := d.reduced.Carrier(d.Source, mesh.FaceID(f))
			if d.reduced.Face[by] != mesh.FaceID(f) {
				d.shared.carried[by] = append(d.shared.carried[by], mesh.FaceID(f))
			}
		}
	})
	return d.shared.carried
}
