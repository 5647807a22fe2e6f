package practice_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"reflect"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/edit/edittest"
	"morvek/core/edit/mapedits"
	"morvek/core/mesh"
	"morvek/core/practice"
	"morvek/core/sheet"
	"morvek/models/modeltest"
)

func agreed(t *testing.T) (*document.Document, practice.Practice) {
	t.Helper()
	set := document.DefaultSettings()
	set.Sheet.Size, set.Sheet.Padding, set.Turns, set.GrainOnV, set.Dial = 1024, 6, sheet.QuarterTurns, true, 0.25
	d := document.New(modeltest.Mesh(t, "survey-case"), set)
	d = edittest.Apply(t, d, &mapedits.Adopt{Practice: practice.Practice{Version: practice.Version, Grain: []document.MaterialGrain{{Material: "ash_wood", GrainWish: document.GrainWish{Of: document.GrainAlong}}}}})
	return d, practice.Of(d, "Fennhollow")
}

// What a document agreed on is read back as it was written, and gives the next document the same
// settings and the same grain of the materials that it has; nothing that is laid moves.
func TestWhatWasAgreedOnIsTakenOver(t *testing.T) {
	d, p := agreed(t)
	var b bytes.Buffer
	if err := p.Write(&b); err != nil {
		t.Fatal(err)
	}
	back, err := practice.Read(b.Bytes())
	if err != nil || !reflect.DeepEqual(back, p) {
		t.Fatalf("read back it is %+v, %v", back, err)
	}
	next := edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
	now := edittest.Apply(t, next, &mapedits.Adopt{Practice: back})
	want := d.State.Settings
	want.Sides = want.Viewed()
	if got := now.State.Settings; got != want {
		t.Errorf("the settings are %+v, want %+v", got, want)
	}
	if len(now.State.Wishes.Grains) != 0 {
		t.Errorf("it has no such material, and %v", now.State.Wishes.Grains)
	}
	for h := range mesh.HalfedgeID(now.Mesh.NumCorners()) {
		if now.State.Map.At(h) != next.State.Map.At(h) {
			t.Fatal("a shell moved")
		}
	}
	wood := edittest.Apply(t, document.New(d.Mesh, document.DefaultSettings()), &mapedits.Adopt{Practice: back})
	if !reflect.DeepEqual(wood.State.Wishes.Grains, d.State.Wishes.Grains) {
		t.Errorf("the grain is %v", wood.State.Wishes.Grains)
	}
}

func TestPracticeFilesThatCannotBe(t *testing.T) {
	for says, text := range map[string]string{
		"no practice file": `[]`, "line 2": "{\n!", `"practice": "1"`: `{}`, `version "7"`: `{"practice": "7", "new": 1}`, `unknown field "colour"`: `{"practice": "1", "colour": 2}`,
		"not possible": `{"practice": "1", "sheet": {"sheet": {"size": 3, "tiles": 1}, "turns": "90"}}`, "cannot be a string": `{"practice": "1", "dial": "low"}`,
		"given twice": `{"practice": "1", "grain": [{"material": "a", "of": "along"}, {"material": "a", "of": "none"}]}`, "edges of one mesh": `{"practice": "1", "grain": [{"material": "a", "of": "chain"}]}`,
		"cannot be \"sideways\"": `{"practice": "1", "grain": [{"material": "a", "of": "sideways"}]}`, "px per metre": `{"practice": "1", "px_per_metre": -2}`,
	} {
		if _, err := practice.Read([]byte(text)); !errors.Is(err, document.ErrRefused) || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", says, err)
		}
	}
	p, err := practice.Read([]byte(`{"practice": "1", "px_per_metre": 500}`))
	if px, ok := p.Density("mm"); err != nil || !ok || px != 0.5 {
		t.Errorf("the density is %g a millimetre, %v", px, err)
	}
}

// The schema speaks of the fields that there are.
func TestTheSchemaHasTheFields(t *testing.T) {
	var s struct {
		Properties map[string]any
	}
	if err := json.Unmarshal(practice.Schema, &s); err != nil {
		t.Fatal(err)
	}
	of := reflect.TypeFor[practice.Practice]()
	for i := range of.NumField() {
		name, _, _ := strings.Cut(of.Field(i).Tag.Get("json"), ",")
		if s.Properties[name] == nil {
			t.Errorf("the schema lacks %s", name)
		}
	}
	if len(s.Properties) != of.NumField() {
		t.Errorf("the schema has %d fields, the file %d", len(s.Properties), of.NumField())
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(`{"practice": "1", "dial": 0.5, "grain": [{"material": "a", "of": "toward", "direction": {"X": 1}}]}`))
	f.Add([]byte(`{"practice": "1", "sheet": {"sheet": {"size": 512, "tiles": 2}, "turns": "any"}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := practice.Read(data)
		if err != nil {
			if !errors.Is(err, document.ErrRefused) {
				t.Fatal(err)
			}
			return
		}
		var b bytes.Buffer
		if err := p.Write(&b); err != nil {
			t.Fatal(err)
		}
		if _, err := practice.Read(b.Bytes()); err != nil {
			t.Fatalf("%s is not read back: %v", b.Bytes(), err)
		}
	})
}
