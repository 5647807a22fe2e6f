package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"strings"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
	"morvek/core/meshio/obj"
	"morvek/models"
)

// runModel writes a demo model, with the junk map it comes with, or the large
// mast at a chosen number of faces.
func runModel(_ context.Context, args []string, stdout, stderr io.Writer) (int, error) {
	fs := flag.NewFlagSet("morvek model", flag.ContinueOnError)
	fs.SetOutput(stderr)
	out := fs.String("o", "", "write to this .obj `file` instead of standard output")
	faces := fs.Int("faces", 250000, "size of the station mast")
	var name string
	if len(args) > 0 && !strings.HasPrefix(args[0], "-") {
		name, args = args[0], args[1:]
	}
	if err := fs.Parse(args); err != nil {
		return exitUsage, nil
	}
	var m *mesh.Mesh
	var err error
	if name == "station-mast" {
		m, err = models.Mast(*faces)
	} else {
		var d models.Model
		if d, err = models.Find(name); err == nil {
			m, err = d.Mesh()
		}
	}
	if err != nil {
		var names []string
		for _, d := range models.Models() {
			names = append(names, d.Slug)
		}
		return exitUsage, fmt.Errorf("%w; choose %s or station-mast", err, strings.Join(names, ", "))
	}
	junk := models.JunkMap(m)
	uv := func(c mesh.HalfedgeID) (r2.Vec, bool) { return junk.At(c), true }
	write := func(w io.Writer) error { return obj.Write(w, m, []format.Map{{UV: uv}}) }
	if *out == "" {
		return exitDone, write(stdout)
	}
	return exitDone, writeWhole(*out, write)
}
