package sheetedits

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"morvek/core/document"
	"morvek/core/edit/preview"
	"morvek/core/segment"
	"morvek/core/words"
)

// Preview says what dividing shells costs and brings, those with the longest cuts first.
func (e *Lanes) Preview(ctx context.Context, d *document.Document) (preview.Preview, error) {
	next, cuts, sharper, err := e.Plan(ctx, d)
	if err != nil {
		return preview.Preview{}, err
	}
	v := preview.Preview{State: next, Said: laneWords(d.State, cuts, sharper)}
	cuts = slices.Clone(cuts)
	slices.SortStableFunc(cuts, func(a, b segment.Division) int { return cmp.Compare(float32(b.Length), float32(a.Length)) })
	for _, c := range cuts[:min(preview.Mostly, len(cuts))] {
		name := "a shell"
		if c.Part >= 0 {
			name = d.State.Parts[c.Part].Name
		}
		v.Rows = append(v.Rows, preview.Row{Edges: c.Edges, Words: fmt.Sprintf("%s in %d", name, c.Pieces),
			Figures: fmt.Sprintf("%s, exposure %.2f", words.Length(c.Length, d.State.Settings.Unit), c.Exposure)})
	}
	return v, nil
}

func laneWords(s *document.State, cuts []segment.Division, sharper float64) string {
	var long, seen float64
	more := 0
	for _, c := range cuts {
		more += c.Pieces - 1
		long += c.Length
		seen += c.Length * c.Exposure
	}
	gain := "nothing gets sharper"
	if sharper > 1.01 {
		gain = "everything gets " + words.Times(sharper, 2) + " sharper"
	}
	return fmt.Sprintf("%d more %s, %s of seam, %.0f %% of it in view; %s", more, words.Plural(more, "piece"), words.Length(long, s.Settings.Unit), 100*seen/max(long, 1e-300), gain)
}
