// Package lay brings pieces of a document onto the sheet: flattened by their shape, by a
// projection or between pins, turned to their grain, on the rack or in their place, packed.
// What it returns is a new state; the document stays as it was. See core/unroll,
// core/flatten and core/sheet for the methods and their sources.
package lay
