package workspace_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"testing"

	"morvek/core/edit/partedits"
	"morvek/store"
	"morvek/workspace"
)

// Every state of a worklog is seen again, whichever of them is stored whole, and what was undone is
// none of them.
func TestADocumentAsItWas(t *testing.T) {
	ctx := context.Background()
	docs := workspace.New(db, 0)
	o := mapped(t, docs)
	id, begun := o.Row.ID, o.Row.Head
	states := [][]byte{stateOf(t, o, nil)}
	var err error
	for i := range 30 { // a state is stored on the way
		if o, err = docs.Apply(ctx, workspace.First(id), o.Row.Revision, store.By{}, &partedits.Rename{Part: 0, Name: fmt.Sprintf("lid %d", i)}); err != nil {
			t.Fatal(err)
		}
		states = append(states, stateOf(t, o, nil))
	}
	docs.Close()
	for _, d := range []*workspace.Documents{docs, workspace.New(db, 0)} {
		for i, want := range states {
			for range 2 { // rebuilt, and held
				was, err := d.At(ctx, workspace.First(id), begun+i)
				if !bytes.Equal(stateOf(t, was, err), want) || was.Row.Head != begun+i {
					t.Fatalf("after %d edits it was another state", begun+i)
				}
			}
		}
	}
	came, err := docs.At(ctx, workspace.First(id), 0)
	if err != nil || came.Doc.State.Map.AnyMapped() {
		t.Errorf("as it came it is mapped: %v", err)
	}
	back, err := docs.Step(ctx, id, o.Row.Revision, "", true)
	if err != nil {
		t.Fatal(err)
	}
	if now, err := docs.At(ctx, workspace.First(id), store.Now); !bytes.Equal(stateOf(t, now, err), stateOf(t, back, nil)) {
		t.Error("now is not what it is")
	}
	for _, seq := range []int{o.Row.Head, -2} {
		if _, err := docs.At(ctx, workspace.First(id), seq); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("after %d edits: %v", seq, err)
		}
	}
	if _, err := docs.At(ctx, workspace.Ref{Document: id, Map: 7}, 1); !errors.Is(err, workspace.ErrNoMap) {
		t.Errorf("a map that was not there: %v", err)
	}
	other, err := docs.Apply(ctx, workspace.First(id), back.Row.Revision, store.By{}, &partedits.Rename{Part: 0, Name: "cover"})
	if err != nil {
		t.Fatal(err)
	}
	if was, err := docs.At(ctx, workspace.First(id), other.Row.Head); !bytes.Equal(stateOf(t, was, err), stateOf(t, other, nil)) {
		t.Error("an edit that took the place of one that was undone is not seen")
	}
}
