package password

import (
	"context"
	"strings"
	"testing"
)

func TestHashesSayWhatTheyCost(t *testing.T) {
	ctx := context.Background()
	a, err := Hash(ctx, "correct horse", Cost{64, 2, 1})
	if err != nil {
		t.Fatal(err)
	}
	b, _ := Hash(ctx, "correct horse", Cost{64, 2, 1})
	if a == b || !strings.HasPrefix(a, "$argon2id$v=19$m=64,t=2,p=1$") {
		t.Errorf("%s and %s", a, b)
	}
	for password, want := range map[string]bool{"correct horse": true, "correct horsf": false, "": false} {
		if ok, err := Fits(ctx, password, a); err != nil || ok != want {
			t.Errorf("%q: %v, %v", password, ok, err)
		}
	}
	// One that another program made: the library and its parameters are the standard ones.
	const known = "$argon2id$v=19$m=256,t=2,p=1$c29tZXNhbHQ$nf65EOgLrQMR/uIPnA4rEsF5h7TKyQwu9U1bMCHGi/4"
	if ok, err := Fits(ctx, "password", known); err != nil || !ok {
		t.Errorf("a hash of the reference implementation: %v, %v", ok, err)
	}
}

// Hashes come from the database: whatever stands there, nothing breaks and nothing takes all memory.
func FuzzHash(f *testing.F) {
	f.Add("$argon2id$v=19$m=64,t=1,p=1$c29tZXNhbHQ$nf65EOgLrQMR/uIPnA4rEsF5h7TKyQwu9U1bMCHGi/4")
	f.Add("$argon2id$v=19$m=4294967295,t=1,p=1$c29tZXNhbHQ$nf65EOgLrQMR/uIPnA4rEsF5h7TKyQwu9U1bMCHGi/4")
	f.Add("$$$$$")
	f.Fuzz(func(t *testing.T, phc string) {
		c, salt, k, err := decode(phc)
		if err != nil {
			return
		}
		if c.Memory > 1<<20 || c.Time > 100 || c.Lanes == 0 || len(salt) < 8 || len(k) < 16 || len(k) > 1024 {
			t.Errorf("%s was read as %+v", phc, c)
		}
	})
}
