package pipeline_test

import (
	"context"
	"os"
	"testing"

	"morvek/core/layout"
	"morvek/core/pipeline"
	"morvek/demo"
)

func TestProf(t *testing.T) {
	if os.Getenv("PROF") == "" {
		t.Skip()
	}
	d, _ := demo.Find(os.Getenv("PROF"))
	m, _ := d.Mesh()
	r, _ := pipeline.Run(context.Background(), layout.New(m, layout.DefaultSettings()), nil)
	println(int(1000 * r.Seconds["sheet"]))
}
