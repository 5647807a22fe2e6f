package web_test

import (
	"encoding/json"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"morvek/core/report"
	"morvek/web"
)

// floors are the rooms from the ground up: one needs those of lower floors only. Stations know
// neither each other nor the bench they stand on.
var floors = [][]string{
	{"web/wire", "web/desk", "web/verbs", "web/ops"}, {"web/gate"},
	{"web/station", "web/help", "web/pages", "web/signin", "web/api", "web/paintshop", "web/compare"},
	{"web/station/parts", "web/station/project", "web/station/seams", "web/station/flow", "web/station/sheet", "web/station/proof", "web/bench"},
	{"web"}, {"web/wire/gen", "web/verbs/gen"},
}

func TestRoomsNeedLowerOnesOnly(t *testing.T) {
	floor := map[string]int{}
	for i, rooms := range floors {
		for _, r := range rooms {
			floor["morvek/"+r] = i
		}
	}
	out, err := exec.Command("go", "list", "-json=ImportPath,Imports", "./...").Output()
	if err != nil {
		t.Fatal(err)
	}
	rooms := 0
	for d := json.NewDecoder(strings.NewReader(string(out))); d.More(); rooms++ {
		var p struct {
			ImportPath string
			Imports    []string
		}
		if err := d.Decode(&p); err != nil {
			t.Fatal(err)
		}
		at, known := floor[p.ImportPath]
		if !known {
			t.Errorf("%s stands on no floor", p.ImportPath)
		}
		for _, i := range p.Imports {
			if f, ours := floor[i]; ours && f >= at {
				t.Errorf("%s needs %s, which is not below it", p.ImportPath, i)
			}
		}
	}
	if rooms < len(floor) {
		t.Errorf("%d rooms, %d have a floor", rooms, len(floor))
	}
}

// Every column of the card is a station, which has a tray with and without a part.
func TestEveryStationHasATray(t *testing.T) {
	doc := lamp(t)
	apply(t, doc, ask[meta](t, "GET", doc+"/meta", nil).Revision, edit("recognise", map[string]any{}))
	var names []string
	for _, s := range web.Stations {
		names = append(names, s.Name)
		for part, says := range map[string]string{"-1": "whole model", "0": "glass wall", "9999": "whole model"} {
			code, b := call(t, "GET", doc+"/tray?station="+s.Name+"&part="+part, nil)
			if text := string(b); code != 200 || !strings.Contains(text, "<h2>"+s.Name+"</h2>") || !strings.Contains(text, says) || strings.Count(text, "<div") != strings.Count(text, "</div>") {
				t.Errorf("%s, part %s: %d %s", s.Name, part, code, text)
			}
		}
	}
	if !slices.Equal(names, report.Stations[:]) {
		t.Errorf("stations are %v, columns %v", names, report.Stations)
	}
}
