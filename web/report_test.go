package web_test

import (
	"bytes"
	"net/http"
	"os/exec"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
)

// The report needs nothing beside itself and says what was measured, found and accepted; where a
// browser is there it is had as PDF.
func TestReportForPeople(t *testing.T) {
	doc := brought(t, "can.obj", meshtest.CanFile(12))
	m := ask[meta](t, "GET", doc+"/meta", nil)
	m = apply(t, doc, m.Revision, edit("recognise", map[string]any{}))
	_ = apply(t, doc, m.Revision, edit("accept", map[string]any{"findings": []any{map[string]any{"kind": "unmapped", "face": 0, "value": 14}}, "reason": "made <tomorrow>"}))
	code, page := call(t, "GET", doc+"/report", nil)
	if code != http.StatusOK {
		t.Fatalf("%d %s", code, page)
	}
	for _, want := range []string{"Measures", "faces not mapped", "made &lt;tomorrow&gt;", "1 accepted", "data:image/png;base64,", "What was done"} {
		if !strings.Contains(string(page), want) {
			t.Errorf("it does not say %q", want)
		}
	}
	if code, _ := call(t, "GET", doc+"/report?map=9", nil); code != http.StatusGone {
		t.Errorf("of a map there is not: %d", code)
	}
	code, pdf := call(t, "GET", doc+"/report.pdf", nil)
	if _, err := exec.LookPath("chromium"); err != nil {
		if code != http.StatusNotImplemented || !strings.Contains(string(pdf), "print it") {
			t.Errorf("without a browser: %d %s", code, pdf)
		}
	} else if code != http.StatusOK || !bytes.HasPrefix(pdf, []byte("%PDF")) {
		t.Errorf("as PDF: %d %.80s", code, pdf)
	}
}
