package document

import (
	"fmt"
	"strings"

	"morvek/core/mesh"
	"morvek/core/shape"
)

// sourceName is the name a face has in the file: its object or its group.
func sourceName(m *mesh.Mesh, f mesh.FaceID) string {
	name := m.ObjectName(f)
	if name == "" {
		name = m.GroupName(f)
	}
	return strings.ReplaceAll(name, "_", " ")
}

// pieceName names a connected piece, one of several, by its first face.
func pieceName(m *mesh.Mesh, first mesh.FaceID, p, pieces int) string {
	if name := sourceName(m, first); name != "" {
		return name
	}
	if pieces == 1 {
		return "whole model"
	}
	return fmt.Sprintf("piece %d", p+1)
}

// nameParts names parts by the object they come from and their shape, and
// numbers those that would be called the same as each other or as others.
func nameParts(m *mesh.Mesh, parts []*Part, first []mesh.FaceID, others []*Part) {
	count, taken := map[string]int{}, map[string]bool{}
	for _, p := range others {
		taken[p.Name] = true
	}
	base := make([]string, len(parts))
	for i := range parts {
		base[i] = wordFor(parts[i].Fit)
		if src := sourceName(m, first[i]); strings.HasSuffix(src, base[i]) {
			base[i] = src // a dome is not called dome dome
		} else if src != "" {
			base[i] = src + " " + base[i]
		}
		count[base[i]]++
	}
	next := map[string]int{}
	for i := range parts {
		parts[i].Name = base[i]
		for count[base[i]] > 1 && parts[i].Name == base[i] || taken[parts[i].Name] {
			next[base[i]]++
			parts[i].Name = fmt.Sprintf("%s %d", base[i], next[base[i]])
		}
	}
}

// wordFor is what people call a part of a shape that has no better name.
func wordFor(f shape.Fit) string {
	if f.Kind == shape.Helix && f.Bent() {
		return "coil"
	}
	return f.Reads().Traits().Word
}
