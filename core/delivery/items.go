package delivery

import (
	"strings"

	"morvek/core/meshio"
	"morvek/core/template"
)

// Item is something that can be delivered.
type Item struct {
	Name  string // as it is ordered: glb, template.svg, mask.part
	Of    string // meshes, templates, masks, bakes or tables
	Says  string // in words
	Keeps string // what of the model comes through, of meshes

	write func(p *packing) error
}

// Items are all of them, as a dialog lists them.
func Items() (all []Item) {
	for _, f := range meshio.Formats {
		if f.Write != nil {
			all = append(all, Item{strings.TrimPrefix(f.Extensions[0], "."), "meshes", f.Name + " (" + f.Extensions[0] + ")", f.Keeps, func(p *packing) error { return p.mesh(f) }})
		}
	}
	for _, t := range template.Formats {
		all = append(all, Item{"template" + t.Extension, "templates", t.Says + " (" + t.Extension + ")", "", func(p *packing) error { return p.template(t.Extension) }})
	}
	for _, o := range owners {
		all = append(all, Item{"mask." + o.name, "masks", "by " + o.name, "", func(p *packing) error { return p.masks(o) }})
	}
	return append(all,
		Item{"bake.normals", "bakes", "normals, in model space", "", (*packing).normals},
		Item{"bake.exposure", "bakes", "exposure, white open", "", (*packing).exposure},
		Item{"report.json", "tables", "report (.json)", "", (*packing).report},
		Item{"report.csv", "tables", "parts, shells and findings (.csv)", "", (*packing).tables})
}

// Names lists what can be ordered.
func Names() string {
	var all []string
	for _, i := range Items() {
		all = append(all, i.Name)
	}
	return strings.Join(all, ", ")
}
