package gate

import (
	"morvek/people"
	"morvek/store"
)

// Row is what a route asks of whoever calls it: a right, in the project of a thing whose number is :id.
type Row struct {
	Right people.Right
	Of    store.Thing
}

// Table has a row for every route; one without is closed to everybody.
var Table = map[string]Row{}

func init() {
	for of, rights := range map[store.Thing]map[people.Right][]string{
		"": {
			people.Anyone: {
				"GET /static/*", "GET /healthz", "GET /readyz", "GET /help", "GET /help/keys", "GET /help/first", "GET /help/pictures/:name",
				"GET /practice/schema.json", "GET /api/v1/openapi.json",
				"GET /sign-in", "POST /sign-in", "GET /invitations/:secret", "POST /invitations/:secret",
			},
			people.Signed: {
				"GET /", "GET /projects", "POST /projects", "POST /documents", "POST /practice", "POST /sign-out", "GET /you", "POST /you",
				"GET /api/v1/edits", "GET /api/v1/documents", "POST /api/v1/models",
			},
			people.Steward: {"GET /people", "POST /people", "GET /paintshop", "POST /paintshop/:sheet/paint", "GET /paintshop/:sheet/:picture"},
		},
		store.AProject: {
			people.View:   {"GET /projects/:id"},
			people.Change: {"POST /projects/:id"}, // what only owners may do there is looked at when it is known what it is
			people.Own:    {"POST /projects/:id/people"},
		},
		store.AnUpload: {
			people.View:   {"GET /uploads/:id", "GET /api/v1/uploads/:id"},
			people.Change: {"POST /uploads/:id/forget"},
		},
		store.AWork: {
			people.View:   {"GET /works/:id/events", "GET /works/:id/delivery", "GET /api/v1/works/:id", "GET /api/v1/works/:id/delivery"},
			people.Change: {"POST /works/:id/cancel", "DELETE /api/v1/works/:id", "POST /works/:id/send"},
		},
		store.ADelivery: {people.View: {"GET /deliveries/:id"}},
		store.APicture:  {people.View: {"GET /pictures/:id"}},
		store.ACloth:    {people.View: {"GET /cloths/:id"}},
		store.ADocument: {
			people.View: {
				"GET /documents/:id", "GET /documents/:id/mesh.bin", "GET /documents/:id/layout.bin", "GET /documents/:id/meta", "GET /documents/:id/card",
				"GET /documents/:id/tray", "GET /documents/:id/maps", "GET /documents/:id/worklog", "GET /documents/:id/events", "GET /documents/:id/exposure.bin",
				"GET /documents/:id/images.bin", "GET /documents/:id/field", "GET /documents/:id/cover/:of", "GET /documents/:id/state", "GET /documents/:id/deliver/:file",
				"GET /documents/:id/deliveries", "GET /documents/:id/cloths", "GET /documents/:id/report", "GET /documents/:id/report.pdf", "GET /documents/:id/practice",
				"GET /documents/:id/painted", "GET /documents/:id/arrival", "GET /documents/:id/arrival/faces", "GET /documents/:id/arrival/weld",
				"GET /documents/:id/compare", "GET /documents/:id/compare.bin", "GET /documents/:id/revision", "GET /documents/:id/revision/outlook",
				"GET /documents/:id/jigs", "GET /documents/:id/suggestions", "GET /documents/:id/need",
				// Computed, not changed.
				"POST /documents/:id/pick", "POST /documents/:id/pick-edges", "POST /documents/:id/ghost", "POST /documents/:id/live", "POST /documents/:id/exposure",
				"POST /documents/:id/projections", "POST /documents/:id/flattenings", "POST /documents/:id/deliveries",
				"GET /api/v1/documents/:id", "GET /api/v1/documents/:id/report", "GET /api/v1/documents/:id/model/:file", "GET /api/v1/documents/:id/pictures",
				"POST /api/v1/documents/:id/previews", "POST /api/v1/documents/:id/revisions/preview", "POST /api/v1/documents/:id/deliveries",
			},
			people.Change: {
				"POST /documents/:id/edits", "POST /documents/:id/undo", "POST /documents/:id/redo", "POST /documents/:id/run", "POST /documents/:id/moments",
				"DELETE /documents/:id/moments/:moment", "POST /documents/:id/go-back", "POST /documents/:id/shelf", "POST /documents/:id/cloths", "DELETE /documents/:id/cloths/:cloth",
				"POST /documents/:id/painted", "DELETE /documents/:id/painted/:picture", "POST /documents/:id/arrival", "POST /documents/:id/revision",
				"POST /documents/:id/jigs", "POST /documents/:id/jigs/:jig", "DELETE /documents/:id/jigs/:jig",
				"POST /api/v1/documents/:id/run", "POST /api/v1/documents/:id/edits", "POST /api/v1/documents/:id/undo", "POST /api/v1/documents/:id/redo",
				"POST /api/v1/documents/:id/revisions", "POST /api/v1/documents/:id/pictures",
			},
			people.Own: {"POST /documents/:id/end-history"},
		},
	} {
		for right, routes := range rights {
			for _, r := range routes {
				Table[r] = Row{right, of}
			}
		}
	}
}
