package gate

import (
	"net/http"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/web/desk"
)

// Bounds are how much one may ask for: whoever is signed in, else whoever comes from one address.
type Bounds struct {
	Every   time.Duration // a request
	Burst   int           // so many at once after a rest
	Streams int           // that are open at a time
}

// Usual is more than a page ever asks for, and less than a program that runs wild.
var Usual = Bounds{Every: 10 * time.Millisecond, Burst: 600, Streams: 40}

// streaming tells whether a route answers for as long as somebody listens.
func streaming(route string) bool {
	return strings.HasSuffix(route, "/events") || strings.HasSuffix(route, "/live") || strings.HasSuffix(route, "/outlook")
}

// IsStream tells whether a request is answered for as long as somebody listens.
func IsStream(c *echo.Context) bool { return streaming(c.Path()) }

// Limit refuses what goes beyond bounds, in calm words.
func Limit(b Bounds) echo.MiddlewareFunc {
	requests := people.NewThrottle(b.Every, b.Burst)
	var mu sync.Mutex
	open := map[string]int{}
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			who := asking(c)
			if c.Path() != "/static/*" && !requests.Allow(who) {
				c.Response().Header().Set("Retry-After", "5")
				return echo.NewHTTPError(http.StatusTooManyRequests, "that is more than can be answered; wait a few seconds and go on")
			}
			if !streaming(c.Path()) {
				return next(c)
			}
			mu.Lock()
			full := open[who] >= b.Streams
			if !full {
				open[who]++
			}
			mu.Unlock()
			if full {
				c.Response().Header().Set("Retry-After", "30")
				return echo.NewHTTPError(http.StatusTooManyRequests, "too many pages of yours listen at a time; close some")
			}
			defer func() {
				mu.Lock()
				defer mu.Unlock()
				if open[who]--; open[who] == 0 {
					delete(open, who)
				}
			}()
			return next(c)
		}
	}
}

// asking is whose bounds count for a request.
func asking(c *echo.Context) string {
	if p, ok := desk.Seated(c); ok {
		return "person " + strconv.FormatInt(p.ID, 10)
	}
	return c.RealIP()
}
