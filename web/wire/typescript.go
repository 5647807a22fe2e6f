package wire

import (
	"fmt"
	"io"
	"reflect"
	"strings"
)

// Messages are the types that the bench is told the shape of.
var Messages = []any{Answer{}, Shown{}, Ghost{}, Frame{}, Field{}}

// TypeScript writes interfaces for the messages and all that is in them.
func TypeScript(w io.Writer) error {
	g := &interfaces{named: map[reflect.Type]string{}, taken: map[string]bool{}}
	for _, m := range Messages {
		g.of(reflect.TypeOf(m))
	}
	_, err := fmt.Fprintf(w, "// Written by go generate from the types in web/wire; change those.\n%s", g.b.String())
	return err
}

type interfaces struct {
	b     strings.Builder
	named map[reflect.Type]string
	taken map[string]bool
}

// of is what TypeScript calls a type.
func (g *interfaces) of(t reflect.Type) string {
	switch t.Kind() {
	case reflect.Pointer:
		return g.of(t.Elem())
	case reflect.Bool:
		return "boolean"
	case reflect.String:
		return "string"
	case reflect.Slice:
		if t.Elem().Kind() == reflect.Uint8 { // raw JSON
			return "unknown"
		}
		return g.list(t.Elem())
	case reflect.Array:
		if t.Len() > 4 {
			return g.list(t.Elem())
		}
		return "[" + strings.TrimSuffix(strings.Repeat(g.of(t.Elem())+", ", t.Len()), ", ") + "]"
	case reflect.Map:
		return "Record<string, " + g.of(t.Elem()) + ">"
	case reflect.Struct:
		return g.message(t)
	case reflect.Interface:
		return "unknown"
	}
	return "number"
}

func (g *interfaces) list(elem reflect.Type) string {
	e := g.of(elem)
	if strings.ContainsAny(e, " |") && !strings.HasPrefix(e, "[") {
		e = "(" + e + ")"
	}
	return e + "[]"
}

// message writes the interface of a struct once and returns its name.
func (g *interfaces) message(t reflect.Type) string {
	if n, ok := g.named[t]; ok {
		return n
	}
	name := t.Name()
	if path := t.PkgPath(); g.taken[name] { // two packages have one of this name
		base := path[strings.LastIndexByte(path, '/')+1:]
		name = strings.ToUpper(base[:1]) + base[1:] + name
	}
	g.named[t], g.taken[name] = name, true
	var own strings.Builder
	g.fields(&own, t)
	fmt.Fprintf(&g.b, "\nexport interface %s {\n%s}\n", name, own.String())
	return name
}

func (g *interfaces) fields(w io.Writer, t reflect.Type) {
	for i := range t.NumField() {
		f := t.Field(i)
		tag := f.Tag.Get("json")
		if f.Anonymous && tag == "" {
			g.fields(w, f.Type)
			continue
		}
		if !f.IsExported() || tag == "-" {
			continue
		}
		name, rest, _ := strings.Cut(tag, ",")
		if name == "" {
			name = f.Name
		}
		mark, orNull := "", ""
		switch {
		case strings.Contains(rest, "omitempty"), strings.Contains(rest, "omitzero"):
			mark = "?"
		case f.Type.Kind() == reflect.Slice && f.Tag.Get("wire") == "null":
			orNull = " | null"
		}
		fmt.Fprintf(w, "  %s%s: %s%s;\n", name, mark, g.of(f.Type), orNull)
	}
}
