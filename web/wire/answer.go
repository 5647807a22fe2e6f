package wire

import "morvek/core/document"

// Shown is what a bench shows besides its views: it comes along with the answer to a change,
// so that nothing else has to be asked for.
type Shown struct {
	Station string `json:"station"`
	Part    int    `json:"part"` // chosen, -1 for none
	Worklog bool   `json:"worklog,omitempty"`
}

// Answer is what a change led to: a patch of what the bench knows, or all of it. With a patch
// Meta tells no parts, shells and findings.
type Answer struct {
	Meta    Meta   `json:"meta"`
	Patch   *Patch `json:"patch,omitempty"`
	Card    *Card  `json:"card,omitempty"`
	Tray    string `json:"tray,omitempty"`
	Worklog string `json:"worklog,omitempty"`
}

// Card is what changes on the route card: whole, where there are other rows than before.
type Card struct {
	Whole string                     `json:"whole,omitempty"`
	Sums  [6]string                  `json:"sums"` // what is left to do in each column, as HTML
	Rows  map[document.PartID]string `json:"rows,omitempty"`
}
