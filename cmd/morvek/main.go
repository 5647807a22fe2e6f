// Command morvek maps textures onto hard-surface models: from the command
// line, and as a web application.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"runtime/debug"
	"slices"
	"syscall"
	"time"

	"morvek/core/parallel"
)

// Exit codes of the command line.
const (
	exitDone     = 0
	exitFindings = 1 // done and written, but a painter would send it back
	exitUsage    = 2
	exitRefused  = 3 // the input cannot be read
	exitFailed   = 4 // nothing written for another reason
)

const usage = `morvek maps textures onto hard-surface models.

  morvek run   IN [-o OUT] [--report R.json] [--template T.svg|T.png] …   the whole job
  morvek parts IN [--report R.json]     recognise parts only
  morvek proof IN [--report R.json]     measure the map a file already has
  morvek demo                           the application with demo data and its own database
  morvek serve | work | migrate         the application on a database of yours
  morvek invite                         a link for the first who signs in there
  morvek backup -o FILE | restore FILE  all that is in that database, to a file and back
  morvek model NAME [-o OUT.obj]        write a demo model

morvek COMMAND -h lists the flags of a command.
`

// command is one verb of the command line; it returns the exit code.
type command func(ctx context.Context, args []string, stdout, stderr io.Writer) (int, error)

var commands = map[string]command{
	"run": runJob, "parts": runParts, "proof": runProof, "model": runModel,
}

func main() {
	if os.Getenv("GOGC") == "" { // memory is there to be used: what is thrown away is sought half as often
		debug.SetGCPercent(200)
	}
	// Its stop is never called: on a busy machine leave would take that for a signal before the process is gone.
	ctx, _ := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
	if len(os.Args) > 1 && slices.Contains(atOnce, os.Args[1]) {
		go leave(ctx)
	}
	os.Exit(dispatch(ctx, os.Args[1:], os.Stdout, os.Stderr))
}

// atOnce are the commands that a signal ends at once, whatever they compute: they write
// beside their results and rename, so nothing half done is left.
var atOnce = []string{"run", "parts", "proof", "model"}

// leave ends the process soon after the context, if it has not ended by itself.
func leave(ctx context.Context) {
	<-ctx.Done()
	time.Sleep(120 * time.Millisecond)
	unfinished.removeAll()
	fmt.Fprintln(os.Stderr, "morvek: stopped; nothing more was written")
	os.Exit(exitFailed)
}

func dispatch(ctx context.Context, args []string, stdout, stderr io.Writer) int {
	if len(args) == 0 {
		fmt.Fprint(stderr, usage)
		return exitUsage
	}
	if args[0] == "-h" || args[0] == "--help" || args[0] == "help" {
		fmt.Fprint(stdout, usage)
		return exitDone
	}
	c, ok := commands[args[0]]
	if !ok {
		fmt.Fprintf(stderr, "morvek: there is no command %q\n\n%s", args[0], usage)
		return exitUsage
	}
	code := exitDone
	err := parallel.Catch(func() (err error) {
		code, err = c(ctx, args[1:], stdout, stderr)
		return err
	})
	if p := new(parallel.Panic); errors.As(err, &p) {
		code, err = exitFailed, fmt.Errorf("this is a fault in the program; nothing was written (%v)", p)
	}
	if err != nil {
		fmt.Fprintf(stderr, "morvek: %v\n", err)
		if code == exitDone {
			code = exitFailed
		}
		if errors.Is(err, context.Canceled) {
			code = exitFailed
		}
	}
	return code
}
