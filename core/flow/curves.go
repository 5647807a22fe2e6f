package flow

import "morvek/core/mesh"

// curved is the sum of angle defects, radians, from which a shell is no bent sheet any
// more: straight lines on it cost stretch whatever one does.
const curved = 1.0

// curves says why a shell that curves both ways stays as it is, otherwise what it is told.
func curves(p *mesh.Patch, otherwise string) string {
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
		return otherwise
	case saddle < dome/4:
		return "it is a dome: straight loops would stretch it more than is allowed"
	case dome < saddle/4:
		return "it curves opposite ways, as a saddle: straight loops would stretch it more than is allowed"
	}
	return "it curves one way here and the opposite way there, as an elbow: straight loops would stretch it more than is allowed"
}
