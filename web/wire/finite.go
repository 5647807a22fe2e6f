package wire

import "morvek/core/proof"

// Finite keeps numbers that JSON can carry: beyond proof.Endless is that.
func Finite(x float64) float64 {
	if !(x < proof.Endless) {
		return proof.Endless
	}
	return x
}
