package sheetedits

import (
	"context"
	"fmt"
	"math"
	"strings"

	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/words"
)

// FollowMirror makes one half follow the other: every part whose mirror image in the
// plane of the model is mapped gets its seams and its map, mirrored, and waits on the
// rack. Where both are mapped the one made by hand leads, otherwise the first. Parts that
// lie across the plane, and those without an image, stay as they are.
type FollowMirror struct {
	did string // after it was applied
}

// Kind implements Edit.
func (*FollowMirror) Kind() string { return "follow-mirror" }

// Describe implements Edit.
func (e *FollowMirror) Describe() string { return "let the mirrored half follow" + e.did }

// Apply implements Edit.
func (e *FollowMirror) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	s := d.Begin()
	faces := s.PartFaces()
	image, across, alone := images(d, faces)
	given, unlike, unmapped := 0, 0, 0
	for i, k := range image {
		if k == document.NoPart || int(k) < i {
			continue
		}
		lead, follow := document.PartID(i), k
		if !mapped(s.State, faces, lead) || mapped(s.State, faces, follow) && s.Parts[follow].ByHand && !s.Parts[lead].ByHand {
			lead, follow = follow, lead
		}
		if !mapped(s.State, faces, lead) {
			unmapped++
			continue
		}
		if _, ok := s.GiveMap(d.Mesh, faces, lead, follow, true); !ok {
			unlike++
			continue
		}
		s.Map.ToRack(faces[follow])
		given++
	}
	var left []string
	for _, w := range []struct {
		n   int
		why string
	}{{across, "across the plane"}, {alone, "without an image"}, {unlike, "of another mesh than their image"}, {unmapped, "not mapped"}} {
		if w.n > 0 {
			left = append(left, fmt.Sprintf("%d %s", w.n, w.why))
		}
	}
	if given == 0 {
		if len(left) == 0 {
			left = []string{"none has a mirror image; recognise parts first"}
		}
		return nil, document.Refuse("no part can follow: %s", strings.Join(left, ", "))
	}
	e.did = ": " + words.Count(given, "part")
	if len(left) > 0 {
		e.did += "; left as they are: " + strings.Join(left, ", ")
	}
	return s.Done(), nil
}

func mapped(s *document.State, faces [][]mesh.FaceID, p document.PartID) bool {
	return len(faces[p]) > 0 && s.Map.IsMapped(faces[p][0])
}

// images returns for each part the other one that is its image in the mirror plane of the
// model, or NoPart, and counts the parts that are their own image and those without one.
// Where the model has no such plane, equal parts that are mirrored count as images.
func images(d *document.Document, faces [][]mesh.FaceID) (image []document.PartID, across, alone int) {
	s := d.State
	image = make([]document.PartID, len(s.Parts))
	for i := range image {
		image[i] = document.NoPart
	}
	plane, ok := d.Mirror()
	if !ok {
		for i, p := range s.Parts {
			if p.Mirrored && p.RepeatOf != nil && image[*p.RepeatOf] == document.NoPart {
				image[i], image[*p.RepeatOf] = *p.RepeatOf, document.PartID(i)
			}
		}
		return image, 0, 0
	}
	areas := d.Mesh.FaceAreas()
	centre, area := make([]r3.Vec, len(faces)), make([]float64, len(faces))
	for i, fs := range faces {
		for _, f := range fs {
			centre[i] = r3.Add(centre[i], r3.Scale(areas[f], d.Mesh.FaceCentre(f)))
			area[i] += areas[f]
		}
		if area[i] > 0 {
			centre[i] = r3.Scale(1/area[i], centre[i])
		}
	}
	reach := 1e-3 * d.Mesh.Diagonal()
	for i := range faces {
		if image[i] != document.NoPart || len(faces[i]) == 0 {
			continue
		}
		off := r3.Dot(r3.Sub(centre[i], plane.Origin), plane.Normal)
		if math.Abs(off) <= reach {
			across++
			continue
		}
		at := plane.Of(centre[i])
		best := document.NoPart
		for k := range faces {
			if k == i || image[k] != document.NoPart || math.Abs(area[k]-area[i]) > 0.01*area[i] || r3.Norm(r3.Sub(centre[k], at)) > reach {
				continue
			}
			if best == document.NoPart || r3.Norm(r3.Sub(centre[k], at)) < r3.Norm(r3.Sub(centre[best], at)) {
				best = document.PartID(k)
			}
		}
		if best == document.NoPart {
			alone++
			continue
		}
		image[i], image[best] = best, document.PartID(i)
	}
	return image, across, alone
}
