package segment

import "morvek/core/document"

// Rules returns the part whose shell is the longest on the sheet, and its length as a share
// of the room between the margins; the part is NoPart where nothing is laid.
func Rules(d *document.Document) (part document.PartID, share float64) {
	s := d.State
	margins := 2 * s.Settings.Sheet.Margin / float64(s.Settings.Sheet.Size)
	across, up := s.Settings.Sheet.TileWidth()-margins, 1-margins
	part = document.NoPart
	shells, _ := s.Map.Shells()
	for _, sh := range shells {
		size := s.Map.Box(sh.Faces).Size()
		if long := max(size.X/across, size.Y/up); long > share*(1+1e-9) {
			part, share = s.PartOf(sh.Faces[0]), long
		}
	}
	return part, share
}
