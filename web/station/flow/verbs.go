package flow

import "morvek/web/verbs"

var table = []verbs.Verb{
	{Name: "pin", Says: "Pin", Takes: verbs.Points, Key: "D", What: "The picked points stay where they are."},
	{Name: "relax-around", Says: "Relax around", Takes: verbs.Points, Key: "I", Form: true, What: "Evens the shell out near the picked points."},
	{Name: "unpin", Says: "Unpin", Takes: verbs.Model, Needs: []verbs.Need{verbs.Pins}, What: "The picked points may move again; all that are pinned where none is picked."},
	{Name: "carry-over", Says: "Pattern over the seam", Takes: verbs.Edges, Needs: []verbs.Need{verbs.Mapped}, What: "A tiling pattern goes on over the picked seams; the shell clicked last stays."},
	{Name: "carry-tiling", Says: "So, in a tiling map", Takes: verbs.Edges, Needs: []verbs.Need{verbs.Mapped, verbs.Painting}, What: "The shells are copied to a tiling map, where they may lie on each other, and the pattern carried over there."},
	{Name: "by-edge", Says: "Lay along the sheet", Takes: verbs.Edges, Needs: []verbs.Need{verbs.Mapped}, What: "The shell turns so that the picked edges lie along the sheet."},
	{Name: "true-picked", Says: "Straighten these loops", Takes: verbs.Edges, Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "The loops of the picked edges become straight along the sheet."},
	{Name: "fill", Says: "Fill their hole", Takes: verbs.Faces, Needs: []verbs.Need{verbs.Mapped}, What: "Flattens the picked faces into the hole they leave; all else keeps its place."},
	{Name: "label", Says: "Word on them …", Takes: verbs.Faces, Form: true, What: "The picked faces carry a word: it stands upright on the sheet and reads on the model."},
	{Name: "turn-label", Says: "Word on its side", Takes: verbs.Faces, Needs: []verbs.Need{verbs.Label}, What: "The word of the clicked face stands a quarter turn on."},
	{Name: "true-up", Says: "True up", Takes: verbs.Shells, Key: "U", Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "Its loops become straight along the sheet; the cost is shown first."},
	{Name: "relax", Says: "Relax", Takes: verbs.Shells, Key: "I", Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "Evens the shell out."},
	{Name: "watch", Says: "Flatten by …", Takes: verbs.Shells, Key: "N", Form: true, What: "The ways of flattening, step by step; stop where it is good enough."},
	{Name: "set-grain", Says: "Grain …", Takes: verbs.Parts, Key: "G", Form: true, What: "Which way a texture shall run on the chosen parts."},
	{Name: "draw-grain", Says: "Draw the grain", Takes: verbs.Parts, Key: "Shift+G", What: "Drag a stroke on the part: the texture runs along it."},
	{Name: "by-loops", Says: "Orient by loops", Takes: verbs.Shells, Needs: []verbs.Need{verbs.Mapped}, What: "Its loops along the sheet, its grain along, up upwards."},
	{Name: "turn-by", Says: "Turn by …", Takes: verbs.Shells, Form: true, Needs: []verbs.Need{verbs.Mapped}, Rare: true, What: "Turns the shell by any angle."},
	{Name: "to-pixels", Says: "Snap to pixels", Takes: verbs.Shells, Needs: []verbs.Need{verbs.Mapped}, What: "Straight borders of the shell come to lie on whole pixels."},
	{Name: "true-all", Says: "True up all", Takes: verbs.Model, Needs: []verbs.Need{verbs.Mapped}, What: "All shells that gain by it; what finds no room where it lay waits on the rack. Shown first."},
	{Name: "orient-all", Says: "Orient all by loops", Takes: verbs.Model, Needs: []verbs.Need{verbs.Mapped}, What: "Loops of all shells along the sheet, grain along, up upwards."},
	{Name: "flatten-all", Says: "Flatten all", Takes: verbs.Model, What: "Lays every shell flat anew, by its shape."},
	{Name: "unmirror", Says: "Mirrored ones over", Takes: verbs.Model, Needs: []verbs.Need{verbs.Mapped}, What: "Turns all shells over that are mirrored."},
	{Name: "carry-material", Says: "Pattern over a material", Takes: verbs.Model, Needs: []verbs.Need{verbs.Mapped}, What: "A tiling pattern goes on over all seams between shells of the material clicked last."},
	{Name: "snap", Of: []string{"points"}, Says: "Snapping on or off", Takes: verbs.Choose, What: "Dragged points snap to whole pixels and to other points; with Alt they do not."},
	{Name: "reach", Of: []string{"points"}, Says: "Falloff …", Takes: verbs.Choose, Form: true, What: "How far a dragged point takes others along."},
}
