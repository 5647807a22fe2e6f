package workspace

import (
	"context"
	"time"

	"morvek/core/document"
	"morvek/core/picture"
	"morvek/store"
)

// Paint keeps a picture that was painted on a tile of the map a document is seen through; fresh tells
// whether it is another one than was there. A picture that is broken, too large or of other
// proportions than the tile is refused.
func (d *Documents) Paint(ctx context.Context, o *Opened, tile int, name string, data []byte) (kept store.Picture, fresh bool, err error) {
	s := o.Doc.State
	tiles := s.Settings.Sheet.Across()
	if s.Settings.Sheet.Wide {
		tiles = 1
	}
	if tile < 0 || tile >= tiles {
		return kept, false, document.Refuse("%s has no tile %d", s.Shown.Name, 1001+tile)
	}
	k, err := picture.Check(data)
	if err != nil {
		return kept, false, err
	}
	if err := k.Fits(s.Settings.Sheet.TileWidth()); err != nil {
		return kept, false, err
	}
	return d.store.KeepPicture(ctx, store.Picture{DocumentID: o.Row.ID, Map: int32(s.Shown.ID), Tile: tile, Name: name, Media: k.Media(), Width: k.Width, Height: k.Height}, data)
}

// PaintedAt is when the picture of a tile of a map was taken, the zero time where there is none.
func (d *Documents) PaintedAt(ctx context.Context, of Ref, tile int) (at time.Time, err error) {
	list, err := d.store.Pictures(ctx, of.Document, int32(of.Map))
	for _, p := range list {
		if p.Tile == tile {
			at = p.CreatedAt
		}
	}
	return at, err
}
