package access

import (
	"crypto/hmac"
	"crypto/sha1"
	"crypto/subtle"
	"encoding/base32"
	"encoding/binary"
	"fmt"
	"net/url"
	"strings"
	"time"
)

// A second factor is a one-time code of an authenticator: RFC 6238 with its
// defaults, which every authenticator takes: HMAC-SHA-1 over the count of steps of
// 30 seconds since 1970, of which six digits are shown.
const (
	secondStep   = 30 * time.Second
	secondDigits = 6
	// secondAround is how many steps a device's clock may be away, either way.
	secondAround = 1
	// SecondAhead is by how many steps the last one that was used may lie ahead of now:
	// the clock that noted one further ahead was wrong.
	SecondAhead = 2 * secondAround
	// SecondSecret is how many bytes a secret has: as many as the hash gives.
	SecondSecret = sha1.Size
)

// StepAt is the number of the step at a time.
func StepAt(t time.Time) int64 { return t.Unix() / int64(secondStep/time.Second) }

// CodeAt is the code of a step, with so many digits (RFC 4226, 5.3).
func CodeAt(secret []byte, step int64, digits int) string {
	mac := hmac.New(sha1.New, secret)
	_ = binary.Write(mac, binary.BigEndian, step)
	sum := mac.Sum(nil)
	at := sum[len(sum)-1] & 0x0f
	number := binary.BigEndian.Uint32(sum[at:at+4]) & 0x7fffffff
	modulus := uint32(1)
	for range digits {
		modulus *= 10
	}
	return fmt.Sprintf("%0*d", digits, number%modulus)
}

// SecondOf is the step that a code belongs to: of now or one beside it, and later
// than the last one that was used, so that no code serves twice. ok is false for
// any other code.
func SecondOf(secret []byte, code string, now time.Time, used int64) (step int64, ok bool) {
	code = strings.ReplaceAll(strings.TrimSpace(code), " ", "")
	here := StepAt(now)
	if used > here+SecondAhead {
		used = 0 // by a clock that was ahead
	}
	for s := here - secondAround; s <= here+secondAround; s++ {
		if subtle.ConstantTimeCompare([]byte(CodeAt(secret, s, secondDigits)), []byte(code)) == 1 && s > used {
			step, ok = s, true
		}
	}
	return step, ok
}

// SecondWords is a secret as it is typed into an authenticator.
func SecondWords(secret []byte) string {
	return base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(secret)
}

// SecondURI is a secret as an authenticator reads it from a picture.
func SecondURI(place, email string, secret []byte) string {
	label := url.PathEscape("Jet Primer " + place + ":" + email)
	return "otpauth://totp/" + label + "?" +
		url.Values{"secret": {SecondWords(secret)}, "issuer": {"Jet Primer " + place}}.Encode()
}

// OwesSecond reports whether somebody with the roles must set up a second factor
// before anything else.
func (r Roles) OwesSecond(asked, has bool) bool { return asked && r.Governs() && !has }
