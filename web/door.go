package web

import (
	"net"
	"net/http"
	"slices"
	"strings"

	"github.com/labstack/echo/v5"

	"morvek/core/parallel"
)

// secure forbids every request that would leave this machine.
func secure(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=(), payment=(), usb=()")
		if c.Request().TLS != nil || c.Scheme() == "https" {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		h.Set("Referrer-Policy", "same-origin")
		return next(c)
	}
}

// ourHosts refuses requests under a name we are not served as: a page elsewhere can make
// a name of its own lead here (DNS rebinding) and would pass as the same origin. An
// address cannot be made to lead elsewhere, so those are let in.
func ourHosts(names []string) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			if !ourHost(c.Request().Host, names) {
				return echo.NewHTTPError(http.StatusMisdirectedRequest, "Morvek is not served under this name; open it by its address, or start it with -hosts")
			}
			return next(c)
		}
	}
}

func ourHost(host string, names []string) bool {
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	host = strings.ToLower(strings.TrimSuffix(host, "."))
	return host == "localhost" || net.ParseIP(strings.Trim(host, "[]")) != nil || slices.Contains(names, host)
}

// sameOrigin refuses changes asked for by pages of another origin, and that those have anything computed:
// from elsewhere a link leads to a page, and nothing else is answered.
func sameOrigin() echo.MiddlewareFunc {
	protection := http.NewCrossOriginProtection()
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			h := c.Request().Header
			from := h.Get("Sec-Fetch-Site")
			elsewhere := (from == "cross-site" || from == "same-site") && (h.Get("Sec-Fetch-Mode") != "navigate" || h.Get("Sec-Fetch-Dest") != "document")
			if elsewhere || protection.Check(c.Request()) != nil {
				return echo.NewHTTPError(http.StatusForbidden, "this request comes from another site")
			}
			return next(c)
		}
	}
}

// whole makes an error of a panic, and of a request that was cut off before it had an
// answer: neither may look as if all was well.
func whole(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		err := parallel.Catch(func() error { return next(c) })
		if err == nil && !committed(c) {
			err = c.Request().Context().Err()
		}
		return err
	}
}
