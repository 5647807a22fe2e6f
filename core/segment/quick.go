package segment

import (
	"context"
	"encoding/binary"

	"morvek/core/document"
	"morvek/core/lay"
	"morvek/core/sheet"
)

// quick returns the scale at which a quick packing lays shells as a plan divides them, 0 where that is
// not above a bound.
func (r *ruling) quick(ctx context.Context, plan map[int]laneCut, above float64) (float64, error) {
	key := r.key(plan)
	if was, ok := r.quicks[key]; ok && (was.scale > 0 || was.above <= above) {
		return was.scale, nil
	}
	var in []sheet.Shell
	for i := range r.bands {
		if c, ok := plan[i]; ok {
			in = append(in, c.pieces...)
		} else {
			in = append(in, r.bands[i].whole)
		}
	}
	scale, err := sheet.Estimate(ctx, in, lay.Packing(r.doc.State.Settings), above)
	switch {
	case ctx.Err() != nil:
		return 0, ctx.Err()
	case err != nil:
		return 0, document.Refuse("%v", err)
	}
	r.quicks[key] = estimate{scale, above}
	return scale, nil
}

// key tells plans apart that cut other edges.
func (r *ruling) key(plan map[int]laneCut) string {
	var key []byte
	for i := range r.bands {
		c, ok := plan[i]
		if !ok {
			continue
		}
		key = binary.AppendVarint(key, int64(i))
		for _, e := range c.edges {
			key = binary.AppendVarint(key, int64(e)+1)
		}
		key = append(key, 0)
	}
	return string(key)
}
