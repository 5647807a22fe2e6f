// Package edit is every change of a document as a value: an Edit has a JSON form, gives the
// same state each time it is applied, and refuses in words what cannot be done. The table of
// all edits stands here; each lies in the package of its station: partedits, projectedits,
// seamedits, flowedits, sheetedits. No edit calls another: what they share lies in
// core/segment, core/lay, core/document and core/atlas.
package edit
