package picture_test

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"morvek/core/document"
	"morvek/core/picture"
)

func drawn(t testing.TB, w, h int, as string) []byte {
	t.Helper()
	var b bytes.Buffer
	img := image.NewGray(image.Rect(0, 0, w, h))
	err := png.Encode(&b, img)
	if as == "jpeg" {
		b.Reset()
		err = jpeg.Encode(&b, img, nil)
	}
	if err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// bomb is a few bytes that claim to be a picture of a side of so many pixels.
func bomb(t testing.TB, side uint32) []byte {
	data := bytes.Clone(drawn(t, 1, 1, "png"))
	binary.BigEndian.PutUint32(data[16:], side)
	binary.BigEndian.PutUint32(data[20:], side)
	binary.BigEndian.PutUint32(data[29:], crc32.ChecksumIEEE(data[12:29]))
	return data
}

func TestPicturesAreCheckedBeforeTheyAreDecoded(t *testing.T) {
	for _, as := range []string{"png", "jpeg"} {
		k, err := picture.Check(drawn(t, 20, 10, as))
		if err != nil || k.Width != 20 || k.Height != 10 || k.Media() != "image/"+as {
			t.Errorf("%s: %+v, %v", as, k, err)
		}
		if k.Fits(2) != nil || !errors.Is(k.Fits(1), document.ErrRefused) {
			t.Errorf("%s: it is twice as wide as high", as)
		}
	}
	whole := drawn(t, 64, 64, "png")
	for says, data := range map[string][]byte{"no PNG or JPEG": []byte("v 0 0 0"), "no PNG": nil, "100000 by 100000": bomb(t, 100_000), "more than 8192": bomb(t, 60_000), "broken": whole[:len(whole)-20]} {
		if _, err := picture.Check(data); !errors.Is(err, document.ErrRefused) || !strings.Contains(err.Error(), says) {
			t.Errorf("%s: %v", says, err)
		}
	}
}

func FuzzCheck(f *testing.F) {
	f.Add(drawn(f, 3, 2, "png"))
	f.Add(drawn(f, 3, 2, "jpeg"))
	f.Add(bomb(f, 1<<20))
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 1<<16 {
			return
		}
		if k, err := picture.Check(data); err == nil && (k.Width*k.Height < 1 || k.Width*k.Height > picture.MostPixels) {
			t.Fatalf("%+v was taken", k)
		}
	})
}
