// Package gate lets requests in: it knows who is signed in, what each route asks of whoever calls it, and
// how much one may ask for.
package gate

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/alexedwards/scs/postgresstore"
	"github.com/alexedwards/scs/v2"
	"github.com/labstack/echo/v5"

	"morvek/people"
	"morvek/store"
	"morvek/web/desk"
)

// stays is how long somebody stays signed in, whatever he does.
const stays = 30 * 24 * time.Hour

// Gate knows who is signed in.
type Gate struct {
	desk     *desk.Desk
	sessions *scs.SessionManager
}

// New returns the gate of a desk whose people sign in. secure keeps the cookie to connections that nobody
// listens to.
func New(d *desk.Desk, secure bool) *Gate {
	m := scs.New()
	// Those that are over are forgotten with all else that is (store.Purge).
	m.Store, m.Lifetime, m.HashTokenInStore = postgresstore.NewWithCleanupInterval(d.Store.DB(), 0), stays, true
	m.Cookie.Name, m.Cookie.Secure, m.Cookie.HttpOnly, m.Cookie.SameSite, m.Cookie.Persist = "session", secure, true, http.SameSiteLaxMode, true
	if secure { // no other host of the same domain can set one of this name (RFC 6265bis)
		m.Cookie.Name = "__Host-session"
	}
	return &Gate{d, m}
}

// Guard finds out who asks, and refuses what he may not.
func (g *Gate) Guard(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if c.Path() == "" { // nothing answers there, whoever asks
			return next(c)
		}
		row, known := Table[c.Request().Method+" "+c.Path()]
		if !known {
			return echo.NewHTTPError(http.StatusForbidden, "nobody may do this")
		}
		if err := g.find(c); err != nil {
			return err
		}
		if err := g.may(c, row); err != nil {
			return err
		}
		return next(c)
	}
}

// find sits down who asks: by a token, or by the session of the browser.
func (g *Gate) find(c *echo.Context) error {
	ctx := c.Request().Context()
	if bearer, ok := strings.CutPrefix(c.Request().Header.Get("Authorization"), "Bearer "); ok {
		if !strings.HasPrefix(c.Path(), "/api/") {
			return echo.NewHTTPError(http.StatusUnauthorized, "tokens are for /api/v1; a browser signs in")
		}
		who, err := g.desk.People.With(ctx, bearer)
		if errors.Is(err, people.ErrUnknown) {
			return echo.NewHTTPError(http.StatusUnauthorized, "this token does not hold, or does not any more")
		}
		if err == nil {
			desk.Sit(c, who)
		}
		return err
	}
	token := ""
	if k, err := c.Cookie(g.sessions.Cookie.Name); err == nil {
		token = k.Value
	}
	ctx, err := g.sessions.Load(ctx, token)
	if err != nil {
		return err
	}
	c.SetRequest(c.Request().WithContext(ctx))
	id := g.sessions.GetInt64(ctx, "person")
	if id == 0 {
		return nil
	}
	who, err := g.desk.Store.Person(ctx, id)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return nil
	case err != nil:
		return err
	case who.LeftAt != nil || g.sessions.GetString(ctx, "password") != mark(who):
		return nil // the password was changed elsewhere, or he may not come in any more
	}
	desk.Sit(c, who)
	return nil
}

// mark changes with the password of somebody: sessions of an older one are over.
func mark(p store.Person) string {
	h := sha256.Sum256([]byte(p.Password))
	return hex.EncodeToString(h[:8])
}

// may refuses what a row of the table does not allow whoever asks.
func (g *Gate) may(c *echo.Context, row Row) error {
	if row.Right == people.Anyone {
		return nil
	}
	who, ok := desk.Seated(c)
	switch {
	case !ok:
		return desk.ErrSignIn
	case row.Right == people.Signed:
		return nil
	case row.Right == people.Steward:
		if !who.Steward {
			return echo.NewHTTPError(http.StatusForbidden, "only a steward of this installation may do that")
		}
		return nil
	}
	id, err := desk.ID(c)
	if err != nil {
		return err
	}
	return g.desk.AllowedOf(c, row.Right, row.Of, id)
}

// SignIn begins a session of somebody; the one before is over.
func (g *Gate) SignIn(c *echo.Context, who store.Person) error {
	ctx := c.Request().Context()
	if err := g.sessions.RenewToken(ctx); err != nil {
		return err
	}
	g.sessions.Put(ctx, "person", who.ID)
	g.sessions.Put(ctx, "password", mark(who))
	token, expiry, err := g.sessions.Commit(ctx)
	if err != nil {
		return err
	}
	g.sessions.WriteSessionCookie(ctx, c.Response(), token, expiry)
	return nil
}

// SignOut ends the session of whoever asks.
func (g *Gate) SignOut(c *echo.Context) error {
	ctx := c.Request().Context()
	if err := g.sessions.Destroy(ctx); err != nil {
		return err
	}
	g.sessions.WriteSessionCookie(ctx, c.Response(), "", time.Time{})
	return nil
}

// SignInPage is where somebody signs in who asked for something.
func SignInPage(asked *url.URL) string {
	to := "/sign-in"
	if p := asked.RequestURI(); asked.Path != "/" && asked.Path != "" {
		to += "?" + url.Values{"to": {p}}.Encode()
	}
	return to
}

// Within is an address of ours that somebody wants to go on to, "/" where it is none.
func Within(to string) string {
	u, err := url.Parse(to)
	if err != nil || u.Host != "" || u.Scheme != "" || !strings.HasPrefix(u.Path, "/") || strings.HasPrefix(u.Path, "//") || strings.ContainsAny(to, "\\\r\n\t") {
		return "/"
	}
	return u.RequestURI()
}
