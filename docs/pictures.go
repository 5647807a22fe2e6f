// Package docs holds what is written and drawn about Morvek that the application shows too.
package docs

import (
	"embed"
	"io/fs"
)

//go:embed screenshots/*.png
var screenshots embed.FS

// Picture returns a picture of a main view, drawn from the demo data, as PNG; fs.ErrNotExist if there is
// none of that name.
func Picture(name string) ([]byte, error) {
	if !fs.ValidPath(name) {
		return nil, fs.ErrNotExist
	}
	return screenshots.ReadFile("screenshots/" + name + ".png")
}
