// Package mapedits is the edits of maps as such: making, naming and removing them, and copying
// shells from one to another.
package mapedits
