//go:build !amd64

package sparse

var fused = false

func fmaDot2x4(_, _, _, _, _, _ *float64, _ int, _ *[8]float64) {
	panic("sparse: no fused kernel on this machine")
}
