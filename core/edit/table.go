package edit

import (
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/projectedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
)

var kinds = map[string]func() Edit{
	"recognise": func() Edit { return &partedits.Recognise{} },
	"detail":    func() Edit { return &partedits.Detail{} },
	"split":     func() Edit { return &partedits.Split{} },
	"unite":     func() Edit { return &partedits.Unite{} },
	"open":      func() Edit { return &seamedits.Open{} },
	"attach":    func() Edit { return &seamedits.Attach{} },
	"cut":       func() Edit { return &seamedits.Cut{} },
	"close":     func() Edit { return &seamedits.Close{} },
	"flatten":   func() Edit { return &flowedits.Flatten{} },
	"dial":      func() Edit { return &seamedits.Dial{} },
	"lanes":     func() Edit { return &sheetedits.Lanes{} },
	"pack":      func() Edit { return &sheetedits.Pack{} },
	"move":      func() Edit { return &sheetedits.Move{} },
	"clear":     func() Edit { return &sheetedits.Clear{} },
	"rename":    func() Edit { return &partedits.Rename{} },
	"settings":  func() Edit { return &sheetedits.Set{} },

	"keep":       func() Edit { return &seamedits.Keep{} },
	"hold":       func() Edit { return &seamedits.Hold{} },
	"save-picks": func() Edit { return &seamedits.SavePicks{} },
	"view-from":  func() Edit { return &seamedits.ViewFrom{} },
	"join":       func() Edit { return &seamedits.Join{} },
	"join-group": func() Edit { return &seamedits.JoinGroup{} },
	"hand-over":  func() Edit { return &seamedits.HandOver{} },
	"shell-off":  func() Edit { return &seamedits.ShellOff{} },
	"straighten": func() Edit { return &seamedits.Straighten{} },

	"project": func() Edit { return &projectedits.Project{} },
	"relax":   func() Edit { return &flowedits.Relax{} },
	"nudge":   func() Edit { return &flowedits.Nudge{} },
	"pin":     func() Edit { return &flowedits.Pin{} },
	"fill":    func() Edit { return &flowedits.Fill{} },
	"true-up": func() Edit { return &flowedits.TrueUp{} },
	"grain":   func() Edit { return &flowedits.SetGrain{} },
	"label":   func() Edit { return &flowedits.SetLabel{} },
	"orient":  func() Edit { return &flowedits.Orient{} },

	"snap":       func() Edit { return &flowedits.Snap{} },
	"carry-over": func() Edit { return &flowedits.CarryOver{} },

	"merge":           func() Edit { return &partedits.Merge{} },
	"part-off":        func() Edit { return &partedits.PartOff{} },
	"assign":          func() Edit { return &partedits.Assign{} },
	"set-shape":       func() Edit { return &partedits.SetShape{} },
	"lock":            func() Edit { return &partedits.Lock{} },
	"weigh":           func() Edit { return &partedits.Weigh{} },
	"give-to-repeats": func() Edit { return &sheetedits.GiveToRepeats{} },
	"follow-mirror":   func() Edit { return &sheetedits.FollowMirror{} },
}
