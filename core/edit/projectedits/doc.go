// Package projectedits is the edits of the Project station.
package projectedits
