package document

import (
	"slices"

	"morvek/core/atlas"
	"morvek/core/mesh"
)

// partsOn are the parts that others lay on, as that was stored before shells were stacked.
type partsOn struct {
	Parts  []partOn `json:"parts"`
	Others []struct {
		Lays []partOn `json:"lays"`
	} `json:"others"`
}

type partOn struct {
	On *PartID `json:"stacked_on"`
}

// stackedParts are the stacks of a map in which parts were noted to lie on others, as it was
// stored before shells were.
func stackedParts(c *atlas.Map, partOf []PartID, on []partOn) (stacks [][]mesh.FaceID) {
	if !slices.ContainsFunc(on, func(p partOn) bool { return p.On != nil }) {
		return nil
	}
	shells, _ := c.Shells()
	part := func(sh atlas.Shell) PartID { return partOf[sh.Faces[0]] }
	at := map[mesh.FaceID]int{} // the stack of a lowest shell
	for _, sh := range shells {
		p := part(sh)
		if p < 0 || int(p) >= len(on) || on[p].On == nil {
			continue
		}
		for _, low := range shells {
			if part(low) != *on[p].On {
				continue
			}
			if _, ok := tilesApart(c.Box(low.Faces), c.Box(sh.Faces), 1); !ok {
				continue
			}
			i, known := at[low.Faces[0]]
			if !known {
				i = len(stacks)
				at[low.Faces[0]] = i
				stacks = append(stacks, []mesh.FaceID{low.Faces[0]})
			}
			stacks[i] = append(stacks[i], sh.Faces[0])
			break
		}
	}
	return stacks
}
