// Package onetime has the one-time codes of an authenticator, by the defaults of RFC 6238,
// which every authenticator takes: HMAC-SHA-1 over the count of steps of 30 seconds since
// 1970, of which six digits are shown.
package onetime

import (
	"crypto/subtle"
	"encoding/base32"
	"net/url"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"
)

const (
	stepLength = 30 * time.Second
	// around is how many steps a device's clock may be away, either way.
	around = 1
	// Ahead is by how many steps the last one that was used may lie ahead of now: the clock
	// that noted one further ahead was wrong.
	Ahead = 2 * around
	// SecretSize is how many bytes a secret has: as many as the hash gives.
	SecretSize = 20
)

// StepAt is the number of the step at a time.
func StepAt(t time.Time) int64 { return t.Unix() / int64(stepLength/time.Second) }

// Code is the code of a step.
func Code(secret []byte, step int64) (string, error) {
	return hotp.GenerateCodeCustom(Words(secret), uint64(step),
		hotp.ValidateOpts{Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
}

// Step is the step that a code belongs to: of now or one beside it, and later than the last
// one that was used, so that no code serves twice. ok is false for any other code.
func Step(secret []byte, code string, now time.Time, used int64) (step int64, ok bool) {
	code = strings.ReplaceAll(strings.TrimSpace(code), " ", "")
	here := StepAt(now)
	if used > here+Ahead {
		used = 0 // by a clock that was ahead
	}
	for s := here - around; s <= here+around; s++ {
		is, err := Code(secret, s)
		if err == nil && subtle.ConstantTimeCompare([]byte(is), []byte(code)) == 1 && s > used {
			step, ok = s, true
		}
	}
	return step, ok
}

// Words is a secret as it is typed into an authenticator.
func Words(secret []byte) string {
	return base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(secret)
}

// URI is a secret as an authenticator reads it from a picture.
func URI(place, email string, secret []byte) string {
	label := url.PathEscape("Jet Primer " + place + ":" + email)
	return "otpauth://totp/" + label + "?" +
		url.Values{"secret": {Words(secret)}, "issuer": {"Jet Primer " + place}}.Encode()
}
