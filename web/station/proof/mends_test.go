package proof

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/core/pipeline/pipelinetest"
	"morvek/core/proof"
)

// mended makes the edit that a finding is mended by, of its faces.
func mended(t *testing.T, d *document.Document, f proof.Finding) (*document.Document, error) {
	t.Helper()
	m := mends[f.Kind]
	params := map[string]any{}
	if m.With != "" {
		if err := json.Unmarshal([]byte(m.With), &params); err != nil {
			t.Fatalf("%s: %v", f.Kind, err)
		}
	}
	params["faces"] = f.Faces
	b, err := json.Marshal(map[string]any{"kind": m.Edit, "params": params})
	if err != nil {
		t.Fatal(err)
	}
	e, err := edit.Decode(b)
	if err != nil {
		t.Fatalf("%s: %v", f.Kind, err)
	}
	again, err := edit.Encode(e)
	if err != nil || !bytes.Contains(again, []byte(`"faces"`)) {
		t.Errorf("%s: %s does not take faces: %s", f.Kind, m.Edit, again)
	}
	s, err := edit.Apply(context.Background(), d, e, nil)
	if err != nil {
		return nil, err
	}
	return d.With(s), nil
}

func findings(d *document.Document, kind string) []proof.Finding {
	return slices.DeleteFunc(proof.Measure(d.ProofInput()).Findings, func(f proof.Finding) bool { return f.Kind != kind })
}

// Every mend is an edit of the faces that were found, said in words.
func TestMendsAreEditsOfFaces(t *testing.T) {
	d := pipelinetest.Can(t, 12)
	for kind, m := range mends {
		if !proof.IsKind(kind) || m.Says == "" {
			t.Errorf("%q is mended by %+v", kind, m)
		}
		if _, err := mended(t, d, proof.Finding{Kind: kind, Faces: []mesh.FaceID{0}}); err != nil && !errors.Is(err, document.ErrRefused) {
			t.Errorf("%s: %v", kind, err)
		}
	}
}

// A map without any cut, as files bring them along, is opened, and lies flat.
func TestAClosedShellIsMended(t *testing.T) {
	var obj []byte
	for line := range strings.Lines(string(meshtest.CanFile(12))) {
		var x, y, z string
		if n, _ := fmt.Sscanf(line, "v %s %s %s", &x, &y, &z); n == 3 {
			obj = fmt.Appendf(obj, "%svt %s %s\n", line, x, z)
			continue
		}
		obj = append(obj, regexp.MustCompile(`\d+`).ReplaceAllString(line, "$0/$0")...)
	}
	m, err := meshio.Read(context.Background(), "can.obj", meshio.Input{Data: obj})
	if err != nil {
		t.Fatal(err)
	}
	d := document.New(m, document.DefaultSettings())
	found := findings(d, proof.NoOpening)
	if len(found) != 1 {
		t.Fatalf("%d shells are without an opening", len(found))
	}
	now, err := mended(t, d, found[0])
	if err != nil {
		t.Fatal(err)
	}
	if left := findings(now, proof.NoOpening); len(left) > 0 || proof.Measure(now.ProofInput()).Totals.Unmapped > 0 {
		t.Errorf("mended it still has %v", left)
	}
	if _, err := mended(t, pipelinetest.Can(t, 12), proof.Finding{Kind: proof.NoOpening, Faces: []mesh.FaceID{0}}); !errors.Is(err, document.ErrRefused) {
		t.Errorf("what is open is opened: %v", err)
	}
}

// A wall in two strips one above the other is one again.
func TestASeamInViewIsMended(t *testing.T) {
	d, _ := edittest.Halves(t)
	found := findings(d, proof.InView)
	if len(found) == 0 {
		t.Fatal("no seam lies in view")
	}
	now, err := mended(t, d, found[0])
	if err != nil {
		t.Fatal(err)
	}
	if left := findings(now, proof.InView); len(left) != len(found)-1 || edittest.Worst(now) > 1.001 {
		t.Errorf("mended it still has %v", left)
	}
}
