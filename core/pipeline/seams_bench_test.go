package pipeline_test

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/mesh"
	"morvek/core/pipeline"
	"morvek/models"
	"morvek/models/modeltest"
)

// BenchmarkSeams measures what the Seams station asks for on large models, the
// exposure of every face apart, as shares of recognising the parts: seconds for
// exposure, openings, attaching, and the dial turned on a finished map.
func BenchmarkSeams(b *testing.B) {
	for _, faces := range []int{50_000, 250_000} {
		b.Run(fmt.Sprintf("%dk", faces/1000), func(b *testing.B) {
			m, err := models.Mast(faces)
			if err != nil {
				b.Fatal(err)
			}
			d := document.New(m, document.DefaultSettings())
			took := map[string]float64{}
			do := func(what string, e edit.Edit) {
				start := time.Now()
				s, err := e.Apply(context.Background(), d, nil)
				if err != nil {
					b.Fatal(err)
				}
				took[what] += time.Since(start).Seconds()
				d = d.With(s)
			}
			for b.Loop() {
				d = document.New(m, document.DefaultSettings())
				start := time.Now()
				if err := d.Exposure().PrepareAll(context.Background(), nil); err != nil {
					b.Fatal(err)
				}
				took["exposure"] += time.Since(start).Seconds()
				do("parts", &partedits.Recognise{})
				do("open", &seamedits.Open{})
				do("attach", &seamedits.Attach{})
				do("", &flowedits.Flatten{})
				do("dial", &seamedits.Dial{Dial: 0.9})
			}
			for _, what := range []string{"exposure", "parts", "open", "attach", "dial"} {
				b.ReportMetric(took[what]/float64(b.N), "s-"+what)
			}
		})
	}
}

// BenchmarkOnTheBench measures what people wait for with the mouse in hand on the
// largest demo model: the ghost of a join, a cut, a chain across the model, the dial.
func BenchmarkOnTheBench(b *testing.B) {
	m := modeltest.Mesh(b, "line-winch")
	r, err := pipeline.Run(context.Background(), document.New(m, document.DefaultSettings()), nil)
	if err != nil {
		b.Fatal(err)
	}
	d := r.Doc
	var seams, inner []mesh.EdgeID
	for i, cut := range d.State.Map.Cuts() {
		e := mesh.EdgeID(i)
		if f, g := m.EdgeFaces(e); g != mesh.None && cut && d.State.PartOf(f) != d.State.PartOf(g) {
			seams = append(seams, e)
		} else if !cut {
			inner = append(inner, e)
		}
	}
	p95 := func(n int, do func(i int)) float64 {
		all := make([]float64, n)
		for i := range all {
			start := time.Now()
			do(i)
			all[i] = time.Since(start).Seconds() * 1000
		}
		slices.Sort(all)
		return all[n*95/100]
	}
	for b.Loop() {
		b.ReportMetric(p95(100, func(i int) {
			_, _, _ = (&seamedits.Join{Edges: seams[i*len(seams)/100 : i*len(seams)/100+1], Chain: true}).Cost(context.Background(), d) // some land on themselves
		}), "ms-join-ghost-p95")
		b.ReportMetric(p95(100, func(i int) {
			if _, err := (&seamedits.Cut{Edges: inner[i*len(inner)/100 : i*len(inner)/100+1]}).Apply(context.Background(), d, nil); err != nil {
				b.Fatal(err)
			}
		}), "ms-cut-p95")
		b.ReportMetric(p95(100, func(i int) {
			m.Path(seams[0], seams[i*len(seams)/100], m.CreaseCost)
		}), "ms-chain-p95")
		b.ReportMetric(p95(100, func(i int) { m.Run(inner[i*len(inner)/100]) }), "ms-loop-p95")
		b.ReportMetric(p95(5, func(i int) {
			if _, err := (&seamedits.Dial{Dial: float64(i) / 4}).Apply(context.Background(), d, nil); err != nil {
				b.Fatal(err)
			}
		}), "ms-dial")
	}
}
