package shape

// Traits are what differs by kind of shape. Whoever adds a kind adds a row to the table
// below, with its fit in a file of its own, and nothing else: no other package asks which
// kind a shape is, apart from recognition, which proposes them.
type Traits struct {
	Word       string     // what people call a part of it that has no better name
	WhyNot     string     // why faces cannot be it, in words
	Axis       Axis       // what its axis says of it
	Grain      GrainRule  // where its grain comes from by itself
	Projection Projection // what lays it flat
	Least      int        // facets that must be explained for it to be believed
	Sheet      bool       // a sheet-metal worker could make it: cuts at its corners are all it takes
	Dome       bool       // it may be so much of a dome that it needs darts
	Apart      bool       // its strips are laid apart at sharp edges
	Tube       bool       // it may be a tube, opened along it
}

// Axis says what the axis of a shape is to it.
type Axis int

// The roles of an axis.
const (
	NoAxis  Axis = iota
	Normal       // across it
	Turns        // it is turned about it, and runs along it
	Follows      // it runs along it, whatever its section
	Ring         // it is a ring about it
	Screw        // it is turned about it and shifted along it at once
)

// Goes tells whether a wall goes around the axis, so that it can be opened along it.
func (a Axis) Goes() bool { return a == Turns || a == Follows }

// Around tells whether the axis lies in the middle of the shape.
func (a Axis) Around() bool { return a == Turns || a == Follows || a == Ring || a == Screw }

// GrainRule says how a grain follows from a shape.
type GrainRule int

// The rules.
const (
	NoGrain    GrainRule = iota // domes fan out on the sheet
	ByTaper                     // along, if it is long and hardly fans out
	ByLoops                     // along or around, as its loops are longer
	ByProfile                   // the same, if its profile is upright enough
	ByFlats                     // as its flats or its blank are long
	ByRim                       // as its rim runs
	AlongSpine                  // along its spine, its tube or its thread
	ByWalls                     // each flat wall by its own long edges
)

// Projection names the way a shape is laid flat, as core/unroll knows it.
type Projection string

// table are all kinds of shape.
var table = map[Kind]Traits{
	Plane:    {Word: "plate", Axis: Normal, Grain: ByRim, Projection: "planar", Least: 1, Sheet: true},
	Cylinder: {Word: "wall", Axis: Turns, Grain: ByLoops, Projection: "cylindrical", Least: 3, Sheet: true},
	Cone:     {Word: "cone", Axis: Turns, Grain: ByTaper, Projection: "conical", Least: 4, Sheet: true},
	Sphere:   {Word: "dome", Projection: "spherical", Least: 6, Dome: true},
	Torus:    {Word: "ring", Axis: Ring, Grain: AlongSpine, Projection: "swept", Least: 6, Tube: true},
	Extruded: {Word: "profile", Axis: Follows, Grain: ByFlats, Projection: "extruded", Least: 3, Sheet: true},
	Turned:   {Word: "wall", Axis: Turns, Grain: ByProfile, Projection: "turned", Least: 6, Dome: true},
	Swept: {Word: "bar", WhyNot: "it is not a tube with two ends and one girth", Grain: AlongSpine, Projection: "swept",
		Least: 6, Apart: true, Tube: true},
	Helix: {Word: "thread", WhyNot: "it does not wind about an axis at one pitch", Axis: Screw, Grain: AlongSpine, Projection: "helical", Least: 8, Tube: true},
	Box: {Word: "box", WhyNot: "its faces do not look along two axes at right angles", Grain: ByWalls, Projection: "box",
		Least: 6, Apart: true},
	Free: {Word: "form", Grain: ByWalls, Projection: "unfolded", Least: 6},
}

// Traits returns what is special about a kind; those of a free form for what is none.
func (k Kind) Traits() Traits {
	if t, ok := table[k]; ok {
		return t
	}
	return table[Free]
}

// Bent tells whether a shape runs along a spine.
func (f *Fit) Bent() bool { return len(f.Spine) >= 2 }

// Softened is the fit of what is mostly of a shape, but bends away from it at its rims, as a flat of a subdivided
// cage does: free, as far as laying it goes.
func Softened(f Fit) Fit {
	return Fit{Kind: Free, Mostly: f.Kind, Axis: f.Axis, Origin: f.Origin, Radius: f.Radius, Error: f.Error}
}

// Soft tells whether a fit is softened.
func (f *Fit) Soft() bool { return f.Mostly != "" }

// Reads is the shape that faces are taken for, with rounds or without.
func (f *Fit) Reads() Kind {
	if f.Soft() {
		return f.Mostly
	}
	return f.Kind
}
