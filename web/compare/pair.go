package compare

// pair is a view that shows both states, half each.
type pair struct {
	Name   string   // piece or sheet
	Shows  []string // what can be shown, the first at the beginning
	Ways   bool     // whether it has the choice of how both are shown
	Apart  bool     // whether they are beside each other at the beginning
	Halves []half
}

// half is one of the states in a view.
type half struct{ View, When string }

func newPair(name string, shows ...string) pair {
	return pair{Name: name, Shows: shows, Halves: []half{{name, "before"}, {name, "after"}}}
}
