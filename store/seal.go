package store

import (
	"bytes"
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/ed25519"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"jetprimer/core/lesson"
)

// The subjects of seals.
const (
	ofLesson  = "lesson"
	ofVersion = "version"
)

// SealFormat is the form in which seals are written now. What was sealed in an
// older one is read as it was written, for good.
const SealFormat = 2

// sealContent is what a seal keeps, in the form of SealFormat: who signed, when
// and at which place of the chain; of a lesson the exact events and the result
// that its rules gave; of a version what became of it.
type sealContent struct {
	Format   int    `json:"format"`
	Subject  string `json:"subject"`
	School   string `json:"school"`
	Number   int64  `json:"number"`
	Previous string `json:"previous"`
	KeyID    string `json:"keyId"`
	SignedBy string `json:"signedBy"`
	SignedAt string `json:"signedAt"`

	Lesson string            `json:"lesson,omitempty"`
	Event  string            `json:"event,omitempty"`
	Events []json.RawMessage `json:"events,omitempty"`
	Result *lesson.State     `json:"result,omitempty"`

	Version *sealedVersion `json:"version,omitempty"`
}

// sealedVersion is a version of the library as a seal keeps it.
type sealedVersion struct {
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

// readSeal reads what a seal keeps, by the code of its own format.
func readSeal(format int, content []byte) (sealContent, error) {
	var c sealContent
	switch format {
	case 1:
		var f firstSeal
		if err := json.Unmarshal(content, &f); err != nil {
			return c, fmt.Errorf("reading a seal: %w", err)
		}
		if f.Format != nil {
			return c, fmt.Errorf("reading a seal: it says that it is of format %d, not 1", *f.Format)
		}
		return sealContent{Format: 1, Subject: ofLesson, School: f.School, Lesson: f.Lesson, Number: f.Number, KeyID: f.KeyID, Events: f.Events, Result: &f.Result}, nil
	case SealFormat:
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

// seal chains and signs a content, and moves the head of the chain to it.
func (tx *Tx) seal(h head, content sealContent, by string, now time.Time) error {
	keyID, key, err := tx.signingKey(now)
	if err != nil {
		return err
	}
	content.Format, content.School, content.Number, content.KeyID = SealFormat, tx.School, h.Seals+1, keyID
	content.Previous, content.SignedBy, content.SignedAt = hex.EncodeToString(h.Chain), by, now.UTC().Format(time.RFC3339Nano)
	canonical, err := json.Marshal(content)
	if err != nil {
		return err
	}
	chained := chainedHash(h.Chain, canonical)
	row := sealRow{SchoolID: tx.School, Number: content.Number, Subject: content.Subject, Format: SealFormat, Content: canonical, Previous: bytes.Clone(h.Chain),
		Hash: chained, KeyID: keyID, Signature: ed25519.Sign(key, chained), SignedBy: by, SignedAt: now}
	if row.Previous == nil {
		row.Previous = []byte{}
	}
	if content.Subject == ofLesson {
		row.LessonID, row.EventID = &content.Lesson, &content.Event
	}
	if err := tx.db.Create(&row).Error; err != nil {
		return fmt.Errorf("keeping the seal: %w", err)
	}
	if err := tx.db.Exec("update school_feed set seals = ?, chain = ? where school_id = ?", row.Number, chained, tx.School).Error; err != nil {
		return fmt.Errorf("moving the head of the chain: %w", err)
	}
	return nil
}

func chainedHash(previous, content []byte) []byte {
	sum := sha256.Sum256(append(bytes.Clone(previous), content...))
	return sum[:]
}

// Sign seals every event of the lesson now held. shown is the event hash of
// the state that the person saw, event the id that the signature's event is to
// have. Signing again what the same person has signed, and nothing has been
// added to since, is the same as signing once: an answer may have been lost.
func (tx *Tx) Sign(id, shown string, by Sender, event string, now time.Time) error {
	h, err := tx.bump()
	if err != nil {
		return err
	}
	row, err := tx.Lesson(id)
	if err != nil {
		return err
	}
	if row.InstructorID != by.ID {
		return &BatchError{"lesson", "is signed by its own instructor and nobody else"}
	}
	events, err := tx.Events(id)
	if err != nil {
		return err
	}
	l, err := tx.fold(row, events)
	if err != nil {
		return err
	}
	state := l.State()
	switch {
	case signedAlready(state, by.ID, shown):
		return nil
	case state.EventHash != shown:
		return ErrStale
	case !state.Ended:
		return fmt.Errorf("%w: it has not been ended", ErrUnsettled)
	case len(state.Problems) > 0:
		return fmt.Errorf("%w: %s", ErrUnsettled, state.Problems[0].Message)
	case containsEvent(events, event):
		return &BatchError{"event", "is the id of another event of this lesson; sign with a new one"}
	}
	result, err := json.Marshal(state)
	if err != nil {
		return err
	}
	sum := sha256.Sum256(result)
	payload, err := json.Marshal(l.Seal(by.ID, hex.EncodeToString(sum[:])))
	if err != nil {
		return err
	}
	sealed := lesson.Event{ID: event, Device: "school", Seq: h.Seals + 1, Counter: l.LastCounter() + 1, AtMs: state.DurationMs,
		Wall: now.UTC().Format(time.RFC3339), Kind: lesson.KindSealed, V: 1, Payload: payload}
	content := sealContent{Subject: ofLesson, Lesson: id, Event: event, Result: &state}
	for _, e := range l.Content() {
		content.Events = append(content.Events, e)
	}
	if err := tx.insert(id, []lesson.Event{sealed}, by.ID, now); err != nil {
		return fmt.Errorf("signing: %w", err)
	}
	if answers := l.Add(sealed); answers[0].Status != "held" {
		return fmt.Errorf("signing: the signature's own event was %s: %s", answers[0].Status, answers[0].Reason)
	}
	if err := tx.seal(h, content, by.ID, now); err != nil {
		return err
	}
	tx.store.lessons.take(tx.School, id, row.LastSeq)
	if _, err := tx.derive(row, &folded{lesson: l}, h.Seq); err != nil {
		return err
	}
	if err := tx.deriveStandings(row.StudentID); err != nil {
		return fmt.Errorf("deriving the student's standing: %w", err)
	}
	if err := tx.changed(h.Seq, "student", row.StudentID); err != nil {
		return err
	}
	return tx.changed(h.Seq, "lesson", id)
}

// signedAlready reports whether the person has signed just what they were
// shown, or all that there is.
func signedAlready(state lesson.State, by, shown string) bool {
	if len(state.Seals) == 0 {
		return false
	}
	for _, a := range state.Addenda {
		if !a.Signed {
			return false
		}
	}
	last := state.Seals[len(state.Seals)-1]
	return last.SignedBy == by && (last.Hash == shown || state.EventHash == shown)
}

// box encrypts private keys under the secret.
func (s *Store) box() (cipher.AEAD, error) {
	block, err := aes.NewCipher(s.secret[:])
	if err != nil {
		return nil, err
	}
	return cipher.NewGCM(block)
}

// open decrypts a private key, which is kept with its nonce first.
func (s *Store) open(k signingKey) (ed25519.PrivateKey, error) {
	box, err := s.box()
	if err != nil {
		return nil, err
	}
	if len(k.Private) < box.NonceSize() {
		return nil, errors.New("the signing key is damaged")
	}
	seed, err := box.Open(nil, k.Private[:box.NonceSize()], k.Private[box.NonceSize():], []byte(k.SchoolID))
	if err != nil {
		return nil, errors.New("the signing key cannot be opened: the secret is not the one it was kept under")
	}
	return ed25519.NewKeyFromSeed(seed), nil
}

// signingKey is the school's newest key, made when there is none.
func (tx *Tx) signingKey(now time.Time) (string, ed25519.PrivateKey, error) {
	k, err := take[signingKey](tx.own(&signingKey{}).Order("made_at desc, id"))
	if err == nil {
		key, err := tx.store.open(k)
		return k.ID, key, err
	}
	if !errors.Is(err, ErrNotFound) {
		return "", nil, err
	}
	box, err := tx.store.box()
	if err != nil {
		return "", nil, err
	}
	public, private, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		return "", nil, err
	}
	nonce := make([]byte, box.NonceSize())
	if _, err := rand.Read(nonce); err != nil {
		return "", nil, err
	}
	sum := sha256.Sum256(public)
	k = signingKey{SchoolID: tx.School, ID: hex.EncodeToString(sum[:8]), Public: public, Private: box.Seal(nonce, nonce, private.Seed(), []byte(tx.School)), MadeAt: now}
	if err := tx.db.Create(&k).Error; err != nil {
		return "", nil, fmt.Errorf("keeping a signing key: %w", err)
	}
	return k.ID, private, nil
}

// checkSecret refuses a secret that does not open the key of a school that has
// signed: what it would sign nobody could sign again.
func (s *Store) checkSecret(ctx context.Context) error {
	schools := []School{}
	if err := s.db.WithContext(ctx).Limit(3).Order("created_at").Find(&schools).Error; err != nil {
		return fmt.Errorf("looking at the schools: %w", plain(err))
	}
	for _, one := range schools {
		err := s.In(ctx, one.ID, func(_ context.Context, tx *Tx) error {
			k, err := take[signingKey](tx.own(&signingKey{}).Order("made_at desc, id"))
			if errors.Is(err, ErrNotFound) {
				return nil
			}
			if err == nil {
				_, err = s.open(k)
			}
			return err
		})
		if err != nil {
			return fmt.Errorf("opening the store: %w", err)
		}
	}
	return nil
}

// sealedState puts the result of a lesson's first seal in the place of what
// today's rules make of the same events. What is signed is told by its seal
// alone: a signature's event without one signs nothing.
func (tx *Tx) sealedState(id string, state lesson.State) (lesson.State, error) {
	if len(state.Seals) == 0 {
		return state, nil
	}
	first, err := take[sealRow](tx.own(&sealRow{}).Where("lesson_id = ?", id).Order("number"))
	if err != nil {
		return state, fmt.Errorf("reading the seal of lesson %s: %w", id, err)
	}
	c, err := readSeal(first.Format, first.Content)
	if err != nil {
		return state, err
	}
	sealed := *c.Result
	sealed.Seals, sealed.Addenda, sealed.Refused = state.Seals, state.Addenda, state.Refused
	sealed.Events, sealed.EventHash, sealed.Acknowledged = state.Events, state.EventHash, state.Acknowledged
	sealed.LastTouch = []string{}
	sealed.Fill()
	return sealed, nil
}
