package wire

import "morvek/core/mesh"

// Ghost is what an edit would do, without it being done.
type Ghost struct {
	Corners []int32      `json:"corners" wire:"null"` // whose place on the sheet changes
	UV      []float32    `json:"uv" wire:"null"`      // two for each corner
	Faces   []int32      `json:"faces" wire:"null"`   // all faces of the shells that change
	Opened  []int32      `json:"opened" wire:"null"`  // edges that would be cut
	Closed  []int32      `json:"closed" wire:"null"`  // edges that would not be any more
	Join    *Join        `json:"join,omitempty"`
	Before  *Figures     `json:"before,omitempty"`
	After   *Figures     `json:"after,omitempty"`
	Stretch *Cost        `json:"stretch,omitempty"`
	Parts   *PartsChange `json:"parts,omitempty"`
	Said    string       `json:"said,omitempty"`    // what it does, in words
	Refused string       `json:"refused,omitempty"` // why it cannot be done, of an offer
	Worst   *int32       `json:"worst,omitempty"`   // face that stretches most afterwards

	Straight *float64 `json:"straight,omitempty"` // share of the edges of a trued shell that would be

	Rows  []Row         `json:"rows,omitempty"`   // loops or seams that pay most
	LetGo []mesh.EdgeID `json:"let_go,omitempty"` // edges of loops that stay bent
}

// Cost is the stretch of the shells an edit changes, before and after.
type Cost struct {
	Was  Stretch `json:"was"`
	Will Stretch `json:"will"`
}

// Stretch is part of a Ghost.
type Stretch struct {
	Shells  int     `json:"shells"`
	L2      float64 `json:"l2"`
	Angular float64 `json:"angular"` // worst p95
	Note    string  `json:"note,omitempty"`
}

// Join is part of a Ghost.
type Join struct {
	Stays      mesh.FaceID `json:"stays"`
	Moves      mesh.FaceID `json:"moves"`
	StaysName  string      `json:"stays_name"`
	MovesName  string      `json:"moves_name"`
	Length     string      `json:"length"`
	Difference float64     `json:"difference"`
	Turn       [2]float64  `json:"turn"`
	Opposite   bool        `json:"opposite"`
	Rigid      bool        `json:"rigid"`
	Was        float64     `json:"was"`
	Will       float64     `json:"will"`
	OnRack     bool        `json:"on_rack"`
	Joined     int         `json:"joined"`
}

// Figures sum up a map for the dial.
type Figures struct {
	Shells  int     `json:"shells"`
	Seam    string  `json:"seam"`
	Exposed string  `json:"exposed"`
	Worst   float64 `json:"worst"`
	Fill    string  `json:"fill"`
	Density string  `json:"density"`
	Least   string  `json:"least_gap"` // between shells
	Rim     string  `json:"least_rim"` // to the border of the sheet
}

// PartsChange is how parts would change.
type PartsChange struct {
	Was    int `json:"was"`
	Will   int `json:"will"`
	United int `json:"united"` // parts that go into larger ones
	Split  int `json:"split"`  // parts that are taken apart
}

// Row is a loop or a seam with what an edit makes of it.
type Row struct {
	Edges   []mesh.EdgeID `json:"edges"`
	Words   string        `json:"words"`
	Figures string        `json:"figures"`
}

// Frame is a shell on its way to being flat: one line of the answer each.
type Frame struct {
	Iteration int       `json:"iteration"`
	Said      string    `json:"said"` // how far it is, in words
	Corners   []int32   `json:"corners"`
	UV        []float32 `json:"uv"`
}
