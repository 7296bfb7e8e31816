package people

// This file keeps passwords: how they are hashed, and which are too easy.

import (
	"crypto/rand"
	"strings"
	"unicode"

	"github.com/alexedwards/argon2id"
	"github.com/trustelem/zxcvbn"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
)

// cost is what RFC 9106 recommends second: 64 MiB, three passes.
var cost = &argon2id.Params{Memory: 64 << 10, Iterations: 3, Parallelism: 2, SaltLength: 16, KeyLength: 32}

// quick is for passwords that everybody may know.
var quick = &argon2id.Params{Memory: 1 << 10, Iterations: 1, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// hashing lets no more than two passwords be hashed at a time, so that sign-ins
// cannot take all the memory.
var hashing = make(chan struct{}, 2)

// HashPassword hashes a password for keeping, in the usual encoded form.
func HashPassword(a *act.App, password string) (string, error) {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	if a.PublicPasswords {
		return argon2id.CreateHash(password, quick)
	}
	return argon2id.CreateHash(password, cost)
}

// passwordFits tells whether a password is the kept one; a hash that cannot be read fits none.
func passwordFits(password, encoded string) bool {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	fits, err := argon2id.ComparePasswordAndHash(password, encoded)
	return err == nil && fits
}

// nobody is a hash of the same cost, of a password that is nobody's: an unknown name takes as long as a known one.
const nobody = "$argon2id$v=19$m=65536,t=3,p=2$1oYhUemV0x2RDjoU7Hwj4w$l6hE46qd13E6RBPx68cpy5t668O6VxdVFRw8nTgXr8Q"

// What a password is made of: at least so many characters, and, whatever they are, as
// hard to guess as zxcvbn's second grade (a million tries are not enough).
const (
	leastPassword = 12
	mostPassword  = 200
	leastScore    = 2
)

// checkPassword refuses a password that is short, common, or made of what everybody
// knows about the person.
func checkPassword(password, field string, about ...string) *fault.Fault {
	switch runes := []rune(password); {
	case len(runes) < leastPassword:
		return fault.New(
			fault.Invalid,
			field,
			"A password needs at least twelve characters. Three or four words that do not belong together are easy to keep.",
		)
	case len(runes) > mostPassword:
		return fault.New(fault.Invalid, field, "A password has at most two hundred characters.")
	case zxcvbn.PasswordStrength(without(string(runes[:min(len(runes), 72)]), about), nil).Score < leastScore: // more takes it long and tells nothing
		return fault.New(
			fault.Invalid,
			field,
			"This password is too easy to guess. Three or four words that do not belong together are hard to guess and easy to keep.",
		)
	}
	return nil
}

// without is what a password holds beside words that everybody knows about the person.
func without(password string, about []string) string {
	rest := strings.ToLower(password)
	for _, word := range strings.FieldsFunc(strings.ToLower(strings.Join(append(about, "lagoon"), " ")), func(r rune) bool { return !unicode.IsLetter(r) }) {
		if len(word) > 2 {
			rest = strings.ReplaceAll(rest, word, "")
		}
	}
	if len(rest) == len(password) {
		return password
	}
	return rest
}

// GivenPassword makes a one-time password that can be read out: four groups of four
// letters that are not taken for one another.
func GivenPassword() string {
	const letters = "abcdefghjkmnpqrstuvwxyz"
	random := make([]byte, 16)
	_, _ = rand.Read(random) // never fails
	var b strings.Builder
	for i, r := range random {
		if i > 0 && i%4 == 0 {
			b.WriteByte('-')
		}
		b.WriteByte(letters[int(r)%len(letters)])
	}
	return b.String()
}
