// Package words is how numbers are said in sentences for people.
package words

import "fmt"

// Count is so many of something, in the plural but for one: 3 edges.
func Count(n int, of string) string { return fmt.Sprintf("%d %s", n, Plural(n, of)) }

// Plural is a word for so many things: edges, but for one edge.
func Plural(n int, of string) string {
	if n == 1 {
		return of
	}
	return of + "s"
}
