package edit_test

import (
	"context"
	"encoding/json"
	"errors"
	"testing"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/sheetedits"
)

func TestWhatNobodyCanMeanIsRefused(t *testing.T) {
	for text, ok := range map[string]bool{
		`{"kind":"move","params":{"faces":[1,22,333],"shift":{"X":-0.25,"Y":1e-3},"turn_deg":15}}`: true,
		`{"name":"a \" 1e308 \\ ü", "w": 0.000, "x": -12e2}`:                                       true,
		`{"turn_deg":1e308}`:    false,
		`{"turn_deg":-1e308}`:   false,
		`{"padding":1e-320}`:    false,
		`{"padding":1e999}`:     false,
		`{"name":"a\u0000b"}`:   false,
		"{\"name\":\"a\xffb\"}": false,
		`{"name":"a\\u0000b"}`:  true, // a backslash and letters
		`{"name":"`:             true, // for the JSON reader to refuse
	} {
		if err := edit.Sane([]byte(text)); (err == nil) != ok || err != nil && !errors.Is(err, document.ErrRefused) {
			t.Errorf("%s: %v", text, err)
		}
	}
	s := document.DefaultSettings()
	for _, p := range []float64{-1, 1e-320, 1e9} {
		s.Sheet.Padding = p
		if err := s.Check(); !errors.Is(err, document.ErrRefused) {
			t.Errorf("a padding of %g: %v", p, err)
		}
	}
}

func TestATurnByANumberOutOfReachIsRefused(t *testing.T) {
	d := edittest.Jar(t, 8)
	if _, err := (&sheetedits.Move{Faces: nil, TurnDeg: 1e9}).Apply(context.Background(), d, nil); !errors.Is(err, document.ErrRefused) {
		t.Errorf("got %v", err)
	}
}

func FuzzSane(f *testing.F) {
	f.Add([]byte(`{"a":[1e5,"\\\"", -3.5]}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		if edit.Sane(b) != nil {
			return
		}
		var v any
		if json.Unmarshal(b, &v) == nil {
			checkSane(t, v)
		}
	})
}

func checkSane(t *testing.T, v any) {
	switch v := v.(type) {
	case map[string]any:
		for _, x := range v {
			checkSane(t, x)
		}
	case []any:
		for _, x := range v {
			checkSane(t, x)
		}
	case float64:
		if v > 1e15 || v < -1e15 {
			t.Fatalf("let %g through", v)
		}
	}
}
