// Package record is what a school signs, and the proof of it without the
// school: seals, the chain they stand in, and the record of one lesson as a
// file that proves itself.
package record

import (
	"bytes"
	"crypto/ed25519"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"

	"jetprimer/core/lesson"
)

// The subjects of seals.
const (
	OfLesson          = "lesson"
	OfVersion         = "version"
	OfAcknowledgement = "acknowledgement"
)

// SealFormat is the form in which seals are written now. What was sealed in an
// older one is read as it was written, for good.
const SealFormat = 4

// Seal is what a seal keeps: who signed, when, how, and at which place of the
// chain; of a lesson the exact events and the result that its rules gave; of an
// acknowledgement the student's answer to a seal; of a version what became of
// it. Its JSON, names in this order, is what is hashed and signed.
type Seal struct {
	Format   int    `json:"format"`
	Subject  string `json:"subject"`
	School   string `json:"school"`
	Number   int64  `json:"number"`
	Previous string `json:"previous"` // the hash of the seal before, in hexadecimal
	KeyID    string `json:"keyId"`
	SignedBy string `json:"signedBy"`
	// Signer is the person's name and How the way they proved who they are, from
	// format 3 on.
	Signer   string `json:"signer,omitempty"`
	How      string `json:"how,omitempty"`
	SignedAt string `json:"signedAt"`
	// Promised is when a device says that it was signed, where the school was not
	// reached: a claim.
	Promised string `json:"promised,omitempty"`

	Lesson string            `json:"lesson,omitempty"`
	Event  string            `json:"event,omitempty"`
	Events []json.RawMessage `json:"events,omitempty"`
	// Arrivals is the SHA-256 of who sent each of the events and when it arrived, and Flag
	// what is to be known of how the lesson came to be; both of a lesson, from format 4 on.
	Arrivals string        `json:"arrivals,omitempty"`
	Flag     string        `json:"flag,omitempty"`
	Result   *lesson.State `json:"result,omitempty"`

	// Of is the hash of the seal that an acknowledgement answers, Answer what was
	// said to it.
	Of     string           `json:"of,omitempty"`
	Answer *lesson.Answered `json:"answer,omitempty"`

	Version *Version `json:"version,omitempty"`
}

// Version is a version of the library as a seal keeps it.
type Version struct {
	Kind          string `json:"kind"`
	ID            string `json:"id"`
	Version       int    `json:"version"`
	AircraftType  string `json:"aircraftType"`
	Title         string `json:"title"`
	Body          string `json:"body"` // SHA-256, in hexadecimal
	Status        string `json:"status"`
	InForceFrom   string `json:"inForceFrom"`
	WithdrawnFrom string `json:"withdrawnFrom,omitempty"`
	WrittenBy     string `json:"writtenBy"`
	ReviewedBy    string `json:"reviewedBy"`
	ApprovedBy    string `json:"approvedBy"`
	WithdrawnBy   string `json:"withdrawnBy,omitempty"`
}

// firstSeal is the content of seals of format 1, which named neither signer nor
// time.
type firstSeal struct {
	School string            `json:"school"`
	Lesson string            `json:"lesson"`
	Number int64             `json:"number"`
	KeyID  string            `json:"keyId"`
	Events []json.RawMessage `json:"events"`
	Result lesson.State      `json:"result"`
	// Format was not said in that form.
	Format *int `json:"format"`
}

// ReadSeal reads what a seal keeps, by the code of its own format.
func ReadSeal(format int, content []byte) (Seal, error) {
	var c Seal
	switch format {
	case 1:
		var f firstSeal
		if err := json.Unmarshal(content, &f); err != nil {
			return c, fmt.Errorf("reading a seal: %w", err)
		}
		if f.Format != nil {
			return c, fmt.Errorf("reading a seal: it says that it is of format %d, not 1", *f.Format)
		}
		return Seal{
			Format: 1, Subject: OfLesson, School: f.School, Lesson: f.Lesson, Number: f.Number, KeyID: f.KeyID,
			Events: f.Events, Result: &f.Result,
		}, nil
	case 2, 3, SealFormat:
		if err := json.Unmarshal(content, &c); err != nil {
			return c, fmt.Errorf("reading a seal: %w", err)
		}
		if c.Format != format {
			return c, fmt.Errorf("reading a seal: it says that it is of format %d, not %d", c.Format, format)
		}
		return c, nil
	}
	return c, fmt.Errorf("reading a seal: format %d is not known", format)
}

// Chained is the hash of a seal: SHA-256 over the hash of the one before and
// its content.
func Chained(previous, content []byte) []byte {
	sum := sha256.Sum256(append(bytes.Clone(previous), content...))
	return sum[:]
}

// KeyID names a public key: the first eight bytes of its SHA-256, in
// hexadecimal.
func KeyID(public []byte) string {
	return Fingerprint(public)[:16]
}

// Fingerprint is the whole SHA-256 of a public key, in hexadecimal: KeyID is how it begins.
// Eight bytes tell the keys of a school apart; who holds a key to the one that a school shows
// holds its fingerprint to it.
func Fingerprint(public []byte) string {
	sum := sha256.Sum256(public)
	return hex.EncodeToString(sum[:])
}

// Link is a seal in its place of the chain.
type Link struct {
	Number    int64
	Format    int
	Content   []byte
	Previous  []byte
	Hash      []byte
	KeyID     string
	Signature []byte
}

// Check holds a link to the school, the place in the chain and the public key
// that it names, and reads it. previous is the hash of the seal before, number
// its own place.
func (k Link) Check(school string, number int64, previous, public []byte) (Seal, error) {
	switch {
	case k.Number != number:
		return Seal{}, fmt.Errorf("seal %d is missing", number)
	case !bytes.Equal(k.Previous, previous) || !bytes.Equal(k.Hash, Chained(previous, k.Content)):
		return Seal{}, fmt.Errorf("seal %d does not follow the one before it", number)
	case len(public) != ed25519.PublicKeySize:
		return Seal{}, fmt.Errorf("seal %d has no key", number)
	case KeyID(public) != k.KeyID:
		return Seal{}, fmt.Errorf("key %s is not the one it is named after", k.KeyID)
	case !ed25519.Verify(public, k.Hash, k.Signature):
		return Seal{}, fmt.Errorf("seal %d is not signed by its key", number)
	}
	c, err := ReadSeal(k.Format, k.Content)
	switch {
	case err != nil:
		return c, fmt.Errorf("seal %d: %w", number, err)
	case c.School != school || c.Number != number || c.KeyID != k.KeyID:
		return c, fmt.Errorf("seal %d stands in the place of another", number)
	case c.Format > 1 && c.Previous != hex.EncodeToString(previous):
		return c, fmt.Errorf("seal %d was signed at another place of the chain", number)
	}
	if c.Format > 1 {
		if _, err := time.Parse(time.RFC3339Nano, c.SignedAt); err != nil {
			return c, fmt.Errorf("seal %d says no time at which it was signed", number)
		}
	}
	return c, nil
}
