package edit

import (
	"reflect"

	"morvek/core/document"
	"morvek/core/mesh"
)

// numbers are the kinds of lists in edits that say what is meant: naming something twice means it once.
var numbers = []reflect.Type{
	reflect.TypeFor[[]mesh.FaceID](), reflect.TypeFor[[]mesh.EdgeID](), reflect.TypeFor[[]mesh.HalfedgeID](), reflect.TypeFor[[]document.PartID](),
}

// Lengths of the parameters of edits, in bytes: of those that name faces, edges, corners or parts by a list, or
// hold another edit, and of all others.
const (
	longestList  = 16 << 20
	longestPlain = 256 << 10
)

// longest is how long the parameters of an edit may be, in bytes.
func longest(e Edit) int {
	if _, ok := e.(*ByHalves); ok || hasList(reflect.TypeOf(e)) {
		return longestList
	}
	return longestPlain
}

func hasList(t reflect.Type) bool {
	switch t.Kind() {
	case reflect.Pointer:
		return hasList(t.Elem())
	case reflect.Slice, reflect.Map:
		return true
	case reflect.Struct:
		for i := range t.NumField() {
			if t.Field(i).IsExported() && hasList(t.Field(i).Type) {
				return true
			}
		}
	}
	return false
}

// nameOnce takes out of the lists of an edit what was named before, and keeps the order.
func nameOnce(v reflect.Value) {
	switch v.Kind() {
	case reflect.Pointer, reflect.Interface:
		if !v.IsNil() {
			nameOnce(v.Elem())
		}
	case reflect.Struct:
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() {
				nameOnce(v.Field(i))
			}
		}
	case reflect.Slice:
		for _, t := range numbers {
			if v.Type() == t && v.CanSet() {
				dropTwice(v)
				return
			}
		}
	}
}

func dropTwice(list reflect.Value) {
	seen := make(map[int64]bool, list.Len())
	n := 0
	for i := range list.Len() {
		x := list.Index(i).Int()
		if seen[x] {
			continue
		}
		seen[x] = true
		list.Index(n).SetInt(x)
		n++
	}
	list.SetLen(n)
}
