package proof

import "morvek/web/verbs"

var table = []verbs.Verb{
	{Name: "accept", Needs: []verbs.Need{verbs.Finding}, Says: "Accept …", Takes: verbs.Choose, Key: "A", Form: true, What: "The chosen finding may stay, for a reason; it is told apart from then on."},
	{Name: "withdraw", Needs: []verbs.Need{verbs.Finding}, Says: "No longer accept", Takes: verbs.Choose, What: "The chosen finding is one again."},
	{Name: "next", Says: "Next finding", Takes: verbs.Choose, Key: "N", What: "Goes on to the next place where something is wrong."},
	{Name: "previous", Says: "Finding before", Takes: verbs.Choose, Key: "Shift+N", Rare: true, What: "Goes back to the place before."},
	{Name: "mend", Needs: []verbs.Need{verbs.Finding, verbs.Mendable}, Says: "Mend it", Takes: verbs.Choose, Key: "M", What: "Mends the chosen finding, where that is known; shown first."},
	{Name: "mark", Says: "Mark this state", Takes: verbs.Model, What: "What is found from now on is told as new."},
	{Name: "forget-mark", Says: "Forget the mark", Takes: verbs.Model, What: "Nothing is told as new any more."},
	{Name: "compare", Says: "Before and after", Takes: verbs.Model, What: "Any two states, maps or revisions in the same views."},
	{Name: "report", Says: "Report", Takes: verbs.Model, What: "What is measured, to print."},
}
