package parts_test

import (
	"fmt"
	"os"
	"testing"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/shape"
	"morvek/demo"
)

func TestDebug(t *testing.T) {
	want := os.Getenv("MODEL")
	if want == "" {
		t.Skip()
	}
	d, _ := demo.Find(want)
	m, truth, _ := d.Known()
	for _, v := range variants {
		if v.name == os.Getenv("VAR") {
			m, truth = v.build(t, m, truth)
		}
	}
	var list func(p parts.Part, depth string)
	list = func(p parts.Part, depth string) {
		kinds := map[string]float64{}
		var tot float64
		for _, f := range p.Faces {
			k := "any"
			if id := truth.Piece[f]; id >= 0 {
				k = fmt.Sprint(truth.Pieces[id].Kind, id)
			}
			kinds[k] += m.FaceAreas()[f]
			tot += m.FaceAreas()[f]
		}
		for k := range kinds {
			kinds[k] = float64(int(100*kinds[k]/tot)) / 100
		}
		s := ""
		if len(kinds) < 12 {
			s = fmt.Sprint(kinds)
		} else {
			s = fmt.Sprint(len(kinds), " kinds")
		}
		fmt.Printf("%s%-10s %-16s faces %5d area %.3g r %.4g err %.2g bend %.2g axis %.2f | %s\n", depth, p.Fit.Kind, m.ObjectName(p.Faces[0]), len(p.Faces), tot, p.Fit.Radius, p.Fit.Error, p.Fit.Bend, [3]float64{p.Fit.Axis.X, p.Fit.Axis.Y, p.Fit.Axis.Z}, s)
		for _, q := range p.Pieces {
			list(q, depth+"    ")
		}
	}
	for i, p := range recognise(t, m) {
		if i < 60 {
			list(p, "")
		}
	}
	_ = mesh.None
	_ = shape.Free
}
