package edit

import (
	"bytes"
	"math"
	"strconv"
	"unicode/utf8"

	"morvek/core/document"
)

// Largest and smallest numbers anybody can mean: beyond them sums and squares overflow
// or vanish.
const (
	largest  = 1e15
	smallest = 1e-30
)

// Sane refuses JSON whose text cannot be kept (no UTF-8, or with a NUL) or whose numbers
// nobody can mean. It looks at the bytes alone and expects JSON, but never panics.
func Sane(data []byte) error {
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return document.Refuse("this text is not valid UTF-8")
	}
	for i := 0; i < len(data); i++ {
		switch c := data[i]; {
		case c == '"':
			for i++; i < len(data) && data[i] != '"'; i++ {
				if data[i] != '\\' {
					continue
				}
				if bytes.HasPrefix(data[i:], []byte(`\u0000`)) {
					return document.Refuse("a name must not contain the character NUL")
				}
				i++ // whatever is escaped
			}
		case c >= '0' && c <= '9':
			from := i
			for i < len(data) && (data[i] >= '0' && data[i] <= '9' || bytes.IndexByte([]byte(".eE+-"), data[i]) >= 0) {
				i++
			}
			x, err := strconv.ParseFloat(string(data[from:i]), 64)
			if err != nil && x != 0 || x > largest || x != 0 && x < smallest || math.IsNaN(x) {
				return document.Refuse("the number %.40s is out of all proportion", data[from:i])
			}
			i--
		}
	}
	return nil
}
