package verbs

import (
	"encoding/json"
	"fmt"
	"io"
	"strings"
)

// TypeScript writes the tables for the browser, and the names of each as a type.
func (s Sets) TypeScript(w io.Writer) error {
	var b strings.Builder
	b.WriteString("// Written by go generate from the tables of verbs in Go; change those.\n")
	b.WriteString("export interface Verb { name: string; says: string; takes: string; what: string; key?: string; needs?: string[]; of?: string[]; form?: boolean; rare?: boolean }\n")
	b.WriteString("/** The names of the verbs of each station; those of none are known at all. */\nexport interface VerbsOf {\n")
	for _, set := range s {
		var names []string
		for _, v := range set.Verbs {
			names = append(names, fmt.Sprintf("%q", v.Name))
		}
		fmt.Fprintf(&b, "  %q: %s;\n", set.Station, strings.Join(names, " | "))
	}
	b.WriteString("}\n")
	for _, x := range []struct {
		name, of string
		v        any
	}{{"groups", "{ takes: string; says: string }[]", Groups}, {"sets", "{ station: string; verbs: Verb[] }[]", s}} {
		text, err := json.MarshalIndent(x.v, "", " ")
		if err != nil {
			return err
		}
		fmt.Fprintf(&b, "export const %s: %s = %s;\n", x.name, x.of, text)
	}
	_, err := io.WriteString(w, b.String())
	return err
}
