// Package edittest gives tests of edits small documents, and what they ask of any.
package edittest
