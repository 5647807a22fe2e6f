// Package wire is what travels between the server and the bench: messages as JSON, whose
// types in wire.ts are written from those here, and blocks of numbers. What the bench
// knows of a revision comes whole (Meta and Layout) or as a Patch of the one it has.
package wire

//go:generate go run ./gen
