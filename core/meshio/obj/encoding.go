package obj

import (
	"bytes"

	"golang.org/x/text/encoding/unicode"
)

// plain is text as UTF-8 without a byte order mark: a mark tells UTF-16 from UTF-8, and
// without one the bytes are taken as they are.
func plain(data []byte) ([]byte, error) {
	if bytes.HasPrefix(data, []byte("\xff\xfe")) || bytes.HasPrefix(data, []byte("\xfe\xff")) {
		return unicode.UTF16(unicode.BigEndian, unicode.UseBOM).NewDecoder().Bytes(data)
	}
	return bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")), nil
}
