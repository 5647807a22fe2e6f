// Package sheetedits is the edits of the Sheet station, and those of maps as a whole.
package sheetedits
