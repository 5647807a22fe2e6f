package document

import (
	"sync"

	"morvek/core/mesh"
	"morvek/core/parts"
	"morvek/core/seam"
)

// viewing is what exposure depends on besides the mesh.
type viewing struct {
	up    seam.Up
	sides seam.Sides
}

// readings keeps the last tree that was read of a mesh.
type readings struct {
	mu   sync.Mutex // held while reading: who waits for it wants the same
	of   treeKey
	tree parts.Tree
}

// treeKey is what a tree depends on besides the mesh.
type treeKey struct {
	crease, tolerance float64
	viewing           viewing
}

// shared is what all states of one mesh have in common.
type shared struct {
	mu       sync.Mutex
	exposure map[viewing]*seam.Exposure

	readings readings

	carriedOnce sync.Once
	carried     map[mesh.FaceID][]mesh.FaceID

	healthOnce sync.Once
	health     []mesh.Ailment

	mirrorOnce sync.Once
	mirror     parts.Mirror
	mirrored   bool

	imagesOnce sync.Once
	images     parts.Images // in the plane of mirror
}
