package pipeline_test

import (
	"context"
	"os"
	"testing"

	"morvek/core/layout"
	"morvek/demo"
)

func TestProf(t *testing.T) {
	if os.Getenv("PROF") == "" {
		t.Skip()
	}
	d, _ := demo.Find(os.Getenv("PROF"))
	m, _ := d.Mesh()
	doc := layout.New(m, layout.DefaultSettings())
	if _, err := (&layout.Recognise{}).Apply(context.Background(), doc, nil); err != nil {
		t.Fatal(err)
	}
}
