package meshio_test

import (
	"context"
	"errors"
	"strings"
	"testing"

	"morvek/core/meshio"
)

// Further maps of a format that holds one lie in files of their own, beside the model or in its ZIP;
// one that does not fit is said and keeps nothing else out.
func TestFurtherMapsLieInFilesOfTheirOwn(t *testing.T) {
	flat := func(u string) string { return strings.ReplaceAll(square, "vt 1 0", "vt "+u+" 0") }
	if flat("0.5") == square {
		t.Fatal("the square has no such coordinate")
	}
	files := map[string]string{"in/roof.obj": square, "in/roof.map2.obj": flat("0.5"), "in/roof.map3.obj": "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nf 1/1 2/1 3/1\n", "in/roof.map4.obj": "v x", "in/roof.map5.obj": flat("0.25"), "in/roof.map7.obj": flat("0.1")}
	zipped, err := meshio.Read(context.Background(), "roof.zip", meshio.Input{Data: packed(t, files)})
	if err != nil {
		t.Fatal(err)
	}
	beside := func(name string) ([]byte, error) {
		if text, ok := files["in/"+name]; ok {
			return []byte(text), nil
		}
		return nil, errors.New("not there")
	}
	single, err := meshio.Read(context.Background(), "somewhere/roof.obj", meshio.Input{Data: []byte(square), Beside: beside})
	if err != nil {
		t.Fatal(err)
	}
	if len(zipped.Layers) != 2 || len(single.Layers) != 2 || zipped.Layers[1].Name != "Map 5" {
		t.Fatalf("further maps: %d in the ZIP, %d beside", len(zipped.Layers), len(single.Layers))
	}
	if all := strings.Join(single.Lost, "\n"); !strings.Contains(all, "roof.map3.obj: its faces") || !strings.Contains(all, "roof.map4.obj: line 1") || len(single.Lost) != 2 {
		t.Errorf("lost: %q", single.Lost)
	}
	if got := meshio.SourceMaps(single)[1]; got.Name != "Map 2" {
		t.Errorf("the second is called %q", got.Name)
	}
}

// Whoever waits is told how much of a file is read, and it can be cancelled at any time.
func TestProgressOfReading(t *testing.T) {
	m, err := meshio.Read(context.Background(), "square.obj", meshio.Input{Data: []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range meshio.Formats {
		if f.Write == nil || f.Read == nil {
			continue
		}
		var file strings.Builder
		if err := f.Write(&file, m, meshio.SourceMaps(m)); err != nil {
			t.Fatal(err)
		}
		told, last := 0, 0.0
		in := meshio.Input{Data: []byte(file.String()), Progress: func(done float64) {
			if told++; !(done >= last && done <= 1) {
				t.Errorf("%s: %g after %g", f.Name, done, last)
			}
			last = done
		}}
		if _, err := f.Read(context.Background(), in); err != nil || told == 0 {
			t.Errorf("%s: told %d times, %v", f.Name, told, err)
		}
		ctx, cancel := context.WithCancel(context.Background())
		in.Progress = func(float64) { cancel() }
		if _, err := f.Read(ctx, in); !errors.Is(err, context.Canceled) {
			t.Errorf("%s: cancelled while it is read: %v", f.Name, err)
		}
	}
}
