package people_test

import (
	"context"
	"errors"
	"os"
	"strings"
	"sync"
	"testing"

	"morvek/people"
	"morvek/people/password"
	"morvek/store"
	"morvek/store/storetest"
)

var (
	db  *store.Store
	who *people.People
)

// cheap passwords keep tests quick; what is stored says what it cost.
var cheap = password.Cost{Memory: 64, Time: 1, Lanes: 1}

func TestMain(m *testing.M) {
	os.Exit(storetest.Run(func(s *store.Store, _ string) (int, error) {
		var err error
		if db = s; err == nil {
			who, err = people.New(context.Background(), s, cheap)
		}
		if err != nil {
			return 0, err
		}
		return m.Run(), nil
	}))
}

// invited is somebody who came in by an invitation.
func invited(t *testing.T, name, password string, i store.Invitation) int64 {
	t.Helper()
	secret, err := who.Invite(context.Background(), i)
	if err != nil {
		t.Fatal(err)
	}
	id, err := who.Accept(context.Background(), secret, 0, name, password)
	if err != nil {
		t.Fatal(err)
	}
	return id
}

func TestSigningIn(t *testing.T) {
	ctx := context.Background()
	id := invited(t, "Isla Fenn", "a lamp in the storm", store.Invitation{})
	for _, c := range []struct {
		name, password string
		want           error
	}{
		{"Isla Fenn", "a lamp in the storm", nil},
		{" isla fenn ", "a lamp in the storm", nil},
		{"Isla Fenn", "a lamp in the Storm", people.ErrUnknown},
		{"Nobody", "a lamp in the storm", people.ErrUnknown},
		{"Isla Fenn", "", people.ErrUnknown},
		{"Isla\x00Fenn", "a lamp in the storm", people.ErrUnknown},
		{"\xff", "a lamp in the storm", people.ErrUnknown},
		{strings.Repeat("x", 1<<20), "a lamp in the storm", people.ErrUnknown},
		{"Isla Fenn ", strings.Repeat("x", 1<<20), people.ErrUnknown},
	} {
		p, err := who.SignIn(ctx, c.name, c.password, c.name+c.password)
		if !errors.Is(err, c.want) || err == nil && p.ID != id {
			t.Errorf("%.20q, %.20q: %v, person %d", c.name, c.password, err, p.ID)
		}
	}
	if err := db.Leave(ctx, id, true); err != nil {
		t.Fatal(err)
	}
	rested, err := people.New(ctx, db, cheap)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := rested.SignIn(ctx, "Isla Fenn", "a lamp in the storm", "x"); !errors.Is(err, people.ErrUnknown) {
		t.Errorf("who left came in: %v", err)
	}
}

// Guessing is stopped, by name and by place, and goes on to be possible for others.
func TestGuessingIsStopped(t *testing.T) {
	ctx := context.Background()
	p, err := people.New(ctx, db, cheap)
	if err != nil {
		t.Fatal(err)
	}
	invited(t, "Orla", "the tide is in at four", store.Invitation{})
	var stopped int
	for range 12 {
		if _, err := p.SignIn(ctx, "Orla", "a guess that is wrong", "here"); errors.Is(err, people.ErrTooOften) {
			stopped++
		}
	}
	if stopped != 7 {
		t.Errorf("%d of 12 guesses were stopped, want 7", stopped)
	}
	if _, err := p.SignIn(ctx, "ORLA", "the tide is in at four", "elsewhere"); !errors.Is(err, people.ErrTooOften) {
		t.Errorf("the same name from elsewhere: %v", err)
	}
	for range 30 {
		_, err = p.SignIn(ctx, strings.Repeat("n", stopped), "a guess that is wrong", "there")
		stopped++
	}
	if !errors.Is(err, people.ErrTooOften) {
		t.Errorf("30 names from one place: %v", err)
	}
}

// An invitation lets one in, however many open it at once.
func TestAnInvitationHoldsOnce(t *testing.T) {
	ctx := context.Background()
	project, err := db.CreateProject(ctx, "Harbour")
	if err != nil {
		t.Fatal(err)
	}
	role := store.Editor
	secret, err := who.Invite(ctx, store.Invitation{Project: &project, Role: &role, MadeBy: "a test"})
	if err != nil {
		t.Fatal(err)
	}
	var wait sync.WaitGroup
	errs := make([]error, 8)
	for i := range errs {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, errs[i] = who.Accept(ctx, secret, 0, "Guest "+string(rune('A'+i)), "a password of some length")
		}()
	}
	wait.Wait()
	in := 0
	for _, err := range errs {
		if err == nil {
			in++
		} else if !errors.Is(err, people.ErrOver) {
			t.Error(err)
		}
	}
	members, err := db.Members(ctx, project)
	if in != 1 || err != nil || len(members) != 1 || members[0].Role != store.Editor {
		t.Errorf("%d came in, members %+v, %v", in, members, err)
	}
	if _, err := who.Invitation(ctx, secret); !errors.Is(err, people.ErrOver) {
		t.Errorf("it still holds: %v", err)
	}
}

// What cannot be is said, and the link goes on to hold; a link for somebody who is in already gives the role,
// and takes none away.
func TestAnInvitationOutlivesMistakes(t *testing.T) {
	ctx := context.Background()
	project, err := db.CreateProject(ctx, "Quay")
	if err != nil {
		t.Fatal(err)
	}
	id := invited(t, "Rowan", "rope and tar and rope", store.Invitation{})
	role := store.Owner
	secret, err := who.Invite(ctx, store.Invitation{Project: &project, Role: &role})
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		name, password string
		want           error
	}{{"", "rope and tar and rope", people.ErrName}, {"a\nb", "rope and tar and rope", people.ErrName}, {"Wren", "short", password.ErrLength}, {"ROWAN", "rope and tar and rope", people.ErrTaken}} {
		if _, err := who.Accept(ctx, secret, 0, c.name, c.password); !errors.Is(err, c.want) {
			t.Errorf("%q, %q: %v", c.name, c.password, err)
		}
	}
	if got, err := who.Accept(ctx, secret, id, "", ""); err != nil || got != id {
		t.Fatalf("signed in: %d, %v", got, err)
	}
	viewer := store.Viewer
	if secret, err = who.Invite(ctx, store.Invitation{Project: &project, Role: &viewer}); err != nil {
		t.Fatal(err)
	}
	if _, err := who.Accept(ctx, secret, id, "", ""); err != nil {
		t.Fatal(err)
	}
	if r, err := db.RoleOf(ctx, id, project); err != nil || r != store.Owner {
		t.Errorf("an owner who accepts less is %q, %v", r, err)
	}
	if err := db.SetRole(ctx, project, id, store.Editor); !errors.Is(err, store.ErrLastOwner) {
		t.Errorf("a project without an owner: %v", err)
	}
	if err := db.SetRole(ctx, project, id, store.Nobody); !errors.Is(err, store.ErrLastOwner) {
		t.Errorf("a project without anybody: %v", err)
	}
}

// A project that nobody owns is the stewards', so that nothing gets lost.
func TestStewardsOwnWhatNobodyDoes(t *testing.T) {
	ctx := context.Background()
	steward := invited(t, "Maeve", "who keeps the keys here", store.Invitation{Steward: true})
	other := invited(t, "Tam", "who keeps no keys here", store.Invitation{})
	project, err := db.CreateProject(ctx, "Found")
	if err != nil {
		t.Fatal(err)
	}
	for id, want := range map[int64]store.Role{steward: store.Owner, other: store.Nobody} {
		roles, err := db.Roles(ctx, id)
		if err != nil || roles[project] != want {
			t.Errorf("person %d has %q among all, want %q, %v", id, roles[project], want, err)
		}
		if r, err := db.RoleOf(ctx, id, project); err != nil || r != want {
			t.Errorf("person %d is %q, want %q, %v", id, r, want, err)
		}
	}
	if err := db.SetRole(ctx, project, other, store.Viewer); err != nil {
		t.Errorf("somebody who looks at what nobody owns: %v", err)
	}
	if err := db.SetRole(ctx, project, other, store.Owner); err != nil {
		t.Fatal(err)
	}
	if r, _ := db.RoleOf(ctx, steward, project); r != store.Nobody {
		t.Errorf("owned by another, a steward is %q there", r)
	}
}

func TestTokensAndPasswords(t *testing.T) {
	ctx := context.Background()
	id := invited(t, "Ines", "the old password of Ines", store.Invitation{})
	token, err := who.NewToken(ctx, id, "nightly job")
	if err != nil || !strings.HasPrefix(token, "mvk_") {
		t.Fatal(token, err)
	}
	for range 2 { // noted as used, and again
		if p, err := who.With(ctx, token); err != nil || p.ID != id {
			t.Fatalf("%+v, %v", p, err)
		}
	}
	if _, err := who.With(ctx, token+"x"); !errors.Is(err, people.ErrUnknown) {
		t.Errorf("a token that was guessed: %v", err)
	}
	list, err := db.Tokens(ctx, id)
	if err != nil || len(list) != 1 || list[0].UsedAt == nil {
		t.Fatalf("%+v, %v", list, err)
	}
	if err := db.DropToken(ctx, id+1, list[0].ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("somebody else ended it: %v", err)
	}
	if err := db.DropToken(ctx, id, list[0].ID); err != nil {
		t.Fatal(err)
	}
	if _, err := who.With(ctx, token); !errors.Is(err, people.ErrUnknown) {
		t.Errorf("ended it still holds: %v", err)
	}
	p, err := db.Person(ctx, id)
	if err != nil {
		t.Fatal(err)
	}
	if err := who.ChangePassword(ctx, p, "not the old password", "a new password of Ines"); !errors.Is(err, people.ErrUnknown) {
		t.Errorf("without the old one: %v", err)
	}
	if err := who.ChangePassword(ctx, p, "the old password of Ines", "new"); !errors.Is(err, password.ErrLength) {
		t.Errorf("too short: %v", err)
	}
	if err := who.ChangePassword(ctx, p, "the old password of Ines", "a new password of Ines"); err != nil {
		t.Fatal(err)
	}
	if _, err := who.SignIn(ctx, "Ines", "a new password of Ines", "y"); err != nil {
		t.Error(err)
	}
	secret, err := who.Invite(ctx, store.Invitation{Person: &id})
	if err != nil {
		t.Fatal(err)
	}
	if got, err := who.Accept(ctx, secret, 0, "", "made anew for Ines"); err != nil || got != id {
		t.Fatal(got, err)
	}
	if _, err := who.SignIn(ctx, "Ines", "made anew for Ines", "z"); err != nil {
		t.Error(err)
	}
}
