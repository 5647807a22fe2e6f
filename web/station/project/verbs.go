package project

import "morvek/web/verbs"

var table = []verbs.Verb{
	{Name: "lay", Says: "Lay it so", Takes: verbs.Begun, What: "Lays the faces by the projection that is set up."},
	{Name: "settings", Says: "Axis, up, centre …", Takes: verbs.Begun, Key: "A", Form: true, What: "Where the projection stands in space."},
	{Name: "lay-jig", Says: "Lay by a jig …", Takes: verbs.Parts, Key: "J", Form: true, What: "The picked faces, or the part, get the real size and the up of a jig; courses meet at corners."},
	{Name: "keep-jig", Says: "Keep as a jig …", Takes: verbs.Begun, Form: true, What: "Keeps the projection that is set up under a name, for all models of the project."},
	{Name: "clear-these", Says: "Clear its map", Takes: verbs.Parts, Needs: []verbs.Need{verbs.Mapped}, What: "Takes the map off the picked faces, else off the chosen part."},
}
