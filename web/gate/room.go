package gate

import (
	"context"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
	"golang.org/x/sync/semaphore"

	"morvek/web/desk"
)

// Room is how much memory requests may take at a time, in bytes: who finds none waits for a while.
type Room struct {
	size    int64
	free    *semaphore.Weighted
	waiting chan struct{} // holds those who wait
	waits   time.Duration
}

// NewRoom has so many bytes; so many requests may wait for them, each for a while.
func NewRoom(bytes int64, waiting int, waits time.Duration) *Room {
	return &Room{bytes, semaphore.NewWeighted(bytes), make(chan struct{}, waiting), waits}
}

// errFull is the answer to who finds no room.
var errFull = echo.NewHTTPError(http.StatusServiceUnavailable, "many large things are asked for just now; nothing is lost, try again in a moment")

// Take waits for so many bytes, or for all there are, and returns what gives them back.
func (r *Room) Take(ctx context.Context, bytes int64) (release func(), err error) {
	bytes = min(max(bytes, 1), r.size)
	if !r.free.TryAcquire(bytes) {
		select {
		case r.waiting <- struct{}{}:
		default:
			return nil, errFull
		}
		defer func() { <-r.waiting }()
		patient, cancel := context.WithTimeout(ctx, r.waits)
		defer cancel()
		if r.free.Acquire(patient, bytes) != nil {
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			return nil, errFull
		}
	}
	return func() { r.free.Release(bytes) }, nil
}

// What answers take, in bytes per face of their document: blocks for the views; whatever computes on the
// whole model; all that is opened (rest). Measured as the largest heap of each over many.
const (
	perFaceBlock    = 150
	perFaceComputed = 600
	perFaceRest     = 60
)

// computed are the routes that compute on a whole model.
var computed = []string{"/ghost", "/live", "/outlook", "/projections", "/flattenings", "/suggestions", "/compare", "/compare.bin", "/revision", "/report", "/report.pdf",
	"/edits", "/undo", "/redo", "/go-back", "/arrival", "/arrival/faces", "/arrival/weld", "/previews", "/revisions/preview", "/need", "/field", "/images.bin"}

// block are those that hand out arrays of a number for each corner.
var block = []string{"/mesh.bin", "/layout.bin", "/exposure.bin", "/model/:file", "/deliver/:file"}

// perPixel is what a template takes for each of its pixels, in bytes: the picture and what it is written from.
const perPixel = 10

// perByte is what a body takes for each of its bytes, in bytes: as it came, and what it is read to.
const perByte = 4

// smallBody is the size up to which a body needs no room of its own, in bytes.
const smallBody = 256 << 10

// Spare takes room for what a request will need before it is answered. faces tells how many a document has.
func Spare(room *Room, faces func(context.Context, int64) (int, error)) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			need, err := needs(c, faces)
			if err != nil {
				return err
			}
			if need == 0 {
				return next(c)
			}
			release, err := room.Take(c.Request().Context(), need)
			if err != nil {
				c.Response().Header().Set("Retry-After", "5")
				return err
			}
			defer release()
			return next(c)
		}
	}
}

// needs is how many bytes a request will take, 0 for as good as none.
func needs(c *echo.Context, faces func(context.Context, int64) (int, error)) (bytes int64, err error) {
	r := c.Request()
	switch n := r.ContentLength; {
	case n > smallBody:
		bytes = perByte * n
	case n < 0 && r.Method != http.MethodGet: // it does not say
		bytes = 16 << 20
	}
	route := c.Path()
	if !strings.Contains(route, "/documents/:id") || strings.HasSuffix(route, "/events") || strings.Contains(route, "/cover/") {
		return bytes, nil
	}
	id, err := desk.ID(c)
	if err != nil {
		return 0, err
	}
	n, err := faces(r.Context(), id)
	if err != nil {
		return 0, err
	}
	per := int64(perFaceRest)
	switch {
	case ends(route, computed):
		per = perFaceComputed
	case ends(route, block):
		per = perFaceBlock
	}
	if bytes += per * int64(n); bytes < smallBody {
		bytes = 0
	}
	if px, err := strconv.ParseInt(c.QueryParam("size"), 10, 32); err == nil && px > 0 {
		bytes += perPixel * px * px
	}
	return bytes, nil
}

func ends(route string, with []string) bool {
	for _, w := range with {
		if strings.HasSuffix(route, w) {
			return true
		}
	}
	return false
}
