// Package sheetedits is the edits of the Sheet station, and those of a map as a whole.
package sheetedits
