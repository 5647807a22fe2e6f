package layout

import (
	"context"
	"fmt"
	"slices"

	"golang.org/x/sync/errgroup"

	"morvek/core/mesh"
	"morvek/core/seam"
	"morvek/core/shape"
	"morvek/core/unroll"
)

// Open cuts the openings that closed walls need, in the least exposed place.
type Open struct {
	Parts []PartID `json:"parts,omitempty"` // none: all
}

// Kind implements Edit.
func (*Open) Kind() string { return "open" }

// Describe implements Edit.
func (o *Open) Describe() string {
	if len(o.Parts) == 0 {
		return "cut openings"
	}
	return fmt.Sprintf("cut openings of %d parts", len(o.Parts))
}

// Apply implements Edit.
func (o *Open) Apply(ctx context.Context, d *Document, progress func(float64)) (*State, error) {
	s := d.State.Clone()
	for _, p := range o.Parts {
		if p < 0 || int(p) >= len(s.Parts) {
			return nil, refuse("there is no part %d", p)
		}
	}
	var closed []piece
	var look []mesh.FaceID
	for _, r := range s.pieces(d.Mesh) {
		if len(o.Parts) > 0 && !slices.Contains(o.Parts, r.part) {
			continue
		}
		p := mesh.NewPatch(d.Mesh, r.faces, s.IsCut)
		if p.IsDisk() || len(p.Borders()) > 0 && unroll.LiesFlat(p, s.fit(r.part)) {
			continue
		}
		closed = append(closed, r)
		look = append(look, r.faces...)
	}
	if len(closed) == 0 && len(o.Parts) > 0 {
		return nil, refuse("nothing here closes on itself; no opening is needed")
	}
	x := d.Exposure()
	if err := x.Prepare(ctx, look); err != nil {
		return nil, err
	}
	chains := make([][]mesh.EdgeID, len(closed))
	done := make(chan struct{}, len(closed))
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(workers)
	for i, r := range closed {
		g.Go(func() error {
			fit := s.fit(r.part)
			chain, err := seam.Openings(ctx, d.Mesh, r.faces, s.IsCut, fit, seam.HiddenCost(d.Mesh, x, fit),
				func(p *mesh.Patch) bool { return unroll.LiesFlat(p, fit) })
			chains[i] = chain
			done <- struct{}{}
			report(progress, float64(len(done))/float64(len(closed)))
			return err
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	for _, c := range chains {
		for _, e := range c {
			s.Cut[e] = true
		}
	}
	return s, nil
}

func (s *State) fit(p PartID) shape.Fit {
	if p < 0 {
		return shape.Fit{Kind: shape.Free}
	}
	return s.Parts[p].Fit
}

func report(progress func(float64), share float64) {
	if progress != nil {
		progress(share)
	}
}

// piece is a set of faces that hang together over uncut edges.
type piece struct {
	faces []mesh.FaceID
	part  PartID // of its largest share of area
}

// pieces returns what will be one shell each, in order of the first face.
func (s *State) pieces(m *mesh.Mesh) []piece {
	region, n := m.Regions(s.IsCut)
	out := make([]piece, n)
	for f, r := range region {
		out[r].faces = append(out[r].faces, mesh.FaceID(f))
	}
	areas := m.FaceAreas()
	for i := range out {
		weight := map[PartID]float64{}
		best := s.FacePart[out[i].faces[0]]
		for _, f := range out[i].faces {
			p := s.FacePart[f]
			weight[p] += areas[f]
			if weight[p] > weight[best]*(1+1e-9) {
				best = p
			}
		}
		out[i].part = best
	}
	return out
}
