package lay

import (
	"context"
	"errors"
	"fmt"
	"runtime"
	"slices"
	"sync/atomic"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/flatten"
	"morvek/core/mesh"
	"morvek/core/parallel"
)

// Flatten lays pieces flat, on the rack or, for a single piece that still fits, where
// its shell lay before; what cannot lie flat in one is divided.
func Flatten(ctx context.Context, d *document.Document, e Options, progress func(float64)) (*document.State, error) {
	if err := document.CheckFaces(d.Mesh, e.Faces); err != nil {
		return nil, err
	}
	if e.Method != "" && !slices.Contains(flatten.Methods, e.Method) {
		return nil, document.Refuse("there is no way of flattening called %q", e.Method)
	}
	s := d.Begin()
	todo := piecesOf(s.State, d.Mesh, e.Faces)
	results := make([][]FlatShell, len(todo))
	cuts := make([][]mesh.EdgeID, len(todo))
	var done atomic.Int64
	spared, scale := s.Spared(d.Mesh), d.Density()
	g, gctx := parallel.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for i, r := range todo {
		g.Go(func() error {
			l := layer{doc: d, state: s.State, density: scale, limit: stretchLimit(s.Settings), spared: spared, how: &e}
			err := parallel.Catch(func() error { return l.piece(gctx, r) })
			kept := (errors.Is(err, flatten.ErrNotDisk) || errors.Is(err, errSqueezed)) && slices.ContainsFunc(d.Mesh.EdgesWithin(r.Faces), l.spared)
			if err != nil && len(e.Faces) == 0 && gctx.Err() == nil && !kept {
				l.out, l.cuts = nil, nil // whatever is wrong with it, the others go on
				err = parallel.Catch(func() error { return l.faceByFace(gctx, r) })
			}
			if kept && len(e.Faces) == 0 { // people want it so
				return nil
			}
			if err != nil {
				return explain(s.State, r.Part, err)
			}
			results[i], cuts[i] = l.out, l.cuts
			parallel.Report(progress, float64(done.Add(1))/float64(len(todo)))
			return nil
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	rack := s.Map.NewRack(facesOf(todo)...)
	for i, r := range todo {
		if len(results[i]) == 0 {
			leaveOut(s, r)
			continue
		}
		for _, c := range cuts[i] {
			s.Map.SetCut(c, true)
		}
		if r.Part >= 0 {
			s.Part(r.Part).Method = results[i][0].method
			if len(e.Faces) > 0 {
				s.Part(r.Part).Projection = nil
			}
			s.Part(r.Part).Note = ""
			if n := len(results[i]); n > 1 {
				s.Part(r.Part).Note = fmt.Sprintf("does not lie flat in one; divided into %d", n)
			}
		}
		for _, f := range results[i] {
			for k := range f.Uv {
				f.Uv[k] = r2.Scale(scale, f.Uv[k])
			}
			if f.placed {
				s.Map.Set(f.Patch, f.Uv)
				SetPins(s, f.Patch, d.State.Map)
				continue
			}
			if len(todo) > 1 || len(results[i]) > 1 || !s.Map.Placing(s.Settings.Sheet.Across()).InItsPlace(d.State.Map, f.Patch, f.Uv) {
				rack.Put(f.Uv)
				s.Map.Set(f.Patch, f.Uv)
			}
		}
	}
	return s.Done(), nil
}

// leaveOut takes the map off a piece that closes on itself and says so.
func leaveOut(s *document.Tx, r Piece) {
	for _, f := range r.Faces {
		s.Map.Unmap(f)
	}
	if r.Part >= 0 {
		s.Part(r.Part).Note = "closes on itself and may not be opened: cut an opening by hand, or keep less of it whole"
	}
}

func explain(s *document.State, p document.PartID, err error) error {
	name := "this piece"
	if p >= 0 {
		name = s.Parts[p].Name
	}
	switch {
	case errors.Is(err, errSqueezed):
		return document.Refuse("%s would be squeezed to nothing as it is cut; cut it open further, or keep less of it whole", name)
	case !errors.Is(err, flatten.ErrNotDisk):
		return err
	}
	return document.Refuse("%s closes on itself; cut an opening first", name)
}

// stretchLimit is the L² stretch above which a shell is divided: the dial from
// fewer pieces to less stretch.
func stretchLimit(s document.Settings) float64 {
	return 1.16 - 0.22*min(s.Dial, 0.5) - 0.06*max(0, s.Dial-0.5)
}

// piece lays a piece as its part, its pins or the edit ask for.
func (l *layer) piece(ctx context.Context, r Piece) error {
	p := mesh.NewPatch(l.doc.Mesh, r.Faces, l.state.Map.IsCut)
	if pr := l.state.Projection(r.Part); pr != nil && len(l.how.Faces) == 0 {
		return l.project(ctx, p, pr)
	}
	if pins := PinsOf(l.state, p, l.density); len(pins) > 0 {
		return l.pinned(ctx, p, pins, r)
	}
	var pieces []document.Piece
	if r.Part >= 0 {
		pieces = l.state.Parts[r.Part].Pieces
	}
	return l.lay(ctx, bit{r.Faces, l.state.Fit(r.Part), pieces}, r.Part, 0)
}
