package edit

import (
	"maps"
	"slices"

	"morvek/core/edit/flowedits"
	"morvek/core/edit/mapedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/projectedits"
	"morvek/core/edit/proofedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
)

// Station is where on the bench an edit is made.
type Station string

// The stations that have edits.
const (
	Parts   Station = "parts"
	Project Station = "project"
	Seams   Station = "seams"
	Flow    Station = "flow"
	Sheet   Station = "sheet"
	Proof   Station = "proof"
)

// row is an edit in the table of all edits.
type row struct {
	station Station
	make    func() Edit
}

// kinds is the table of all edits, by what they are called in JSON. Whoever adds an edit
// adds a row here, and nothing else but the file of the edit.
var kinds = map[string]row{
	"recognise": {Parts, func() Edit { return &partedits.Recognise{} }},
	"detail":    {Parts, func() Edit { return &partedits.Detail{} }},
	"split":     {Parts, func() Edit { return &partedits.Split{} }},
	"unite":     {Parts, func() Edit { return &partedits.Unite{} }},
	"rename":    {Parts, func() Edit { return &partedits.Rename{} }},
	"merge":     {Parts, func() Edit { return &partedits.Merge{} }},
	"part-off":  {Parts, func() Edit { return &partedits.PartOff{} }},
	"assign":    {Parts, func() Edit { return &partedits.Assign{} }},
	"set-shape": {Parts, func() Edit { return &partedits.SetShape{} }},
	"lock":      {Parts, func() Edit { return &partedits.Lock{} }},
	"weigh":     {Parts, func() Edit { return &partedits.Weigh{} }},

	"project": {Project, func() Edit { return &projectedits.Project{} }},

	"open":       {Seams, func() Edit { return &seamedits.Open{} }},
	"attach":     {Seams, func() Edit { return &seamedits.Attach{} }},
	"cut":        {Seams, func() Edit { return &seamedits.Cut{} }},
	"close":      {Seams, func() Edit { return &seamedits.Close{} }},
	"dial":       {Seams, func() Edit { return &seamedits.Dial{} }},
	"keep":       {Seams, func() Edit { return &seamedits.Keep{} }},
	"hold":       {Seams, func() Edit { return &seamedits.Hold{} }},
	"save-picks": {Seams, func() Edit { return &seamedits.SavePicks{} }},
	"view-from":  {Seams, func() Edit { return &seamedits.ViewFrom{} }},
	"join":       {Seams, func() Edit { return &seamedits.Join{} }},
	"join-group": {Seams, func() Edit { return &seamedits.JoinGroup{} }},
	"hand-over":  {Seams, func() Edit { return &seamedits.HandOver{} }},
	"shell-off":  {Seams, func() Edit { return &seamedits.ShellOff{} }},
	"straighten": {Seams, func() Edit { return &seamedits.Straighten{} }},

	"likewise":   {Flow, func() Edit { return &flowedits.Likewise{} }},
	"flatten":    {Flow, func() Edit { return &flowedits.Flatten{} }},
	"relax":      {Flow, func() Edit { return &flowedits.Relax{} }},
	"nudge":      {Flow, func() Edit { return &flowedits.Nudge{} }},
	"pin":        {Flow, func() Edit { return &flowedits.Pin{} }},
	"fill":       {Flow, func() Edit { return &flowedits.Fill{} }},
	"refit":      {Flow, func() Edit { return &flowedits.Refit{} }},
	"true-up":    {Flow, func() Edit { return &flowedits.TrueUp{} }},
	"grain":      {Flow, func() Edit { return &flowedits.SetGrain{} }},
	"label":      {Flow, func() Edit { return &flowedits.SetLabel{} }},
	"orient":     {Flow, func() Edit { return &flowedits.Orient{} }},
	"snap":       {Flow, func() Edit { return &flowedits.Snap{} }},
	"carry-over": {Flow, func() Edit { return &flowedits.CarryOver{} }},

	"lanes":           {Sheet, func() Edit { return &sheetedits.Lanes{} }},
	"pack":            {Sheet, func() Edit { return &sheetedits.Pack{} }},
	"move":            {Sheet, func() Edit { return &sheetedits.Move{} }},
	"align":           {Sheet, func() Edit { return &sheetedits.Align{} }},
	"distribute":      {Sheet, func() Edit { return &sheetedits.Distribute{} }},
	"fit-into":        {Sheet, func() Edit { return &sheetedits.FitInto{} }},
	"to-raster":       {Sheet, func() Edit { return &sheetedits.ToRaster{} }},
	"to-rack":         {Sheet, func() Edit { return &sheetedits.ToRack{} }},
	"improve":         {Sheet, func() Edit { return &sheetedits.Improve{} }},
	"arrange":         {Sheet, func() Edit { return &sheetedits.Arrange{} }},
	"set-apart":       {Sheet, func() Edit { return &sheetedits.SetApart{} }},
	"stack":           {Sheet, func() Edit { return &sheetedits.Stack{} }},
	"unstack":         {Sheet, func() Edit { return &sheetedits.Unstack{} }},
	"offset-stack":    {Sheet, func() Edit { return &sheetedits.OffsetStack{} }},
	"density":         {Sheet, func() Edit { return &sheetedits.Density{} }},
	"lock-shells":     {Sheet, func() Edit { return &sheetedits.Lock{} }},
	"weigh-faces":     {Sheet, func() Edit { return &sheetedits.WeighFaces{} }},
	"clear":           {Sheet, func() Edit { return &sheetedits.Clear{} }},
	"set-sheet":       {Sheet, func() Edit { return &sheetedits.SetSheet{} }},
	"settings":        {Sheet, func() Edit { return &sheetedits.Set{} }},
	"give-to-repeats": {Sheet, func() Edit { return &sheetedits.GiveToRepeats{} }},
	"follow-mirror":   {Sheet, func() Edit { return &sheetedits.FollowMirror{} }},

	"make-map":       {Sheet, func() Edit { return &mapedits.Make{} }},
	"set-map":        {Sheet, func() Edit { return &mapedits.Set{} }},
	"seal-map":       {Sheet, func() Edit { return &mapedits.Seal{} }},
	"unseal-map":     {Sheet, func() Edit { return &mapedits.Unseal{} }},
	"remove-map":     {Sheet, func() Edit { return &mapedits.Remove{} }},
	"carry-map":      {Sheet, func() Edit { return &mapedits.Carry{} }},
	"carry-wishes":   {Sheet, func() Edit { return &mapedits.Wishes{} }},
	"adopt-practice": {Sheet, func() Edit { return &mapedits.Adopt{} }},
	"copy-shells":    {Sheet, func() Edit { return &mapedits.Copy{} }},

	"accept":        {Proof, func() Edit { return &proofedits.Accept{} }},
	"mark-findings": {Proof, func() Edit { return &proofedits.Mark{} }},
	"sign":          {Proof, func() Edit { return &proofedits.Sign{} }},

	"by-halves": {Flow, func() Edit { return &ByHalves{} }}, // of whatever it holds
}

// StationOf is the station of an edit.
func StationOf(e Edit) Station { return kinds[e.Kind()].station }

// Kinds lists what all edits are called in JSON, in order.
func Kinds() []string { return slices.Sorted(maps.Keys(kinds)) }
