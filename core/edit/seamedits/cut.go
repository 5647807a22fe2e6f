package seamedits

import (
	"context"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/words"
)

// Cut makes shells end at edges.
type Cut struct {
	Edges []mesh.EdgeID `json:"edges"`
}

// Kind implements Edit.
func (*Cut) Kind() string { return "cut" }

// Describe implements Edit.
func (c *Cut) Describe() string { return "cut " + words.Count(len(c.Edges), "edge") }

// Apply implements Edit.
func (c *Cut) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	return setCuts(d, c.Edges, true, "all of these edges are cut already")
}

// Close takes cuts back. The shells stay apart until they are flattened again.
type Close struct {
	Edges []mesh.EdgeID `json:"edges"`
}

// Kind implements Edit.
func (*Close) Kind() string { return "close" }

// Describe implements Edit.
func (c *Close) Describe() string { return "close " + words.Count(len(c.Edges), "edge") }

// Apply implements Edit.
func (c *Close) Apply(_ context.Context, d *document.Document, _ func(float64)) (*document.State, error) {
	return setCuts(d, c.Edges, false, "none of these edges is cut")
}

func setCuts(d *document.Document, edges []mesh.EdgeID, to bool, none string) (*document.State, error) {
	if err := document.CheckEdges(d.Mesh, edges); err != nil {
		return nil, err
	}
	s := d.Begin()
	var changed []mesh.EdgeID
	for _, e := range edges {
		if d.Mesh.Twin(d.Mesh.EdgeHalf(e)) == mesh.None || s.Map.IsCut(e) == to {
			continue // borders are always ends
		}
		changed = append(changed, e)
	}
	if len(changed) == 0 {
		return nil, document.Refuse("%s", none)
	}
	s.CutByHand(d.Mesh, changed, to)
	return s.Done(), nil
}
