package seams

import "morvek/web/verbs"

var table = []verbs.Verb{
	{Name: "cut", Says: "Cut", Takes: verbs.Edges, Key: "C", What: "The picked edges become seams."},
	{Name: "close", Says: "Close", Takes: verbs.Edges, Key: "V", What: "The picked edges are seams no longer."},
	{Name: "join", Says: "Join", Takes: verbs.Edges, Key: "J", Needs: []verbs.Need{verbs.Mapped}, What: "Unites two shells along the picked edges; shown first with its cost."},
	{Name: "hold", Says: "Stay attached", Takes: verbs.Edges, What: "Suggestions never cut the picked edges."},
	{Name: "let-go", Says: "May be cut again", Takes: verbs.Edges, What: "Suggestions decide again about the picked edges."},
	{Name: "same", Says: "Same on its repeats", Takes: verbs.Edges, Rare: true, What: "Does what was done last to the same edges of all parts like it."},
	{Name: "hand-over", Says: "Hand over", Takes: verbs.Faces, Key: "H", Needs: []verbs.Need{verbs.Mapped}, What: "The picked strip goes to the shell beside it."},
	{Name: "join-group", Says: "Join their shells …", Takes: verbs.Faces, Form: true, Needs: []verbs.Need{verbs.Mapped}, What: "Unites the shells of the picked faces as far as a stretch allows."},
	{Name: "keep-whole", Says: "Keep whole", Takes: verbs.Faces, What: "Suggestions never cut between the picked faces."},
	{Name: "let-cut", Says: "Let be cut", Takes: verbs.Faces, What: "Suggestions may cut between the picked faces again."},
	{Name: "turn-dial", Says: "Fewer or more seams …", Takes: verbs.Model, Key: "D", Form: true, Needs: []verbs.Need{verbs.Recognised}, What: "All seams anew, from fewer pieces to less stretch."},
	{Name: "view", Says: "Viewing sides …", Takes: verbs.Model, Form: true, What: "How much the model is looked at from each side: seams go where it is looked at least."},
	{Name: "take-all", Says: "Take all suggestions", Takes: verbs.Model, Rare: true, What: "Makes all cuts that are suggested."},
	{Name: "loop", Of: []string{"edges"}, Needs: []verbs.Need{verbs.Picked}, Says: "Loop", Takes: verbs.Choose, Key: "G", What: "The loop of the edge picked last; a double click does the same."},
	{Name: "carry-on", Of: []string{"edges"}, Needs: []verbs.Need{verbs.Picked}, Says: "Loop carried on", Takes: verbs.Choose, Key: "Y", What: "The picked loop goes on over the points it ends at."},
	{Name: "ring", Of: []string{"edges"}, Needs: []verbs.Need{verbs.Picked}, Says: "Ring", Takes: verbs.Choose, Key: "N", What: "The edges beside the one picked last, across faces."},
	{Name: "chain", Of: []string{"edges"}, Needs: []verbs.Need{verbs.Picked}, Says: "Chain to here", Takes: verbs.Choose, Key: "X", What: "Edges from the one picked last to the pointer, along creases."},
	{Name: "chain-short", Of: []string{"edges"}, Needs: []verbs.Need{verbs.Picked}, Says: "Chain the short way", Takes: verbs.Choose, Key: "Shift+X", What: "Edges from the one picked last to the pointer, the shortest way.", Rare: true},
	{Name: "borders", Of: []string{"edges"}, Says: "Open borders", Takes: verbs.Choose, What: "All edges that have a face on one side only."},
	{Name: "above", Of: []string{"edges"}, Says: "Edges that bend …", Takes: verbs.Choose, Form: true, What: "All edges that bend by an angle or more."},
}
