// Package segment leads from the parts of a document to its shells: where closed walls are
// opened, what stays attached, which shells are joined, which are divided for the sheet's
// sake, and which cuts it would suggest. See core/seam for the paths and their sources.
package segment
