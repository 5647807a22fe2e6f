package bench

import (
	"fmt"
	"math"
	"net/http"

	"github.com/labstack/echo/v5"

	"morvek/core/mesh"

	"morvek/web/desk"
)

// edgePickRequest asks for a verb on picked edges or faces.
type edgePickRequest struct {
	Verb     string        `json:"verb"`
	Edges    []mesh.EdgeID `json:"edges"`
	Faces    []mesh.FaceID `json:"faces"`
	AngleDeg float64       `json:"angle_deg"`
	Shortest bool          `json:"shortest"` // for a path: by length alone, not along creases
}

// runView is a loop with what lies beyond its ends.
type runView struct {
	Edges  []mesh.EdgeID  `json:"edges"`
	Points []mesh.PointID `json:"points,omitempty"`
	From   int            `json:"from"`
	To     int            `json:"to"`
	Closed bool           `json:"closed"`
	Stops  []stopView     `json:"stops"`
}

type stopView struct {
	At  int    `json:"at"`
	Why string `json:"why"`
}

// pickEdges answers the edge verbs: what a pick becomes. It changes nothing.
func (b *Bench) pickEdges(c *echo.Context) error {
	o, err := b.Open(c)
	if err != nil {
		return err
	}
	r, err := desk.ReadBody[edgePickRequest](c)
	if err != nil {
		return err
	}
	m := o.Doc.Mesh
	for _, e := range r.Edges {
		if e < 0 || int(e) >= m.NumEdges() {
			return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("there is no edge %d; the mesh has %d", e, m.NumEdges()))
		}
	}
	if err := desk.KnownFaces(m, r.Faces); err != nil {
		return err
	}
	need := map[string]int{"run": 1, "ring": 1, "path": 2, "repeats": 1}[r.Verb]
	if len(r.Edges) < need {
		return echo.NewHTTPError(http.StatusBadRequest, "pick an edge first")
	}
	out := runView{Stops: []stopView{}}
	switch r.Verb {
	case "run":
		run := m.Run(r.Edges[0])
		out.Edges, out.Points, out.From, out.To, out.Closed = run.Edges, run.Points, run.From, run.To, run.Closed
		for _, s := range run.Stops {
			out.Stops = append(out.Stops, stopView(s))
		}
	case "ring":
		out.Edges, out.Closed = m.Ring(r.Edges[0])
	case "path":
		cost := m.CreaseCost
		if r.Shortest {
			cost = func(mesh.EdgeID) float64 { return 1 }
		}
		out.Edges = m.Path(r.Edges[0], r.Edges[1], cost)
	case "borders":
		out.Edges = m.OpenBorders()
	case "above":
		if !(r.AngleDeg > 0 && r.AngleDeg <= 180) {
			return badAngle(r.AngleDeg)
		}
		out.Edges = m.EdgesAbove(r.AngleDeg * math.Pi / 180)
	case "grow":
		out.Edges = m.GrowEdges(r.Edges)
	case "shrink":
		out.Edges = m.ShrinkEdges(r.Edges)
	case "around":
		out.Edges = m.BorderOf(r.Faces)
	case "repeats":
		out.Edges = o.Doc.OnRepeats(r.Edges)
	default:
		return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("there is no pick called %q", r.Verb))
	}
	if out.Edges == nil {
		out.Edges = []mesh.EdgeID{}
	}
	if out.Points == nil {
		out.To = len(out.Edges)
	}
	return c.JSON(http.StatusOK, out)
}

func badAngle(deg float64) error {
	return echo.NewHTTPError(http.StatusBadRequest, fmt.Sprintf("an angle of %g° is not possible; choose more than 0 and up to 180", deg))
}
