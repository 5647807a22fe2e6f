package flow

import "morvek/core/mesh"

// curved is the sum of angle defects, radians, from which a shell is no bent sheet any
// more: straight lines on it cost stretch whatever one does.
const curved = 1.0

// curves says how a shell curves that is no bent sheet, "" for one that is.
func curves(p *mesh.Patch) string {
	defect, border := p.Defects()
	var dome, saddle float64
	for v, k := range defect {
		switch {
		case border[v]:
		case k > 0:
			dome += k
		default:
			saddle -= k
		}
	}
	switch {
	case dome+saddle < curved:
		return ""
	case saddle < dome/4:
		return "it is a dome"
	case dome < saddle/4:
		return "it curves opposite ways, as a saddle"
	}
	return "it curves one way here and the opposite way there, as an elbow"
}

// stays says why a shell stays as it is: because of how it curves, otherwise what it is told.
func (t *Trued) stays(p *mesh.Patch, otherwise string) string {
	if t.Curves = curves(p); t.Curves == "" {
		return otherwise
	}
	return t.Curves + ": straight loops would stretch it more than is allowed"
}
