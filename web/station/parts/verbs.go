package parts

import "morvek/web/verbs"

var table = []verbs.Verb{
	{Name: "assign", Says: "Give to the part", Takes: verbs.Faces, Needs: []verbs.Need{verbs.OnePart}, What: "The picked faces become faces of the chosen part."},
	{Name: "recognise-part", Says: "Recognise again …", Takes: verbs.Parts, Form: true, What: "Reads the chosen parts anew, with the tolerance and crease angle that are set."},
	{Name: "split", Says: "Take apart", Takes: verbs.Parts, Key: "A", Needs: []verbs.Need{verbs.OnePart}, What: "Makes parts of what the part was read as."},
	{Name: "unite", Says: "Unite with its own", Takes: verbs.Parts, Key: "U", Needs: []verbs.Need{verbs.OnePart}, What: "One part of it and what it belongs with."},
	{Name: "merge", Says: "Merge chosen", Takes: verbs.Parts, Key: "M", Needs: []verbs.Need{verbs.Several}, What: "One part of all that are chosen."},
	{Name: "lock", Says: "Lock or unlock", Takes: verbs.Parts, What: "Recognising leaves locked parts as they are."},
	{Name: "rename", Says: "Rename …", Takes: verbs.Parts, Key: "N", Form: true, Needs: []verbs.Need{verbs.OnePart}, What: "Another name for the part."},
	{Name: "weigh", Says: "Room on the sheet …", Takes: verbs.Parts, Form: true, What: "How much room the parts get beside others: 2 is twice as sharp."},
	{Name: "give", Says: "Give map to repeats", Takes: verbs.Parts, Needs: []verbs.Need{verbs.OnePart, verbs.Repeats}, What: "All parts like it get its seams and its map."},
	{Name: "stack", Says: "Stack repeats", Takes: verbs.Parts, Needs: []verbs.Need{verbs.OnePart, verbs.Repeats}, What: "All parts like it get its map, at the same place of the sheet."},
	{Name: "turn-detail", Says: "Fewer or more parts …", Takes: verbs.Model, Form: true, Needs: []verbs.Need{verbs.Recognised}, What: "From few parts to every piece; what reads the same keeps its map."},
	{Name: "recognise", Says: "Recognise all …", Takes: verbs.Model, Form: true, What: "Reads the whole model anew; this clears the map."},
	{Name: "follow-mirror", Says: "Mirrored half follows", Takes: verbs.Model, Needs: []verbs.Need{verbs.Mapped}, What: "Parts that are mirror images get the seams and the map of their first."},
}
