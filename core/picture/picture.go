// Package picture checks pictures that come from outside before anything is done with them: PNG and
// JPEG, whole, and no larger than fits into memory. A small file can claim to be an enormous picture.
package picture

import (
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg" // decoders
	_ "image/png"

	"morvek/core/document"
)

// MostPixels bounds a picture: decoded it takes four to eight bytes a pixel.
const MostPixels = 8192 * 8192

// MostBytes bounds its file.
const MostBytes = 256 << 20

// TooLarge refuses a file that is too large.
func TooLarge() error { return document.Refuse("the picture is larger than %d MB", MostBytes>>20) }

// Kind is what a picture is.
type Kind struct {
	Format        string // png or jpeg
	Width, Height int
}

// Media is its type, for browsers.
func (k Kind) Media() string { return "image/" + k.Format }

// Check returns what a picture is, or a refusal that says what is wrong with it.
func Check(data []byte) (k Kind, err error) {
	_, k, err = Decode(data)
	return k, err
}

// Decode reads a picture.
func Decode(data []byte) (image.Image, Kind, error) {
	if len(data) > MostBytes {
		return nil, Kind{}, TooLarge()
	}
	head, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, Kind{}, document.Refuse("this is no PNG or JPEG picture, or its beginning is broken; save it as PNG")
	}
	k := Kind{format, head.Width, head.Height}
	if k.Width < 1 || k.Height < 1 || k.Width > MostPixels/k.Height {
		return nil, k, document.Refuse("the picture says it has %d by %d pixels, more than 8192 by 8192; save it smaller", k.Width, k.Height)
	}
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, k, document.Refuse("the picture is broken: %v; save it again", err)
	}
	return img, k, nil
}

// Fits refuses a picture whose sides are not as those of a tile so many times as wide as high.
func (k Kind) Fits(wide float64) error {
	if d := float64(k.Width) - wide*float64(k.Height); d < -1 || d > 1 {
		return document.Refuse("the picture is %d by %d px; the sheet wants %s", k.Width, k.Height, fmt.Sprintf("%g : 1", wide))
	}
	return nil
}
