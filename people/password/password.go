// Package password keeps passwords so that trying one is dear (Argon2id, RFC 9106).
package password

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"golang.org/x/crypto/argon2"
)

// Cost is how dear it is to try a password (Argon2id, RFC 9106).
type Cost struct {
	Memory uint32 // KiB
	Time   uint32 // passes over it
	Lanes  uint8
}

// Usual is the second choice that RFC 9106 recommends, for where memory is short.
var Usual = Cost{Memory: 64 << 10, Time: 3, Lanes: 4}

// Shortest and Longest bound passwords, in letters (NIST SP 800-63B).
const (
	Shortest = 10
	Longest  = 200
)

// ErrLength is returned for a password that nobody may have.
var ErrLength = fmt.Errorf("a password has %d to %d letters; a sentence is easier to remember than signs", Shortest, Longest)

// Check refuses a password that nobody may have: ErrLength.
func Check(p string) error {
	if n := utf8.RuneCountInString(p); n < Shortest || n > Longest || !utf8.ValidString(p) {
		return ErrLength
	}
	return nil
}

// trying bounds how many passwords are tried at a time: each takes the memory of its cost.
var trying = make(chan struct{}, 2)

func key(ctx context.Context, password string, salt []byte, c Cost, length int) ([]byte, error) {
	select {
	case trying <- struct{}{}:
		defer func() { <-trying }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	return argon2.IDKey([]byte(password), salt, c.Time, c.Memory, c.Lanes, uint32(length)), nil
}

var encoding = base64.RawStdEncoding

// Hash is the hash of a password as a PHC string; trying it against that costs as much again.
func Hash(ctx context.Context, password string, c Cost) (string, error) {
	salt := make([]byte, 16)
	if _, err := rand.Read(salt); err != nil {
		return "", err
	}
	k, err := key(ctx, password, salt, c, 32)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, c.Memory, c.Time, c.Lanes, encoding.EncodeToString(salt), encoding.EncodeToString(k)), nil
}

var errHash = errors.New("this is no hash of a password")

// decode reads what Hash wrote.
func decode(phc string) (c Cost, salt, k []byte, err error) {
	f := strings.Split(phc, "$")
	var version int
	if len(f) != 6 || f[0] != "" || f[1] != "argon2id" {
		return c, nil, nil, errHash
	}
	if _, err := fmt.Sscanf(f[2], "v=%d", &version); err != nil || version != argon2.Version {
		return c, nil, nil, errHash
	}
	if _, err := fmt.Sscanf(f[3], "m=%d,t=%d,p=%d", &c.Memory, &c.Time, &c.Lanes); err != nil || c.Memory == 0 || c.Memory > 1<<20 || c.Time == 0 || c.Time > 100 || c.Lanes == 0 {
		return c, nil, nil, errHash
	}
	if salt, err = encoding.DecodeString(f[4]); err != nil || len(salt) < 8 {
		return c, nil, nil, errHash
	}
	if k, err = encoding.DecodeString(f[5]); err != nil || len(k) < 16 || len(k) > 1024 {
		return c, nil, nil, errHash
	}
	return c, salt, k, nil
}

// Fits tells whether a password is that of a hash.
func Fits(ctx context.Context, password, phc string) (bool, error) {
	c, salt, want, err := decode(phc)
	if err != nil {
		return false, err
	}
	got, err := key(ctx, password, salt, c, len(want))
	return err == nil && subtle.ConstantTimeCompare(got, want) == 1, err
}
