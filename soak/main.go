// Command soak treats the application badly, on loopback and for a bounded time, and prints what came of it:
// processes killed at random, many people at once, more asked for than there is memory, hostile requests.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"os/signal"
	"strings"
	"time"
)

// row is a line of the table: what was done, what is asked, what came of it.
type row struct {
	What, Asked, Is string
	Held            bool
}

// trials are the ways to treat it, in order.
var trials = []struct {
	name string
	try  func(ctx context.Context, h *house, length time.Duration) ([]row, error)
}{{"kill", kill}, {"load", load}, {"bounds", bounds}, {"hostile", hostile}}

func main() {
	length := flag.Duration("for", time.Minute, "how long each trial takes, about")
	only := flag.String("only", "", "trials to make, with commas between; all without")
	binary := flag.String("binary", "bin/morvek", "the program")
	flag.Parse()
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt)
	defer stop()
	held := true
	fmt.Println("| what | asked | is | |\n| --- | --- | --- | --- |")
	for _, t := range trials {
		if *only != "" && !strings.Contains(","+*only+",", ","+t.name+",") {
			continue
		}
		rows, err := in(ctx, *binary, *length, t.try)
		for _, r := range rows {
			mark := "held"
			if !r.Held {
				mark, held = "**not held**", false
			}
			fmt.Printf("| %s | %s | %s | %s |\n", r.What, r.Asked, r.Is, mark)
		}
		if err != nil {
			fmt.Fprintf(os.Stderr, "soak: %s: %v\n", t.name, err)
			held = false
		}
	}
	if !held {
		stop()
		os.Exit(1) //nolint:gocritic // everything else is over
	}
}

func in(ctx context.Context, binary string, length time.Duration, try func(context.Context, *house, time.Duration) ([]row, error)) ([]row, error) {
	h, err := open(ctx, binary)
	if err != nil {
		return nil, err
	}
	defer h.close()
	return try(ctx, h, length)
}
