package store

import (
	"context"
	"encoding/binary"
	"math"
)

// Exposure returns the stored exposure of a model, one value a face, as seen from
// where viewing says; ErrNotFound if it was not computed yet.
func (s *Store) Exposure(ctx context.Context, model, viewing string) ([]float32, error) {
	var b []byte
	if err := s.db.GetContext(ctx, &b, `select data from exposures where model_hash = $1 and viewing = $2`, model, viewing); err != nil {
		return nil, found(err)
	}
	b, err := s.unpack(b)
	if err != nil {
		return nil, err
	}
	out := make([]float32, len(b)/4)
	for i := range out {
		out[i] = math.Float32frombits(binary.LittleEndian.Uint32(b[4*i:]))
	}
	return out, nil
}

// KeepExposure stores the exposure of a model; what is there already stands.
func (s *Store) KeepExposure(ctx context.Context, model, viewing string, values []float32) error {
	b := make([]byte, 0, 4*len(values))
	for _, v := range values {
		b = binary.LittleEndian.AppendUint32(b, math.Float32bits(v))
	}
	_, err := s.db.ExecContext(ctx, `insert into exposures (model_hash, viewing, data) values ($1, $2, $3) on conflict do nothing`, model, viewing, s.pack(b))
	return err
}
