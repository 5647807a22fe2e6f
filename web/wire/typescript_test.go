package wire_test

import (
	"bytes"
	"os"
	"testing"

	"morvek/web/wire"
)

// The types of the bench are those of the server: whoever changes a message runs go generate.
func TestTheTypesOfTheBenchAreWritten(t *testing.T) {
	var want bytes.Buffer
	if err := wire.TypeScript(&want); err != nil {
		t.Fatal(err)
	}
	got, err := os.ReadFile("wire.ts")
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(got, want.Bytes()) {
		t.Error("web/wire/wire.ts is out of date; run go generate ./web/wire")
	}
}
