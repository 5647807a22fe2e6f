package api_test

import (
	"encoding/json"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/labstack/echo/v5"

	"morvek/core/delivery"
	"morvek/web/api"
	"morvek/web/desk"
)

// The description has every route there is, and no other; what it refers to is there.
func TestTheDescriptionHasAllRoutes(t *testing.T) {
	e := echo.New()
	(&api.API{Desk: &desk.Desk{}}).Routes(e)
	var there []string
	for _, r := range e.Router().Routes() {
		path := regexp.MustCompile(`:(\w+)`).ReplaceAllString(strings.TrimPrefix(r.Path, api.Root), "{$1}")
		there = append(there, strings.ToLower(r.Method)+" "+path)
	}
	var spec struct {
		Paths      map[string]map[string]json.RawMessage
		Components struct{ Schemas map[string]json.RawMessage }
	}
	if err := json.Unmarshal(api.OpenAPI, &spec); err != nil {
		t.Fatal(err)
	}
	var said []string
	for p, ops := range spec.Paths {
		for m := range ops {
			said = append(said, m+" "+p)
		}
	}
	slices.Sort(there)
	slices.Sort(said)
	if !slices.Equal(there, said) {
		t.Errorf("routes are\n%s\ndescribed are\n%s", strings.Join(there, "\n"), strings.Join(said, "\n"))
	}
	for _, m := range regexp.MustCompile(`#/components/schemas/(\w+)`).FindAllSubmatch(api.OpenAPI, -1) {
		if spec.Components.Schemas[string(m[1])] == nil {
			t.Errorf("there is no %s", m[1])
		}
	}
	for _, i := range delivery.Items() {
		if !strings.Contains(string(spec.Components.Schemas["Order"]), i.Name) {
			t.Errorf("orders do not name %s", i.Name)
		}
	}
}

// The document with the examples has some of each kind of request.
func TestExamplesSpeakOfThisVersion(t *testing.T) {
	text, err := os.ReadFile(filepath.Join("..", "..", "docs", "api.md"))
	if err != nil {
		t.Fatal(err)
	}
	if n := strings.Count(string(text), `"$MORVEK`+api.Root); n < 10 {
		t.Errorf("%d examples ask %s", n, api.Root)
	}
}
