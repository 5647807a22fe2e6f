package obj

import (
	"io"

	"golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"
)

// plain reads text as UTF-8 without a byte order mark: a mark tells UTF-16 from UTF-8, and
// without one the bytes are taken as they are.
func plain(r io.Reader) io.Reader {
	return transform.NewReader(r, unicode.BOMOverride(transform.Nop))
}
