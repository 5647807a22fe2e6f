package meshtest

import (
	"bytes"
	"fmt"
	"math"
)

// CanFile is a closed can of n sides, radius 1, height 2, as an OBJ file.
func CanFile(n int) []byte {
	var b bytes.Buffer
	var low, high string
	for i := range n {
		s, c := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		fmt.Fprintf(&b, "v %.9f 0 %.9f\nv %.9f 2 %.9f\n", s, c, s, c)
		low = fmt.Sprintf(" %d", 2*i+1) + low
		high += fmt.Sprintf(" %d", 2*i+2)
	}
	for i := range n {
		j := (i + 1) % n
		fmt.Fprintf(&b, "f %d %d %d %d\n", 2*i+1, 2*j+1, 2*j+2, 2*i+2)
	}
	fmt.Fprintf(&b, "f%s\nf%s\n", low, high)
	return b.Bytes()
}
