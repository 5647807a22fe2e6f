package document_test

import (
	"archive/tar"
	"compress/gzip"
	"context"
	"errors"
	"io"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/meshio"
)

// unpack reads an archive of stored blocks.
func unpack(t *testing.T, name string) map[string][]byte {
	t.Helper()
	f, err := os.Open(name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	z, err := gzip.NewReader(f)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string][]byte{}
	for r := tar.NewReader(z); ; {
		h, err := r.Next()
		if errors.Is(err, io.EOF) {
			return out
		}
		if err != nil {
			t.Fatal(err)
		}
		b, err := io.ReadAll(r)
		if err != nil {
			t.Fatal(err)
		}
		if _, file, _ := strings.Cut(h.Name, "/"); file != "" {
			out[file] = b
		}
	}
}

// A document that an older program stored opens: its first state, every edit forward and
// back again, and its last state.
func TestWhatAnOlderProgramStoredOpens(t *testing.T) {
	for _, version := range []string{"stored-0", "stored-1", "stored-2"} {
		files := unpack(t, "testdata/"+version+".tar.gz")
		m, err := meshio.Read(context.Background(), "model.obj", meshio.Input{Data: files["model.obj"]})
		if err != nil {
			t.Fatal(err)
		}
		first, err := document.Restore(m, files["state-first.bin"])
		if err != nil {
			t.Fatal(err)
		}
		last, err := document.Restore(m, files["state-last.bin"])
		if err != nil {
			t.Fatal(err)
		}
		var deltas []document.Delta
		for _, name := range slices.Sorted(maps.Keys(files)) {
			if !strings.HasPrefix(name, "delta-") {
				continue
			}
			var d document.Delta
			if err := d.UnmarshalBinary(files[name]); err != nil {
				t.Fatalf("%s: %v", name, err)
			}
			b, err := d.MarshalBinary()
			if err != nil {
				t.Fatal(err)
			}
			var again document.Delta
			if err := again.UnmarshalBinary(b); err != nil {
				t.Fatalf("%s, written anew: %v", name, err)
			}
			if len(b) > len(files[name])+40 {
				t.Errorf("%s takes %d bytes, before %d", name, len(b), len(files[name]))
			}
			deltas = append(deltas, again)
		}
		if len(deltas) != 18 {
			t.Fatalf("%s has %d edits", version, len(deltas))
		}
		now := first.State
		for _, d := range deltas {
			if now, err = d.Redo(now); err != nil {
				t.Fatal(err)
			}
		}
		if left := document.Diff(last.State, now); !left.Empty() {
			t.Errorf("%s: forward it ends elsewhere: %+v", version, left)
		}
		for _, d := range slices.Backward(deltas) {
			if now, err = d.Undo(now); err != nil {
				t.Fatal(err)
			}
		}
		if left := document.Diff(first.State, now); !left.Empty() {
			t.Errorf("%s: back it ends elsewhere: %+v", version, left)
		}
	}
}

// Where parts were noted to lie on others, their shells do.
func TestPartsThatLayOnOthersAreStackedShells(t *testing.T) {
	files := unpack(t, "testdata/stored-2.tar.gz")
	m, err := meshio.Read(context.Background(), "model.obj", meshio.Input{Data: files["model.obj"]})
	if err != nil {
		t.Fatal(err)
	}
	d, err := document.Restore(m, files["state-stacked.bin"])
	if err != nil {
		t.Fatal(err)
	}
	k := d.State.Stacks()
	if k.Len() != 1 || len(k.Shells(0)) != 2 {
		t.Fatalf("%d stacks, %v", k.Len(), d.State.Wishes.Stacks)
	}
	shells, _ := d.State.Map.Shells()
	parts := map[document.PartID]bool{}
	for _, i := range k.Shells(0) {
		parts[d.State.PartOf(shells[i].Faces[0])] = true
	}
	low := d.State.PartOf(shells[k.Shells(0)[0]].Faces[0])
	if len(parts) != 2 || d.State.Parts[low].RepeatOf != nil {
		t.Errorf("parts %v, on part %d", parts, low)
	}
	b, err := d.State.MarshalBinary()
	if err != nil {
		t.Fatal(err)
	}
	again, err := document.Restore(m, b)
	if err != nil {
		t.Fatal(err)
	}
	if left := document.Diff(d.State, again.State); !left.Empty() {
		t.Errorf("stored again it is another: %+v", left)
	}
}
