package pipeline_test

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"runtime"
	"testing"

	"morvek/core/document"
)

const recordedFile = "testdata/recorded.json"

// fingerprint is a hash of all that the whole job made of a model.
func fingerprint(d *document.Document) string {
	h, s := sha256.New(), d.State
	put := func(v any) { _ = binary.Write(h, binary.LittleEndian, v) }
	put(s.FaceParts())
	put(s.Map.Cuts())
	put(s.Map.Mapped())
	for _, q := range s.Map.UV() {
		put([2]uint64{math.Float64bits(q.X), math.Float64bits(q.Y)})
	}
	for _, p := range s.Parts {
		f := p.Fit
		fmt.Fprintln(h, p.Name, f.Kind, f.Axis, f.Origin, f.Radius, f.Major, f.HalfAngle, f.Error, len(f.Spine), p.Grain.Mode, p.Grain.Axis, p.Method, p.Note, len(p.Pieces), p.Mirrored)
	}
	return hex.EncodeToString(h.Sum(nil)[:12])
}

// recorded compares a finished document with what was recorded of it. Whoever changes
// results on purpose runs with MORVEK_RECORD=1 and says so in the commit.
func recorded(t *testing.T, slug string, d *document.Document) {
	t.Helper()
	if runtime.GOARCH != "amd64" {
		t.Logf("%s: results are recorded for amd64 only, whose floating point does not fuse", slug)
		return
	}
	all := map[string]string{}
	if b, err := os.ReadFile(recordedFile); err == nil {
		if err := json.Unmarshal(b, &all); err != nil {
			t.Fatal(err)
		}
	}
	got := fingerprint(d)
	if os.Getenv("MORVEK_RECORD") != "" {
		all[slug] = got
		b, err := json.MarshalIndent(all, "", "\t")
		if err == nil {
			err = os.WriteFile(recordedFile, append(b, '\n'), 0o644)
		}
		if err != nil {
			t.Fatal(err)
		}
		return
	}
	if all[slug] != got {
		t.Errorf("%s: the result is %s, recorded is %q", slug, got, all[slug])
	}
}
