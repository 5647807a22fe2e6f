// Command gen writes the types of web/wire for the bench.
package main

import (
	"bytes"
	"log"
	"os"

	"morvek/web/wire"
)

func main() {
	var b bytes.Buffer
	if err := wire.TypeScript(&b); err != nil {
		log.Fatal(err)
	}
	if err := os.WriteFile("wire.ts", b.Bytes(), 0o644); err != nil {
		log.Fatal(err)
	}
}
