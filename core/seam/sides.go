package seam

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Up names the axis that points up in the model.
type Up string

// The ways up.
const (
	UpY Up = "y"
	UpZ Up = "z"
)

// Vec returns the up direction; Front the side people look at first.
func (u Up) Vec() r3.Vec {
	if u == UpZ {
		return r3.Vec{Z: 1}
	}
	return r3.Vec{Y: 1}
}

// Front returns the direction towards the viewer's usual side.
func (u Up) Front() r3.Vec {
	if u == UpZ {
		return r3.Vec{Y: -1}
	}
	return r3.Vec{Z: 1}
}

// Sides says how much people look from each side, relative to each other: 0 never.
type Sides struct {
	Front float64 `json:"front"`
	Back  float64 `json:"back"`
	Left  float64 `json:"left"`
	Right float64 `json:"right"`
	Above float64 `json:"above"`
	Below float64 `json:"below"` // from under the horizon, whatever the compass
}

// DefaultSides are all sides above the horizon, the front stronger.
func DefaultSides() Sides {
	return Sides{Front: 1.6, Back: 0.4, Left: 1, Right: 1, Above: 1, Below: 0.05}
}

// belowHorizon is how far a direction may dip and still count as level.
const belowHorizon = -0.15

// weight of a direction with components to the right, up and front: the weights of
// the sides it lies between, by the squares of its components, which sum to one.
func (s Sides) weight(right, up, front float64) float64 {
	w := right*right*pick(right, s.Left, s.Right) + front*front*pick(front, s.Back, s.Front)
	switch {
	case up >= 0:
		return w + up*up*s.Above
	case up >= belowHorizon:
		return w
	}
	return s.Below * max(w, up*up)
}

func pick(x, negative, positive float64) float64 {
	if x < 0 {
		return negative
	}
	return positive
}

// Valid tells whether the weights can be used: none negative, and one above zero.
func (s Sides) Valid() bool {
	var sum float64
	for _, w := range []float64{s.Front, s.Back, s.Left, s.Right, s.Above, s.Below} {
		if !(w >= 0 && w <= 10) {
			return false
		}
		sum += w
	}
	return sum > 0 && !math.IsNaN(sum)
}
