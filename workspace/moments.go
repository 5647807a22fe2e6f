package workspace

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"morvek/core/document"
	"morvek/store"
)

// longestName bounds the name of a state, in letters.
const longestName = 60

// Name gives a state of a document a name, under which it is found again whatever is done.
func (d *Documents) Name(ctx context.Context, ref Ref, when When, name, who string) error {
	name = strings.TrimSpace(name)
	switch {
	case name == "":
		return document.Refuse("give this state a name")
	case utf8.RuneCountInString(name) > longestName || !utf8.ValidString(name) || strings.ContainsFunc(name, unicode.IsControl):
		return document.Refuse("a name has at most %d letters, all of one line", longestName)
	}
	was, err := d.Was(ctx, ref, when)
	if err != nil {
		return err
	}
	b, err := was.Doc.State.MarshalBinary()
	if err != nil {
		return err
	}
	m := store.Moment{Name: name, Map: int32(was.Doc.State.Shown.ID), Who: who}
	if when.Moment == 0 {
		m.Seq = &was.Row.Head
	}
	if _, err = d.store.KeepMoment(ctx, ref.Document, m, b); errors.Is(err, store.ErrTaken) {
		return document.Refuse("another state is called %s already", name)
	}
	return err
}

// GoBack makes a document what it was once, as an edit: what was done since can be had back by undoing
// it. says is what that state is called.
func (d *Documents) GoBack(ctx context.Context, to Ref, base int64, by store.By, when When, says string) (*Opened, error) {
	o, err := d.Through(ctx, to)
	if err != nil {
		return nil, err
	}
	if o.Row.Revision != base {
		return nil, store.ErrStale
	}
	was, err := d.Was(ctx, Ref{Document: to.Document}, when)
	if err != nil {
		return nil, err
	}
	if o, was, err = throughOne(o, was); err != nil {
		return nil, err
	}
	label := "go back to " + says
	delta := document.Diff(o.Doc.State, was.Doc.State)
	next, err := delta.Redo(o.Doc.State)
	if err != nil {
		return nil, err
	}
	if err := o.Doc.State.Heeds(next, label, nil); err != nil {
		return nil, err
	}
	b, err := delta.MarshalBinary()
	if err != nil {
		return nil, err
	}
	params, err := json.Marshal(when)
	if err != nil {
		return nil, err
	}
	return d.put(ctx, o, []store.Edit{{Kind: "go-back", Params: params, Map: int32(delta.At), Label: label, Delta: b, Who: by.Who, Key: by.Key}}, next, delta)
}

// throughOne shows two states of a document through a map that both have, that of the first if it can
// be.
func throughOne(a, b *Opened) (*Opened, *Opened, error) {
	for _, m := range append([]document.MapHead{a.Doc.State.Shown}, a.Doc.State.Maps()...) {
		if seen, err := b.Through(m.ID); err == nil {
			a, err := a.Through(m.ID)
			return a, seen, err
		}
	}
	return nil, nil, document.Refuse("none of the maps of that state is there any more; undo leads back to it")
}

// Says is what a state that was is called.
func (d *Documents) Says(ctx context.Context, document int64, when When) (string, error) {
	if when.Moment != 0 {
		return d.store.MomentName(ctx, document, when.Moment)
	}
	if when.Seq == 0 {
		return "what came in", nil
	}
	label, err := d.store.Label(ctx, document, when.Seq)
	return fmt.Sprintf("after %d: %s", when.Seq, label), err
}
