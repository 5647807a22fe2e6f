package store

import "context"

// Cover is what a document looks like from outside, as of a revision.
type Cover struct {
	Revision     int64   `db:"revision"`
	Model, Sheet []byte  // PNG
	Parts        int     `db:"parts"`
	Shells       int     `db:"shells"`
	Findings     int     `db:"findings"`
	Open         int     `db:"open"`     // cells of the route card with something to do
	Coverage     float64 `db:"coverage"` // of the sheet, 0 to 1
}

// KeepCover stores the cover of a document in place of an older one.
func (s *Store) KeepCover(ctx context.Context, document int64, c Cover) error {
	_, err := s.db.ExecContext(ctx, `insert into covers (document_id, revision, model, sheet, parts, shells, findings, open, coverage) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
		on conflict (document_id) do update set revision = excluded.revision, model = excluded.model, sheet = excluded.sheet, parts = excluded.parts, shells = excluded.shells,
		findings = excluded.findings, open = excluded.open, coverage = excluded.coverage where covers.revision < excluded.revision`,
		document, c.Revision, c.Model, c.Sheet, c.Parts, c.Shells, c.Findings, c.Open, c.Coverage)
	return err
}

// Cover returns the cover of a document, which may be of an older revision.
func (s *Store) Cover(ctx context.Context, document int64) (c Cover, err error) {
	err = s.db.GetContext(ctx, &c, `select revision, model, sheet, parts, shells, findings, open, coverage from covers where document_id = $1`, document)
	return c, found(err)
}
