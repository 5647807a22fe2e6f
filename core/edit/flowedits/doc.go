// Package flowedits is the edits of the Flow station: flattening, relaxing, grain, straight
// loops, labels, and patterns that go on over seams.
package flowedits
