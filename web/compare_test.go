package web_test

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"morvek/core/mesh/meshtest"
)

// finishedCan brings in a can and does the whole job on it.
func finishedCan(t *testing.T, n int) (doc string, m meta) {
	t.Helper()
	doc = brought(t, "can.obj", meshtest.CanFile(n))
	work := ask[struct{ Work int64 }](t, "POST", doc+"/run", map[string]any{"base": 1}).Work
	if s := ended(t, work); s[len(s)-1].State != "done" {
		t.Fatalf("the job ended as %+v", s[len(s)-1])
	}
	return doc, ask[meta](t, "GET", doc+"/meta", nil)
}

// Two states are told by a page and a block, each is seen as it was, and what never was is not there.
func TestBeforeAndAfter(t *testing.T) {
	doc, m := finishedCan(t, 12)
	_, laid := call(t, "GET", doc+"/layout.bin", nil)
	m = apply(t, doc, m.Revision, edit("move", map[string]any{"faces": []int{0}, "shift": map[string]any{"X": 3}}))
	head := ask[struct{ Head int }](t, "GET", doc+"/meta", nil).Head
	if _, was := call(t, "GET", fmt.Sprintf("%s/layout.bin?seq=%d", doc, head-1), nil); !bytes.Equal(was, laid) {
		t.Error("the state before is another one")
	}
	if was := ask[meta](t, "GET", doc+"/meta?seq=0", nil); len(was.Shells) != 0 || len(was.Parts) != 1 {
		t.Errorf("as it came in it had %d shells, %d parts", len(was.Shells), len(was.Parts))
	}
	for query, want := range map[string][]string{
		fmt.Sprintf("?was=%d", head-1): {"<td>outside the sheet</td><td>0</td>", `class="worse"`, "lie otherwise", "after 1: recognise parts"},
		"":                             {"were laid on the sheet", `class="better"><td>faces not mapped</td><td>14</td><td>0`},
		fmt.Sprintf("?was=%d", head):   {"Nothing lies otherwise."},
		"?was=-1":                      {"Nothing lies otherwise."},
		"?wasmap=7":                    {"were laid on the sheet"}, // its first map then
	} {
		code, page := call(t, "GET", doc+"/compare"+query, nil)
		for _, w := range want {
			if code != http.StatusOK || !strings.Contains(string(page), w) {
				t.Errorf("%s: %d, without %q", query, code, w)
			}
		}
	}
	_, b := call(t, "GET", fmt.Sprintf("%s/compare.bin?was=%d", doc, head-1), nil)
	if !bytes.HasPrefix(b, []byte("MVC1")) || binary.LittleEndian.Uint32(b[8:]) != 14 || !bytes.Contains(b[12:26], []byte{1}) || !bytes.Contains(b[12:26], []byte{0}) {
		t.Errorf("the block of changes is %v", b)
	}
	other, _ := finishedCan(t, 20)
	if code, page := call(t, "GET", doc+"/compare?of="+strings.TrimPrefix(other, "/documents/"), nil); code != http.StatusOK || !strings.Contains(string(page), "with other faces") {
		t.Errorf("with another model: %d", code)
	}
	for _, path := range []string{"/compare?was=99", "/compare?is=x", "/compare?of=99999", "/compare?of=x", "/compare.bin?was=-3", "/meta?seq=99", "/layout.bin?seq=x"} {
		if code, b := call(t, "GET", doc+path, nil); code != http.StatusNotFound {
			t.Errorf("%s: %d %s", path, code, b)
		}
	}
}

// What a revision keeps is told before it is taken, and changes nothing; what it cannot be is said.
func TestARevisionIsForeseen(t *testing.T) {
	doc, _ := finishedCan(t, 12)
	of := strings.TrimPrefix(doc, "/documents/")
	taller := regexp.MustCompile(`(?m)^(v \S+) 2 `).ReplaceAll(meshtest.CanFile(12), []byte("$1 2.5 "))
	taller = append(taller, []byte("v 9 9 9\nv 10 9 9\nv 9 10 9\nf 25 26 27\n")...)
	next := brought(t, "can-b.obj", taller)
	if code, page := call(t, "GET", next+"/revision?of="+of, nil); code != http.StatusOK || !strings.Contains(string(page), "next revision of can") {
		t.Fatalf("the page: %d", code)
	}
	_, answer := call(t, "GET", next+"/revision/outlook?of="+of, nil)
	lines := strings.Split(strings.TrimSpace(string(answer)), "\n")
	var last struct {
		Outlook struct {
			After, Before string
			Faces         [4]int
			Part          []int
			Parts         []struct{ Faces [4]int }
		}
	}
	if err := json.Unmarshal([]byte(lines[len(lines)-1]), &last); err != nil || len(lines) < 3 {
		t.Fatalf("%v in %s", err, answer)
	}
	look := last.Outlook
	if look.Faces[0] != 1 || look.Faces[1] != 1 || look.Faces[2] != 13 || len(look.After) != 15 || len(look.Before) != 14 || len(look.Part) != 15 || strings.Count(look.After, "2") != 13 {
		t.Errorf("the bottom stays, the top moved, the wall and a scrap are new: %+v", look)
	}
	if head := ask[struct{ Head int }](t, "GET", next+"/meta", nil).Head; head != 0 {
		t.Errorf("%d edits were made", head)
	}
	url := ask[struct{ URL string }](t, "POST", next+"/revision?of="+of, map[string]any{}).URL
	if url != next {
		t.Errorf("it goes on at %s", url)
	}
	w, err := db.RunningWork(t.Context(), number(t, next))
	if err == nil {
		ended(t, w.ID)
	}
	if now := ask[meta](t, "GET", next+"/meta", nil); !strings.HasPrefix(now.LastEdit, "keep the map of the model before: 1 face as they were, 1 moved, 13 new") {
		t.Errorf("it was %q", now.LastEdit)
	}
	for path, want := range map[string]int{next + "/revision?of=" + of: http.StatusUnprocessableEntity, next + "/revision?of=x": http.StatusNotFound, next + "/revision": http.StatusNotFound, doc + "/revision?of=" + of: http.StatusNotFound} {
		if code, b := call(t, "GET", path, nil); code != want {
			t.Errorf("%s: %d %s", path, code, b)
		}
	}
	bare := brought(t, "bare.obj", meshtest.CanFile(9))
	if _, b := call(t, "GET", bare+"/revision/outlook?of="+of, nil); !strings.Contains(string(b), "nothing in common") {
		t.Errorf("of another model: %s", b)
	}
	if _, b := call(t, "GET", brought(t, "two.obj", taller)+"/revision/outlook?of="+strings.TrimPrefix(bare, "/documents/"), nil); !strings.Contains(string(b), "nothing on its map") {
		t.Errorf("of a model without a map: %s", b)
	}
}

func number(t *testing.T, doc string) (id int64) {
	t.Helper()
	if _, err := fmt.Sscanf(doc, "/documents/%d", &id); err != nil {
		t.Fatal(err)
	}
	return id
}
