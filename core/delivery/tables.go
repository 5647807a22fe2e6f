package delivery

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"strconv"

	"morvek/core/report"
)

// csv adds a table.
func (p *packing) csv(name string, rows [][]string) error {
	return p.made(name, func(w io.Writer) error {
		c := csv.NewWriter(w)
		if err := c.WriteAll(rows); err != nil {
			return err
		}
		c.Flush()
		return c.Error()
	})
}

// reports are those of the maps that are ordered, each made once.
func (p *packing) reports(do func(r report.Report, suffix string) error) error {
	for _, s := range p.seen {
		r, ok := p.reported[s]
		if !ok {
			var err error
			if r, err = report.Of(p.ctx, p.d.With(s), p.from.Name); err != nil {
				return err
			}
			p.reported[s] = r
		}
		if err := do(r, Suffix(s)); err != nil {
			return err
		}
	}
	return nil
}

func (p *packing) report() error {
	return p.reports(func(r report.Report, suffix string) error {
		b, err := json.MarshalIndent(r, "", " ")
		if err != nil {
			return err
		}
		return p.put(p.base+suffix+"-report.json", b)
	})
}

func (p *packing) tables() error {
	num := func(v float64) string { return strconv.FormatFloat(v, 'g', 6, 64) }
	return p.reports(func(r report.Report, suffix string) error {
		parts := [][]string{{"part", "shape", "faces", "error", "repeat of"}}
		for _, q := range r.Parts {
			of := ""
			if q.RepeatOf != nil {
				of = r.Parts[*q.RepeatOf].Name
			}
			parts = append(parts, []string{q.Name, string(q.Shape), strconv.Itoa(len(q.Faces)), num(q.Error), of})
		}
		shells := [][]string{{"shell", "part", "faces", "area", "density", "stretch", "angular", "grain error", "tile", "stacked on"}}
		for i, q := range r.Shells {
			part, on := "", ""
			if q.Part >= 0 {
				part = r.Parts[q.Part].Name
			}
			if q.StackedOn != nil {
				on = strconv.Itoa(*q.StackedOn + 1)
			}
			shells = append(shells, []string{strconv.Itoa(i + 1), part, strconv.Itoa(len(q.Faces)), num(q.Area), num(q.Density), num(q.L2), num(q.AngularP95), num(q.GrainErrDeg), strconv.Itoa(q.Tile), on})
		}
		findings := [][]string{{"finding", "severity", "value", "faces"}}
		for _, q := range r.Findings {
			findings = append(findings, []string{q.Kind, q.Severity, num(q.Value), strconv.Itoa(len(q.Faces))})
		}
		for _, t := range []struct {
			name string
			rows [][]string
		}{{"parts", parts}, {"shells", shells}, {"findings", findings}} {
			if err := p.csv(fmt.Sprintf("%s%s-%s.csv", p.base, suffix, t.name), t.rows); err != nil {
				return err
			}
		}
		return nil
	})
}
