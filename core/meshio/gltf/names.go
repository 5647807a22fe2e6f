package gltf

import (
	"bytes"
	"encoding/json"
	"reflect"
	"strings"
)

// spelled are the names of all fields that are read, by their small letters.
var spelled = func() map[string]string {
	out := map[string]string{}
	var of func(t reflect.Type)
	of = func(t reflect.Type) {
		switch t.Kind() {
		case reflect.Pointer, reflect.Slice, reflect.Array, reflect.Map:
			of(t.Elem())
		case reflect.Struct:
			for i := range t.NumField() {
				name, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
				out[strings.ToLower(name)] = name
				of(t.Field(i).Type)
			}
		}
	}
	of(reflect.TypeFor[document]())
	return out
}()

// exact takes out what is named like a field but for small and capital letters: the format tells
// them apart, the decoder would not. Text in which there is no such thing is returned as it is.
func exact(text []byte) []byte {
	var all any
	d := json.NewDecoder(bytes.NewReader(text))
	d.UseNumber()
	if d.Decode(&all) != nil || !drop(all) {
		return text
	}
	out, err := json.Marshal(all)
	if err != nil {
		return text
	}
	return out
}

func drop(x any) (dropped bool) {
	switch x := x.(type) {
	case []any:
		for _, y := range x {
			dropped = drop(y) || dropped
		}
	case object:
		for k, y := range x {
			if right, ok := spelled[strings.ToLower(k)]; ok && right != k {
				delete(x, k)
				dropped = true
			} else if k != "extras" {
				dropped = drop(y) || dropped
			}
		}
	}
	return dropped
}
