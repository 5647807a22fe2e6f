package document

import (
	"slices"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/ids"
	"morvek/core/mend"
	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

// Written are the maps to be written with the source mesh: all, or for a format that holds one the
// one that is shown. In files a picture goes from 0 to 1 both ways, however wide it is.
func (d *Document) Written(f format.Format) (out []format.Map) {
	if f.Maps == 1 {
		return []format.Map{d.WrittenMap()}
	}
	return d.WrittenMaps()
}

// WrittenMaps are all maps as they are written, in their order.
func (d *Document) WrittenMaps() (out []format.Map) {
	for _, h := range d.State.Maps() {
		if s, ok := d.State.Through(h.ID); ok {
			out = append(out, d.With(s).WrittenMap())
		}
	}
	return out
}

// WrittenMap is the map that is shown as it is written.
func (d *Document) WrittenMap() format.Map {
	return format.Map{Name: d.State.Shown.Name, UV: d.written(d.State)}
}

func (d *Document) written(s *State) format.UV {
	wide := s.Settings.Sheet.TileWidth()
	return func(c mesh.HalfedgeID) (r2.Vec, bool) {
		if d.Reduced.From != nil {
			c = d.Reduced.From[c]
		}
		q := s.Map.At(c)
		return r2.Vec{X: q.X / wide, Y: q.Y}, s.Map.IsMapped(d.Mesh.FaceOf(c))
	}
}

// SourceFaces returns the faces of the source that faces stand for, ascending.
func (d *Document) SourceFaces(faces []mesh.FaceID) []mesh.FaceID {
	if d.Reduced.From == nil {
		return faces
	}
	carried := d.carried()
	out := make([]mesh.FaceID, 0, len(faces))
	for _, f := range faces {
		out = append(append(out, d.Reduced.Face[f]), carried[f]...)
	}
	slices.Sort(out)
	return out
}

// carried returns the faces of the source that each face carries.
func (d *Document) carried() map[mesh.FaceID][]mesh.FaceID {
	d.shared.carriedOnce.Do(func() {
		d.shared.carried = map[mesh.FaceID][]mesh.FaceID{}
		for f := range d.Source.NumFaces() {
			by := d.Reduced.Carrier(d.Source, mesh.FaceID(f))
			if d.Reduced.Face[by] != mesh.FaceID(f) {
				d.shared.carried[by] = append(d.shared.carried[by], mesh.FaceID(f))
			}
		}
	})
	return d.shared.carried
}

// Health lists what is odd about the mesh that came in, found once.
func (d *Document) Health() []mesh.Ailment {
	d.shared.healthOnce.Do(func() {
		own := d.Source.Health()
		reduced := d.Reduced.Health(d.Source)
		for i := range own { // those that repeat corners are named already
			if a := &own[i]; a.Kind == "zero-area" && len(reduced) > 0 && reduced[0].Kind == "folded" {
				a.Faces = ids.Without(a.Faces, reduced[0].Faces)
				a.Count = len(a.Faces)
			}
		}
		own = slices.DeleteFunc(own, func(a mesh.Ailment) bool { return a.Count == 0 })
		d.shared.health = slices.Concat(reduced, mend.Health(d.Source), own)
	})
	return d.shared.health
}
