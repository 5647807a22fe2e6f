package workspace

import (
	"context"
	"time"

	"morvek/core/document"
	"morvek/core/picture"
	"morvek/store"
)

// Paint keeps a picture that was painted on a tile of the map a document is seen through. One that is
// broken, too large or of other proportions than the tile is refused.
func (d *Documents) Paint(ctx context.Context, o *Opened, tile int, name string, data []byte) (kept store.Picture, err error) {
	s := o.Doc.State
	if tile < 0 || tile >= s.Settings.Sheet.Tiles {
		return kept, document.Refuse("%s has no tile %d", s.Shown.Name, 1001+tile)
	}
	k, err := picture.Check(data)
	if err != nil {
		return kept, err
	}
	if err := k.Fits(s.Settings.Sheet.TileWidth()); err != nil {
		return kept, err
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
