// Package document is what people work on: a mesh, its parts, a map of it, and what they
// wish. A document does not change: Begin begins a transaction on its state, and Done
// gives the next one. Diff says what lies between two states, forward and back, in time
// proportional to that; states and differences are stored as versioned blocks.
//
// It knows nothing of edits and lays nothing flat.
package document
