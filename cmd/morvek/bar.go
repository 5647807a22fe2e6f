package main

import (
	"fmt"
	"io"
	"os"
	"strings"
	"time"
)

// bar shows progress on stderr: a bar on a terminal, a line a station otherwise.
type bar struct {
	w        io.Writer
	terminal bool
	start    time.Time
	last     time.Time
	station  string
}

func newBar(w io.Writer, quiet bool) *bar {
	b := &bar{w: w, start: time.Now()}
	if quiet {
		b.w = io.Discard
	}
	if f, ok := w.(*os.File); ok {
		if info, err := f.Stat(); err == nil {
			b.terminal = info.Mode()&os.ModeCharDevice != 0
		}
	}
	return b
}

func (b *bar) update(station string, done float64) {
	now := time.Now()
	elapsed := now.Sub(b.start).Seconds()
	if !b.terminal {
		if station != b.station {
			fmt.Fprintf(b.w, "%6.1f s  %3.0f %%  %s\n", elapsed, 100*done, station)
		}
		b.station = station
		return
	}
	if now.Sub(b.last) < 50*time.Millisecond && station == b.station {
		return
	}
	b.last, b.station = now, station
	n := int(30 * done)
	fmt.Fprintf(b.w, "\r%s%s %3.0f %%  %-6s %6.1f s ", strings.Repeat("█", n), strings.Repeat("░", 30-n), 100*done, station, elapsed)
}

func (b *bar) finish() {
	if b.terminal {
		fmt.Fprint(b.w, "\r"+strings.Repeat(" ", 60)+"\r")
	}
}
