package people

// This file keeps passwords: how they are hashed, and which are too easy.

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"unicode"

	"github.com/trustelem/zxcvbn"
	"golang.org/x/crypto/argon2"

	"lagoon/internal/core/fault"
)

// argon2id at the cost that RFC 9106 recommends second: 64 MiB, three passes.
const (
	hashPasses  = 3
	hashMemory  = 64 << 10
	hashThreads = 2
	hashSize    = 32
	saltSize    = 16
)

// hashing lets no more than two passwords be hashed at a time, so that sign-ins
// cannot take all the memory.
var hashing = make(chan struct{}, 2)

// HashPassword hashes a password for keeping, in the usual encoded form.
func HashPassword(password string) (string, error) {
	salt := make([]byte, saltSize)
	if _, err := rand.Read(salt); err != nil {
		return "", err
	}
	enc := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, hashMemory, hashPasses, hashThreads,
		enc.EncodeToString(salt), enc.EncodeToString(derive(password, salt, hashPasses, hashMemory, hashThreads))), nil
}

func derive(password string, salt []byte, passes, memory uint32, threads uint8) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, passes, memory, threads, hashSize)
}

func passwordFits(password, encoded string) bool {
	var version int
	var memory, passes uint32
	var threads uint8
	parts := strings.Split(encoded, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &threads); err != nil || version != argon2.Version {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	kept, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	return err1 == nil && err2 == nil && subtle.ConstantTimeCompare(derive(password, salt, passes, memory, threads), kept) == 1
}

var nobody, _ = HashPassword("nobody has this password")

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
		return fault.New(fault.Invalid, field, "A password needs at least twelve characters. Three or four words that do not belong together are easy to keep.")
	case len(runes) > mostPassword:
		return fault.New(fault.Invalid, field, "A password has at most two hundred characters.")
	case zxcvbn.PasswordStrength(without(string(runes[:min(len(runes), 72)]), about), nil).Score < leastScore: // more takes it long and tells nothing
		return fault.New(fault.Invalid, field, "This password is too easy to guess. Three or four words that do not belong together are hard to guess and easy to keep.")
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
