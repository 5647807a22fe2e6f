package sparse

import "golang.org/x/sys/cpu"

// fused tells whether the processor multiplies and adds four numbers at once. Results
// are the same from run to run on one machine; the last digits differ between machines
// with and without it.
var fused = cpu.X86.HasAVX2 && cpu.X86.HasFMA

//go:noescape
func fmaDot2x4(a0, a1, b0, b1, b2, b3 *float64, n int, out *[8]float64)
