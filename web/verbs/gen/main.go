// Command gen writes the tables of verbs for the browser.
package main

import (
	"bytes"
	"log"
	"os"

	"morvek/web"
)

func main() {
	var b bytes.Buffer
	if err := web.Verbs.TypeScript(&b); err != nil {
		log.Fatal(err)
	}
	if err := os.WriteFile("verbs.ts", b.Bytes(), 0o644); err != nil {
		log.Fatal(err)
	}
}
