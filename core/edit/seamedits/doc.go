// Package seamedits is the edits of the Seams station: suggesting, cutting, joining, and
// what people wish to stay as it is.
package seamedits
