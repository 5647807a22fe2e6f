// Package ids is sets of numbers of faces, edges and corners, as ascending lists without
// repeats. No function changes what it is given.
package ids

import "slices"

// Once sorts a list and leaves each number in it once.
func Once[T ~int32](list []T) []T {
	out := append([]T(nil), list...)
	if !slices.IsSorted(out) {
		slices.Sort(out)
	}
	return slices.Compact(out)
}

// With adds numbers to a set.
func With[T ~int32](set, add []T) []T { return Either(Once(set), Without(Once(add), set)) }

// Without takes numbers from a set.
func Without[T ~int32](set, gone []T) []T {
	gone = Once(gone)
	return slices.DeleteFunc(slices.Clone(set), func(x T) bool {
		for len(gone) > 0 && gone[0] < x {
			gone = gone[1:]
		}
		return len(gone) > 0 && gone[0] == x
	})
}

// Either is what is in one of two sets only. Done twice it leads back.
func Either[T ~int32](a, b []T) (out []T) {
	for len(a) > 0 && len(b) > 0 {
		switch {
		case a[0] < b[0]:
			out, a = append(out, a[0]), a[1:]
		case b[0] < a[0]:
			out, b = append(out, b[0]), b[1:]
		default:
			a, b = a[1:], b[1:]
		}
	}
	return append(append(out, a...), b...)
}

// Meet tells whether two sets share a number.
func Meet[T ~int32](a, b []T) bool {
	for len(a) > 0 && len(b) > 0 {
		switch {
		case a[0] < b[0]:
			a = a[1:]
		case b[0] < a[0]:
			b = b[1:]
		default:
			return true
		}
	}
	return false
}

// Set is a list as a map that tells what is in it, in whatever order.
func Set[T comparable](list []T) map[T]bool {
	out := make(map[T]bool, len(list))
	for _, x := range list {
		out[x] = true
	}
	return out
}

// All is the numbers from 0 to n−1.
func All[T ~int32](n int) []T {
	out := make([]T, n)
	for i := range out {
		out[i] = T(i)
	}
	return out
}
