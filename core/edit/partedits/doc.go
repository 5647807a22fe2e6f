// Package partedits is the edits of the Parts station: reading shapes and correcting what
// was read.
package partedits
