package meshio_test

import (
	"bytes"
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"morvek/core/meshio"
	"morvek/core/meshio/format"
)

const square = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n"

// Every row of the table says what a format needs, and what it writes it reads again.
func TestFormatsAreWhole(t *testing.T) {
	m, err := meshio.Read(context.Background(), "square.obj", meshio.Input{Data: []byte(square)})
	if err != nil {
		t.Fatal(err)
	}
	var names, endings []string
	for _, f := range meshio.Formats {
		if f.Name == "" || f.Media == "" || f.Keeps == "" || len(f.Extensions) == 0 || f.Read == nil && f.Write == nil {
			t.Errorf("%q is not whole: %+v", f.Name, f)
		}
		for _, e := range f.Extensions {
			if !strings.HasPrefix(e, ".") || strings.ToLower(e) != e || slices.Contains(endings, e) {
				t.Errorf("%s: ending %q", f.Name, e)
			}
			endings = append(endings, e)
			if got, ok := meshio.Of("A." + strings.ToUpper(e[1:])); !ok || got.Name != f.Name {
				t.Errorf("a file ending in %s is %q", e, got.Name)
			}
		}
		if slices.Contains(names, f.Name) {
			t.Errorf("%s is there twice", f.Name)
		}
		names = append(names, f.Name)
		if f.Read == nil || f.Write == nil {
			continue
		}
		var b bytes.Buffer
		if err := f.Write(&b, m, meshio.SourceMaps(m)); err != nil {
			t.Errorf("%s: %v", f.Name, err)
			continue
		}
		if again, err := f.Read(context.Background(), format.Input{Data: b.Bytes()}); err != nil || len(again.Triangles().Corner) != 2 || again.NumPoints() != 4 {
			t.Errorf("%s: what was written is read as %v, %v", f.Name, again, err)
		}
	}
}

// A file of no known format is refused with what would do.
func TestUnknownFormat(t *testing.T) {
	var bad *meshio.Error
	if _, err := meshio.Read(context.Background(), "x.step", meshio.Input{Data: nil}); !errors.As(err, &bad) || !strings.Contains(bad.Hint, meshio.Endings(false)) {
		t.Errorf("an unknown ending gave %v", err)
	}
	if err := meshio.Write(&bytes.Buffer{}, "x", nil, nil); !errors.As(err, &bad) || !strings.Contains(err.Error(), "no ending") {
		t.Errorf("a name without ending gave %v", err)
	}
}
