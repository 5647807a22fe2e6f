// Package people is who may do what: signing in with a name and a password, invitations and tokens, and
// the right that a role gives.
package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"morvek/people/password"
	"morvek/store"
)

// Right is what has to be allowed for something to be done.
type Right int

// The rights, each includes those before it. View, Change and Own are about a project.
const (
	Anyone  Right = iota // without signing in
	Signed               // whoever is signed in
	View                 // look at what is in a project
	Change               // change it
	Own                  // decide who may, and delete it
	Steward              // run the installation
)

// Gives is what a role allows in its project.
func Gives(r store.Role) Right {
	switch r {
	case store.Owner:
		return Own
	case store.Editor:
		return Change
	case store.Viewer:
		return View
	}
	return Signed
}

// Errors that say why somebody is not let in.
var (
	ErrUnknown  = errors.New("this name and this password do not belong together")
	ErrTooOften = errors.New("that was tried too often; wait a minute and try again")
	ErrOver     = errors.New("this link was used already or is over; ask for another one")
	ErrName     = errors.New("a name has 1 to 40 letters, all of one line")
	ErrTaken    = errors.New("somebody is called that already; choose another name")
)

// People lets people in.
type People struct {
	store  *store.Store
	cost   password.Cost
	nobody string // the hash of no password: trying it takes as long as that of somebody

	byName, byPlace *Throttle
}

// New returns the people of a store; cost is what a new password costs to try.
func New(ctx context.Context, s *store.Store, cost password.Cost) (*People, error) {
	var no [16]byte
	if _, err := rand.Read(no[:]); err != nil {
		return nil, err
	}
	nobody, err := password.Hash(ctx, string(no[:]), cost)
	if err != nil {
		return nil, err
	}
	return &People{store: s, cost: cost, nobody: nobody, byName: NewThrottle(12*time.Second, 5), byPlace: NewThrottle(3*time.Second, 20)}, nil
}

// SignIn returns the person of a name and a password; from is where the request comes from. ErrUnknown if
// they do not belong together, ErrTooOften if that was tried too often.
func (p *People) SignIn(ctx context.Context, name, word, from string) (store.Person, error) {
	name = strings.TrimSpace(name)
	if !p.byPlace.Allow(from) || !p.byName.Allow(strings.ToLower(name)) {
		return store.Person{}, ErrTooOften
	}
	if len(name) > 4*longestName || !utf8.ValidString(name) || len(word) > 4*password.Longest || strings.ContainsRune(name, 0) {
		return store.Person{}, ErrUnknown
	}
	who, err := p.store.PersonCalled(ctx, name)
	hash := who.Password
	switch {
	case errors.Is(err, store.ErrNotFound):
		hash = p.nobody // whether there is somebody of that name is not told by how long it takes
	case err != nil:
		return store.Person{}, err
	}
	ok, err := password.Fits(ctx, word, hash)
	switch {
	case err != nil:
		return store.Person{}, err
	case !ok || who.ID == 0 || who.LeftAt != nil:
		return store.Person{}, ErrUnknown
	}
	return who, nil
}

// ChangePassword gives a person who knows his password another one.
func (p *People) ChangePassword(ctx context.Context, who store.Person, old, word string) error {
	if err := password.Check(word); err != nil {
		return err
	}
	if !p.byName.Allow(strings.ToLower(who.Name)) {
		return ErrTooOften
	}
	if ok, err := password.Fits(ctx, old, who.Password); err != nil || !ok {
		return errors.Join(err, ErrUnknown)
	}
	hash, err := password.Hash(ctx, word, p.cost)
	if err != nil {
		return err
	}
	return p.store.SetPassword(ctx, who.ID, hash)
}

// InvitationHolds is how long a link lets somebody in.
const InvitationHolds = 7 * 24 * time.Hour

// Invite makes an invitation and returns what its link holds.
func (p *People) Invite(ctx context.Context, i store.Invitation) (secret string, err error) {
	secret, i.Hash, err = newSecret("")
	if err != nil {
		return "", err
	}
	i.ExpiresAt = time.Now().Add(InvitationHolds)
	return secret, p.store.Invite(ctx, i)
}

// Invitation returns what a link stands for; ErrOver if it does not hold any more.
func (p *People) Invitation(ctx context.Context, secret string) (store.Invitation, error) {
	i, err := p.store.Invitation(ctx, hashOf(secret))
	if errors.Is(err, store.ErrNotFound) {
		err = ErrOver
	}
	return i, err
}

// Accept uses an invitation up, for somebody who is signed in (his number) or who chooses a name and a
// password (0), and returns who that is.
func (p *People) Accept(ctx context.Context, secret string, signedIn int64, name, word string) (person int64, err error) {
	i, err := p.Invitation(ctx, secret)
	if err != nil {
		return 0, err
	}
	hash := ""
	if signedIn == 0 || i.Person != nil {
		if name = strings.TrimSpace(name); i.Person == nil {
			if err := checkName(name); err != nil {
				return 0, err
			}
		}
		if err := password.Check(word); err != nil {
			return 0, err
		}
		if hash, err = password.Hash(ctx, word, p.cost); err != nil {
			return 0, err
		}
	}
	person, err = p.store.Accept(ctx, hashOf(secret), signedIn, name, hash)
	switch {
	case errors.Is(err, store.ErrNotFound):
		err = ErrOver
	case errors.Is(err, store.ErrTaken):
		err = ErrTaken
	}
	return person, err
}

// tokenMark begins every token, so that one that got about is recognised.
const tokenMark = "mvk_"

// NewToken makes a token of a person and returns it; it is kept as a hash only.
func (p *People) NewToken(ctx context.Context, person int64, name string) (token string, err error) {
	if name = strings.TrimSpace(name); checkName(name) != nil {
		return "", ErrName
	}
	token, hash, err := newSecret(tokenMark)
	if err != nil {
		return "", err
	}
	return token, p.store.KeepToken(ctx, person, name, hash)
}

// With returns the person that a token stands for; ErrUnknown if it stands for none.
func (p *People) With(ctx context.Context, token string) (store.Person, error) {
	who, err := p.store.PersonWith(ctx, hashOf(token))
	if errors.Is(err, store.ErrNotFound) || err == nil && who.LeftAt != nil {
		return store.Person{}, ErrUnknown
	}
	return who, err
}

// longestName bounds names, in letters.
const longestName = 40

func checkName(name string) error {
	if n := utf8.RuneCountInString(name); n < 1 || n > longestName || !utf8.ValidString(name) || strings.ContainsFunc(name, unicode.IsControl) {
		return ErrName
	}
	return nil
}

// newSecret is 256 bits that nobody can guess, behind a mark, and the hash by which they are kept.
func newSecret(mark string) (secret string, hash []byte, err error) {
	b := make([]byte, 32)
	if _, err := rand.Read(b); err != nil {
		return "", nil, err
	}
	secret = mark + base64.RawURLEncoding.EncodeToString(b)
	return secret, hashOf(secret), nil
}

func hashOf(secret string) []byte {
	h := sha256.Sum256([]byte(secret))
	return h[:]
}

// Link is the way to where an invitation is accepted.
func Link(secret string) string { return fmt.Sprintf("/invitations/%s", secret) }
