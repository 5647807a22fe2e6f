package revise

import (
	"morvek/core/document"
	"morvek/core/mesh"
)

// Carried is what became of the faces of a revised model.
type Carried struct {
	Kept     int     `json:"kept"`
	Moved    int     `json:"moved"`
	Remeshed int     `json:"remeshed"`
	New      int     `json:"new"`
	Gone     int     `json:"gone"`              // faces of the model before that are no more
	Smaller  float64 `json:"smaller,omitempty"` // the share of the density of all others at which some new ones had to be laid
	Waiting  int     `json:"waiting,omitempty"` // shells of new faces that found no room and wait on the rack

	InPlace int `json:"in_place,omitempty"` // of the new ones, those that lie in the hole that was left of their part

	Maps []Pairing `json:"maps,omitempty"` // that were brought over, where there are several
}

// Fate is what becomes of a face, of the revised model or of the one before.
type Fate uint8

// What can become of a face.
const (
	Stays   Fate = iota // it lies where it lay, to the bit
	Adapted             // every place of it lies where it lay, but it moved or was cut otherwise
	Anew                // it is laid anew: it is new, or too much of its part is
	Gone                // of the model before: it is no more
)

// Outlook is what becomes of two models when the map of one goes over to the other.
type Outlook struct {
	After  []Fate // of each face of the revised model
	Before []Fate // of each face of the model before
	Carried
	Part  []document.PartID // of each face of the revised model
	Parts []PartOutlook     // those of the revised model in their order, then those that are gone
}

// PartOutlook is what becomes of the faces of a part.
type PartOutlook struct {
	Name  string
	Now   mesh.FaceID // a face of it, None where it is gone
	Was   mesh.FaceID // a face of the part before of that name, None where there was none
	Faces [4]int      // by their fate
}

// Foresee tells what Carry will do to a revised model of which the parts are known. It measures no
// room: Smaller and Waiting are not told.
func Foresee(from, to *document.Document, m Match) Outlook {
	now := to.Mesh
	out := Outlook{After: make([]Fate, now.NumFaces()), Before: make([]Fate, from.Mesh.NumFaces()), Part: make([]document.PartID, now.NumFaces())}
	for f := range out.Before {
		out.Before[f] = Gone
	}
	changed := changedParts(to, m)
	torn := tornOff(from, now, m)
	for f := range mesh.FaceID(now.NumFaces()) {
		kind := m.Kind[f]
		if kind.Lies() && (torn[f] || kind != Kept && changed[to.State.PartOf(f)] || !from.State.Map.IsMapped(m.Of[f])) {
			kind = New
		}
		fate := Anew
		switch kind {
		case Kept:
			fate = Stays
			out.Carried.Kept++
		case Moved:
			fate = Adapted
			out.Carried.Moved++
		case Remeshed:
			fate = Adapted
			out.Carried.Remeshed++
		default:
			out.Carried.New++
		}
		out.After[f], out.Part[f] = fate, to.State.PartOf(f)
		if of := m.Of[f]; of != mesh.None {
			out.Before[of] = min(out.Before[of], fate)
		}
	}
	for _, fate := range out.Before {
		if fate == Gone {
			out.Carried.Gone++
		}
	}
	out.Parts = partOutlooks(from, to, m, out)
	return out
}

// tornOff are the faces that moved away from what they lay together with: left where they lie they would be
// scraps that touch what stayed.
func tornOff(from *document.Document, now *mesh.Mesh, m Match) []bool {
	old, torn := from.Mesh, make([]bool, now.NumFaces())
	var todo []mesh.FaceID
	for h, was := range m.Corner {
		f := now.FaceOf(mesh.HalfedgeID(h))
		if m.Kind[f] != Moved || torn[f] || was == mesh.None || old.Twin(was) == mesh.None || from.State.Map.IsCut(old.Edge(was)) {
			continue
		}
		if t := now.Twin(mesh.HalfedgeID(h)); t == mesh.None || !m.Kind[now.FaceOf(t)].Lies() || m.Of[now.FaceOf(t)] != old.FaceOf(old.Twin(was)) {
			torn[f] = true
			todo = append(todo, f)
		}
	}
	for k := 0; k < len(todo); k++ { // with all that moved along
		lo, hi := now.Corners(todo[k])
		for h := lo; h < hi; h++ {
			t := now.Twin(h)
			if t == mesh.None || from.State.Map.IsCut(old.Edge(m.Corner[h])) {
				continue
			}
			if g := now.FaceOf(t); m.Kind[g] == Moved && !torn[g] {
				torn[g] = true
				todo = append(todo, g)
			}
		}
	}
	return torn
}

// partOutlooks sums up by part, by the names they will have.
func partOutlooks(from, to *document.Document, m Match, look Outlook) []PartOutlook {
	names := called(to.State, from, m)
	out := make([]PartOutlook, len(names))
	at := map[string]int{}
	for p, name := range names {
		out[p] = PartOutlook{Name: name, Now: mesh.None, Was: mesh.None}
		if name == "" {
			out[p].Name = to.State.Parts[p].Name
		} else {
			at[name] = p
		}
	}
	for f, fate := range look.After {
		if p := look.Part[f]; p >= 0 {
			out[p].Faces[fate]++
			if out[p].Now == mesh.None {
				out[p].Now = mesh.FaceID(f)
			}
		}
	}
	var gone []PartOutlook
	for q, faces := range from.State.PartFaces() {
		if len(faces) == 0 {
			continue
		}
		n := 0
		for _, f := range faces {
			if look.Before[f] == Gone {
				n++
			}
		}
		if p, ok := at[from.State.Parts[q].Name]; ok {
			out[p].Was = faces[0]
			out[p].Faces[Gone] += n
		} else if n > 0 {
			gone = append(gone, PartOutlook{Name: from.State.Parts[q].Name, Now: mesh.None, Was: faces[0], Faces: [4]int{Gone: n}})
		}
	}
	return append(out, gone...)
}

// changedParts are the parts that have faces which are new. What moved or was cut otherwise in them is
// done anew with these: it would lie in scraps beside them.
func changedParts(d *document.Document, m Match) map[document.PartID]bool {
	out := map[document.PartID]bool{}
	for f, k := range m.Kind {
		if !k.Lies() {
			out[d.State.PartOf(mesh.FaceID(f))] = true
		}
	}
	delete(out, document.NoPart)
	return out
}
