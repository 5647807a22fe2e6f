package main

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"morvek/core/delivery"
	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/partedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/lay"
	"morvek/core/mend"
	"morvek/core/mesh"
	"morvek/core/meshio"
	"morvek/core/pipeline"
	"morvek/core/practice"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/core/revise"
	"morvek/core/seam"
	"morvek/core/sheet"
	"morvek/core/template"
)

// jobFlags are the flags of run, parts and proof.
type jobFlags struct {
	in, out, report, template string
	deliver                   string
	revises                   string // the model before
	carried                   *revise.Carried
	with                      []string // what is delivered
	settings                  document.Settings
	grain                     string
	repair                    []string
	practice                  practice.Practice
	weld, line                float64
	raw                       []byte          // the file as it came, nil where it was repaired
	repaired                  []string        // what was done to the model
	given                     map[string]bool // flags that were said
	seed                      int
	quiet                     bool
}

// parseJob reads the flags; flags and the input file may come in any order.
func parseJob(name string, args []string, stderr io.Writer) (*jobFlags, error) {
	j := &jobFlags{settings: document.DefaultSettings()}
	if err := j.agreed(args); err != nil { // then flags say what is to be otherwise
		return nil, err
	}
	s := &j.settings
	var repair, with string
	up, turns := string(s.Up), string(s.Turns)
	if j.grain = "u"; s.GrainOnV {
		j.grain = "v"
	}
	fs := flag.NewFlagSet("morvek "+name, flag.ContinueOnError)
	fs.SetOutput(stderr)
	fs.StringVar(&j.report, "report", "", "write the report as JSON to this `file`")
	fs.IntVar(&s.Sheet.Size, "sheet", s.Sheet.Size, "size of the sheet in `pixels`")
	fs.Float64Var(&s.Sheet.Padding, "padding", s.Sheet.Padding, "least gap between shells in `pixels`")
	fs.Float64Var(&s.Sheet.Margin, "margin", s.Sheet.Margin, "least gap to the border in `pixels`")
	fs.IntVar(&s.Sheet.Tiles, "tiles", s.Sheet.Tiles, "`number` of tiles side by side")
	fs.BoolVar(&s.Sheet.Wide, "wide", s.Sheet.Wide, "the sheet is twice as wide as high")
	fs.StringVar(&j.grain, "grain", j.grain, "the grain runs along `u|v`")
	fs.StringVar(&up, "up", up, "the model's up is `y|z`; else the side it can stand on tells")
	fs.StringVar(&s.Unit, "unit", s.Unit, "the model's unit: `m|cm|mm|in`; else its size and its format tell")
	fs.Float64Var(&s.CreaseDeg, "crease", s.CreaseDeg, "bends above this many `degrees` are creases")
	fs.StringVar(&repair, "repair", "", "repairs of the model before anything else, with commas: `weld,folded,doubled,slivers,winding,holes,flat,unused` or all, which closes no holes")
	fs.BoolVar(&s.Merged, "merge-triangles", false, "work on triangles as the quads and polygons they were once; what is written has the triangles")
	fs.Float64Var(&j.weld, "weld", 0, "points within this `distance` are welded, in model units; 0: a millionth of the diagonal")
	fs.String("practice", "", "what the workshop agreed on, from this `file`; flags say what is to be otherwise")
	if name == "run" {
		fs.StringVar(&j.out, "o", "", "write the mesh with its map to this `file`")
		fs.StringVar(&j.template, "template", "", "write a template for the painter to this .svg, .png or .ora `file`")
		fs.StringVar(&j.revises, "revises", "", "this is the next revision of the model in this `file`: what is the same keeps its place on the map of that")
		fs.StringVar(&j.deliver, "deliver", "", "write all that --with names to this .zip `file`")
		fs.StringVar(&with, "with", cmp.Or(strings.Join(j.practice.Deliver, ","), "obj,template.svg,report.json"), "what is delivered, with commas: `"+delivery.Names()+"`")
		fs.Float64Var(&j.line, "line", 0, "width of lines of the template in `pixels`; 0: by its size")
		fs.StringVar(&turns, "turns", turns, "turns packing may use: `0|180|90|any`")
		fs.Float64Var(&s.Dial, "dial", s.Dial, "0 fewer pieces … 1 less stretch")
		fs.StringVar(&s.Repeats, "repeats", cmp.Or(s.Repeats, document.Spread), "equal parts: `spread|stack|stack-over`, over: mirrored ones too, turned over")
		fs.BoolVar(&s.Undivided, "undivided", s.Undivided, "divide no shell for the sheet's sake, however long it is")
		fs.IntVar(&j.seed, "seed", 1, "accepted for scripts; every result is deterministic without it")
		fs.BoolVar(&j.quiet, "quiet", false, "no progress")
	}
	var files []string
	for len(args) > 0 {
		if err := fs.Parse(args); err != nil {
			return nil, err
		}
		if args = fs.Args(); len(args) > 0 {
			files = append(files, args[0])
			args = args[1:]
		}
	}
	j.given = map[string]bool{}
	fs.Visit(func(f *flag.Flag) { j.given[f.Name] = true })
	if len(files) != 1 {
		return nil, fmt.Errorf("morvek %s needs one input file, found %d", name, len(files))
	}
	j.in = files[0]
	s.Turns, s.Up, s.GrainOnV = sheet.Turns(turns), seam.Up(up), j.grain == "v"
	if j.deliver != "" {
		j.with = strings.Split(with, ",")
		if err := delivery.CheckItems(j.with); err != nil {
			return nil, err
		}
	}
	if repair != "" {
		j.repair = strings.Split(repair, ",")
	}
	if err := mend.Check(j.repair); err != nil {
		return nil, err
	}
	switch {
	case !(j.weld >= 0):
		return nil, fmt.Errorf("a distance of %g is not possible", j.weld)
	case j.grain != "u" && j.grain != "v":
		return nil, fmt.Errorf("grain %q is unknown; choose u or v", j.grain)
	case j.out != "" && !meshio.Writable(j.out):
		return nil, fmt.Errorf("cannot write %s: the output must end in %s", j.out, meshio.Endings(true))
	case j.deliver != "" && strings.ToLower(filepath.Ext(j.deliver)) != ".zip":
		return nil, fmt.Errorf("cannot write %s: a delivery must end in .zip", j.deliver)
	case j.template != "" && !template.Known(j.template):
		return nil, fmt.Errorf("cannot write %s: a template must end in %s", j.template, template.Endings())
	}
	return j, s.Check()
}

// agreed takes over the practice that the flags name, before they are read as a whole.
func (j *jobFlags) agreed(args []string) error {
	k := slices.IndexFunc(args, func(a string) bool {
		n := strings.TrimLeft(a, "-")
		return n != a && (n == "practice" || strings.HasPrefix(n, "practice="))
	})
	if k < 0 {
		return nil
	}
	_, file, given := strings.Cut(args[k], "=")
	if !given && k+1 < len(args) {
		file = args[k+1]
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return fmt.Errorf("the practice file: %w", err)
	}
	if j.practice, err = practice.Read(data); err != nil {
		return fmt.Errorf("%s: %s", file, document.Plainly(err))
	}
	j.settings, err = j.practice.Settings(j.settings)
	return err
}

// load reads the input; errors are one line with the file.
func (j *jobFlags) load(ctx context.Context) (*mesh.Mesh, error) {
	data, err := os.ReadFile(j.in)
	if err != nil {
		var pe *os.PathError
		if errors.As(err, &pe) {
			err = pe.Err
		}
		return nil, fmt.Errorf("%s: %v", j.in, err)
	}
	m, err := meshio.Read(ctx, j.in, meshio.Input{Data: data, Beside: func(name string) ([]byte, error) {
		return os.ReadFile(filepath.Join(filepath.Dir(j.in), filepath.FromSlash(name)))
	}})
	if err != nil {
		return nil, fmt.Errorf("%s: %w", j.in, err)
	}
	m, done, err := mend.Do(ctx, m, j.repair, mend.Options{Weld: j.weld})
	if err != nil {
		return nil, fmt.Errorf("%s: %w", j.in, err)
	}
	if j.raw = data; len(done) > 0 {
		j.raw = nil
	}
	for _, c := range done {
		j.repaired = append(j.repaired, c.Words())
	}
	return m, nil
}

// begin parses and loads; a non-zero code says where it failed.
func begin(ctx context.Context, name string, args []string, stderr io.Writer) (*jobFlags, *document.Document, int, error) {
	j, err := parseJob(name, args, stderr)
	if errors.Is(err, flag.ErrHelp) {
		return nil, nil, exitDone, flag.ErrHelp
	}
	if err != nil {
		return nil, nil, exitUsage, err
	}
	m, err := j.load(ctx)
	if err != nil {
		return nil, nil, exitRefused, err
	}
	for _, words := range slices.Concat(m.Baked, j.repaired) {
		if j.quiet {
			break
		}
		fmt.Fprintf(stderr, "morvek: %s: %s\n", filepath.Base(j.in), words)
	}
	guess := document.Guess(m, meshio.Habit(j.in), j.settings)
	if !j.given["unit"] {
		j.settings.Unit = guess.Unit
	}
	if !j.given["up"] && j.practice.Up == nil {
		j.settings.Up = guess.Up
	}
	d := document.New(m, j.settings)
	return j, d.With(j.practice.Grained(d)), exitDone, nil // the settings are those of the flags
}

func runJob(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	j, d, code, err := begin(ctx, "run", args, stderr)
	if err != nil {
		return helpIsNoError(code, err)
	}
	bar := newBar(stderr, j.quiet)
	start := time.Now()
	var before *pipeline.Before
	if j.revises != "" {
		if before, err = j.before(ctx, d); err != nil {
			return exitRefused, err
		}
	}
	res, err := j.run(ctx, d, before, bar.update)
	bar.finish()
	if err != nil {
		return exitFailed, err
	}
	if j.carried != nil {
		j.tellCarried(d, res, stderr)
	}
	if px, ok := j.practice.Density(d.State.Settings.Unit); ok && before == nil { // else that of the map that is kept
		for _, e := range []edit.Edit{&sheetedits.Density{PxPerUnit: px}, &sheetedits.Pack{How: lay.How{Sizes: lay.Fixed}}} {
			s, err := edit.Apply(ctx, res.Doc, e, nil)
			if err != nil {
				return exitFailed, err
			}
			res.Doc = res.Doc.With(s)
		}
	}
	if !slices.ContainsFunc(res.Taken, func(t pipeline.Taken) bool { return t.Edit.Kind() == (&sheetedits.Pack{}).Kind() }) { // the rest is written, with what is wrong found
		fmt.Fprintf(stderr, "morvek: the sheet is not packed: %v\n", res.Refused[len(res.Refused)-1])
	}
	return j.finish(ctx, res.Doc, res.Seconds, start, stdout)
}

// run does the whole job, keeping the map of the model before if there is one.
func (j *jobFlags) run(ctx context.Context, d *document.Document, before *pipeline.Before, progress pipeline.Progress) (pipeline.Result, error) {
	if before == nil {
		return pipeline.Run(ctx, d, progress)
	}
	res, c, err := pipeline.Revise(ctx, d, *before, progress)
	j.carried = &c
	return res, err
}

// before reads the model that is revised and finds what the faces of its revision are of it.
func (j *jobFlags) before(ctx context.Context, d *document.Document) (*pipeline.Before, error) {
	before := *j
	before.in, before.repair = j.revises, nil
	m, err := before.load(ctx)
	if err != nil {
		return nil, err
	}
	old := document.New(m, j.settings)
	if !old.State.Map.AnyMapped() {
		return nil, fmt.Errorf("%s: it has no map to keep", j.revises)
	}
	match, err := revise.Compare(ctx, old.State.Map, d.Mesh)
	if err != nil {
		return nil, err
	}
	if err := match.Check(d.Mesh, j.revises); err != nil {
		return nil, fmt.Errorf("%s: %s", j.in, document.Plainly(err))
	}
	return &pipeline.Before{Doc: old, Match: match}, nil
}

// tellCarried says what became of the faces of a revision.
func (j *jobFlags) tellCarried(d *document.Document, res pipeline.Result, stderr io.Writer) {
	c := *j.carried
	if !j.quiet {
		fmt.Fprintf(stderr, "morvek: %s: of %d faces %d are as they were, %d moved, %d are cut otherwise, %d are new; %d are gone\n", filepath.Base(j.in), d.Mesh.NumFaces(), c.Kept, c.Moved, c.Remeshed, c.New, c.Gone)
	}
	if c.Waiting > 0 {
		fmt.Fprintf(stderr, "morvek: %d new shells find no room and lie beside the sheet; --tiles %d gives them some\n", c.Waiting, res.Doc.State.Settings.Sheet.Tiles+1)
	}
}

func runProof(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	j, d, code, err := begin(ctx, "proof", args, stderr)
	if err != nil {
		return helpIsNoError(code, err)
	}
	return j.finish(ctx, d, map[string]float64{}, time.Now(), stdout)
}

func runParts(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	j, d, code, err := begin(ctx, "parts", args, stderr)
	if err != nil {
		return helpIsNoError(code, err)
	}
	s, err := (&partedits.Recognise{}).Apply(ctx, d, nil)
	if err != nil {
		return exitFailed, err
	}
	d = d.With(s)
	r := report.Report{Version: report.Version, Sheet: s.Settings.Sheet, Parts: report.PartReports(d), Health: report.HealthReports(d),
		Model: report.ModelOf(d, j.in)}
	r.Model.Repaired = j.repaired
	for _, p := range r.Parts {
		fmt.Fprintf(stdout, "%-28s %-9s %6d faces", p.Name, p.Shape, len(p.Faces))
		if p.Radius > 0 {
			fmt.Fprintf(stdout, "  radius %.5g", p.Radius)
		}
		fmt.Fprintln(stdout)
	}
	if j.report != "" {
		if err := writeWhole(j.report, func(w io.Writer) error { return writeJSON(w, r) }); err != nil {
			return exitFailed, err
		}
	}
	return exitDone, nil
}

// helpIsNoError keeps -h, which has printed the flags already, quiet.
func helpIsNoError(code int, err error) (int, error) {
	if errors.Is(err, flag.ErrHelp) {
		return exitDone, nil
	}
	return code, err
}

// finish measures the document and writes everything that was asked for.
func (j *jobFlags) finish(ctx context.Context, d *document.Document, seconds map[string]float64, start time.Time, stdout io.Writer) (int, error) {
	from := time.Now()
	r, err := report.Of(ctx, d, filepath.Base(j.in))
	if err != nil {
		return exitFailed, err
	}
	seconds["proof"] = time.Since(from).Seconds()
	seconds["total"] = time.Since(start).Seconds()
	r.Totals.Seconds = seconds
	r.Model.Repaired = j.repaired
	if j.carried != nil {
		r.Revision = j.carried
	}
	write := func(name string, f func(io.Writer) error) {
		if name != "" && err == nil {
			err = writeWhole(name, f)
		}
	}
	if f, ok := meshio.Of(j.out); ok {
		for _, file := range meshio.Files(f, j.out, d.WrittenMaps()) {
			write(file.Name, func(w io.Writer) error { return f.Write(w, d.Source, file.Maps) })
		}
	}
	write(j.template, func(w io.Writer) error {
		return template.Write(w, j.template, report.Template(d), template.Options{Size: d.State.Settings.Sheet.Size, Line: j.line})
	})
	write(j.report, func(w io.Writer) error { return writeJSON(w, r) })
	write(j.deliver, func(w io.Writer) error {
		_, err := delivery.Write(ctx, w, d, delivery.Source{Name: filepath.Base(j.in), Data: j.raw}, delivery.Order{Items: j.with, Line: j.line}, nil)
		return err
	})
	if err != nil {
		return exitFailed, err
	}
	printTable(stdout, r)
	if !proof.Acceptable(r.Findings) {
		return exitFindings, nil
	}
	return exitDone, nil
}

func printTable(w io.Writer, r report.Report) {
	t := r.Totals
	row := func(name, format string, args ...any) {
		fmt.Fprintf(w, "%-22s "+format+"\n", append([]any{name}, args...)...)
	}
	row("faces", "%d", r.Model.Faces)
	row("parts / shells", "%d / %d", len(r.Parts), t.Shells)
	row("unmapped", "%d", t.Unmapped)
	row("mirrored", "%d", t.Mirrored)
	row("without area", "%d", t.NoArea)
	row("overlapping share", "%.3g", t.OverlapShare)
	row("outside", "%d", t.Outside)
	row("least gap / border", "%.2f / %.2f px", t.MinGapPx, t.MinRimPx)
	row("coverage", "%.1f %%", 100*t.Coverage)
	row("density", "%.4g px/%s, spread %.4f", t.MeanDensity, r.Model.Unit, t.DensitySpread)
	row("stretch L² / angular", "%.4f / %.4f", t.L2, t.AngularP95)
	row("grain", "%.2f° rms", t.GrainOverDeg)
	row("straight edges", "%.1f %%", 100*t.Straight)
	row("seams", "%.4g %s, on flat %.1f %%, exposed %.4g", t.SeamLength, r.Model.Unit, 100*t.SeamOnFlat, t.SeamExposed)
	row("findings", "%d", len(r.Findings))
	var parts []string
	for _, s := range []string{"parts", "seams", "flow", "sheet", "proof", "total"} {
		if v, ok := t.Seconds[s]; ok {
			parts = append(parts, fmt.Sprintf("%s %.2f", s, v))
		}
	}
	row("seconds", "%s", strings.Join(parts, ", "))
}

func writeJSON(w io.Writer, v any) error {
	e := json.NewEncoder(w)
	e.SetIndent("", " ")
	return e.Encode(v)
}

// writeWhole writes beside the file and renames, so that no half file is left.
func writeWhole(name string, write func(io.Writer) error) error {
	f, err := os.CreateTemp(filepath.Dir(name), ".morvek-*")
	if err != nil {
		return fmt.Errorf("cannot write %s: %w", name, err)
	}
	unfinished.add(f.Name())
	defer unfinished.remove(f.Name())
	if err := write(f); err != nil {
		f.Close()
		return fmt.Errorf("cannot write %s: %w", name, err)
	}
	if err := f.Chmod(0o644); err != nil {
		f.Close()
		return err
	}
	if err := f.Close(); err != nil {
		return fmt.Errorf("cannot write %s: %w", name, err)
	}
	return os.Rename(f.Name(), name)
}
