package sheet

import "morvek/web/verbs"

var table = []verbs.Verb{
	{Name: "to-rack", Says: "To the rack", Takes: verbs.Shells, Key: "D", What: "The shells wait beside the sheet."},
	{Name: "into-room", Says: "Into free room", Takes: verbs.Shells, Key: "F", What: "Lays the shells where others leave room; those stay."},
	{Name: "hold", Says: "Lock or unlock", Takes: verbs.Shells, Key: "G", What: "Packing neither moves nor scales locked shells."},
	{Name: "stack", Says: "Stack on the first", Takes: verbs.Shells, Key: "S", What: "All onto the one that was chosen first; shown first with what it costs."},
	{Name: "align", Says: "Align …", Takes: verbs.Shells, Key: "A", Form: true, What: "Sides or middles on one line, equal gaps, a row, a column."},
	{Name: "fit", Says: "Fit into …", Takes: verbs.Shells, Form: true, What: "As large as the sheet, or a rectangle you draw, allows; or onto whole pixels."},
	{Name: "density", Says: "Density …", Takes: verbs.Shells, Key: "N", Form: true, What: "How many pixels a length gets: set, made equal, taken over."},
	{Name: "divide", Says: "Divide in …", Takes: verbs.Shells, Form: true, What: "Cut across in so many pieces; shown first with what it costs and brings."},
	{Name: "unstack", Says: "Take out of the stack", Takes: verbs.Shells, What: "The chosen ones come to the rack."},
	{Name: "spread", Says: "Spread the stack", Takes: verbs.Shells, Rare: true, What: "Each of the stack is laid where there is room."},
	{Name: "offset", Says: "Stack a tile aside", Takes: verbs.Shells, Rare: true, What: "Those that lie on another go a tile to the right, so that each place is baked once; again, they come back."},
	{Name: "turn-by", Says: "Turn by …", Takes: verbs.Shells, Form: true, Rare: true, What: "Turns the shells by any angle, together or each about its own middle."},
	{Name: "pack", Says: "Pack", Takes: verbs.Model, Key: "K", What: "Lays all shells as large as they get; what was laid by hand stays, and only what waits is laid."},
	{Name: "pack-all", Says: "Pack all anew …", Takes: verbs.Model, Key: "Shift+K", Form: true, What: "Packs all, what was laid by hand too, as is wished."},
	{Name: "fill", Says: "Lay what waits", Takes: verbs.Model, Needs: []verbs.Need{verbs.Waiting}, What: "Into the room that those on the sheet leave, which stay where they are."},
	{Name: "improve", Says: "Improve", Takes: verbs.Model, Key: "I", Needs: []verbs.Need{verbs.Mapped}, What: "Moves shells about so that all can be larger, round by round; stop it when it is good enough."},
	{Name: "arrange", Says: "As on the model …", Takes: verbs.Model, Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "Neighbours together, above what is above; its price in fill is shown first."},
	{Name: "lanes", Says: "Divide what rules it", Takes: verbs.Model, Key: "Shift+N", Needs: []verbs.Need{verbs.Mapped}, What: "Shells that are too long for the sheet, or waste it, are cut across; shown first with what it costs and brings."},
	{Name: "set-sheet", Says: "Sheet …", Takes: verbs.Model, Key: "H", Form: true, What: "Its size and tiles, how far shells are apart, how packing may turn them, what is stacked."},
	{Name: "density-all", Says: "One density …", Takes: verbs.Model, Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "How many pixels a length gets, for all or a material."},
	{Name: "weigh-hidden", Says: "Less for hidden ones …", Takes: verbs.Model, Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "Insides and undersides weigh less, in one go."},
	{Name: "need", Says: "What density is needed …", Takes: verbs.Model, Form: true, What: "From how near and on what screen it is seen."},
	{Name: "racked", Says: "Those on the rack", Takes: verbs.Choose, What: "Chooses the shells that wait beside the sheet."},
	{Name: "drag-to", Says: "Dragging snaps to …", Takes: verbs.Choose, Form: true, What: "What dragged shells snap to: borders of others, whole pixels, a raster, nothing."},
}
